//! The evening as it is planned: tasks, people, and where each piece lies.

use super::tasks::{Blocked, Task, tasks};
use crate::page_error::PageError;
use crate::screen;
use crate::state::AppState;
use std::sync::Arc;
use suspect_core::people::Role;
use suspect_core::shift::{Job, Person, Schedule, Shift, Who, first_come, plan};
use suspect_store::shelf::Thing;
use suspect_store::{Uuid, think};
use time::OffsetDateTime;

/// An evening lasts so long when nobody says otherwise, in minutes.
pub const USUAL_MINUTES: f64 = 180.0;

/// The evening.
pub struct Evening {
    /// What people said of it; nothing before anybody did.
    pub shift: Option<Thing<Shift>>,
    /// What is planned, and what is left for another day.
    pub tasks: Vec<Task>,
    pub left: Vec<Task>,
    pub blocked: Vec<Blocked>,
    /// Who is there.
    pub people: Vec<Who>,
    pub now: OffsetDateTime,
    /// Minutes until people go.
    pub minutes: f64,
    /// Where the pieces lie.
    pub plan: Schedule,
    /// Machine hours before people go, so and first come, first served.
    pub hours: (f64, f64),
}

/// Who signed in, or the one person who works here.
pub fn here() -> Who {
    let member = screen::with_present(|p| p.member.as_ref().map(|m| m.role)).flatten();
    Who {
        by: screen::who().unwrap_or_else(|| FIRST.to_string()),
        role: member.unwrap_or(Role::Keeper),
    }
}

/// What the first of several people without names is called.
pub const FIRST: &str = "Person 1";

/// The shift that goes on; nothing where the last one is over.
pub async fn current(state: &AppState) -> Result<Option<Thing<Shift>>, PageError> {
    let latest = state.store.latest_things::<Shift>(1).await?;
    Ok(latest.into_iter().find(|s| s.is.ended.is_none()))
}

impl Evening {
    /// Reads and plans it.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn read(state: &AppState) -> Result<Self, PageError> {
        let shift = current(state).await?;
        let gathered = tasks(state).await?;
        let now = state.now();
        let is = shift.as_ref().map(|s| &s.is);
        let people = match is {
            Some(shift) => shift.people.clone(),
            None => vec![here()],
        };
        let until = is.and_then(|s| s.until);
        let minutes = until.map_or(USUAL_MINUTES, |at| (at - now).as_seconds_f64() / 60.0);
        let minutes = minutes.max(0.0);
        let later = |task: &Task| match is {
            Some(shift) if shift.not_tonight.contains_key(&task.id) => true,
            Some(shift) if shift.taken.contains_key(&task.id) => false,
            _ => task.resting,
        };
        let (left, mut tasks): (Vec<Task>, Vec<Task>) = gathered.all.into_iter().partition(later);
        for task in &mut tasks {
            let by = is.and_then(|s| s.taken.get(&task.id));
            task.job.taken = by.and_then(|by| people.iter().position(|p| p.by == *by));
        }
        let jobs: Arc<Vec<Job>> = Arc::new(tasks.iter().map(|t| t.job.clone()).collect());
        let hands = people.iter().map(|p| Person {
            role: p.role,
            from: 0.0,
            until: minutes,
        });
        let hands: Vec<Person> = hands.collect();
        let (plan, first) = think(|| (plan(&jobs, &hands), first_come(&jobs, &hands))).await;
        let back: Vec<Job> = tasks
            .iter()
            .map(|t| Job {
                worth: if t.back { t.job.worth } else { 0.0 },
                ..t.job.clone()
            })
            .collect();
        let hours = (
            plan.hours_back(&back, minutes),
            first.hours_back(&back, minutes),
        );
        Ok(Self {
            shift,
            tasks,
            left,
            blocked: gathered.blocked,
            people,
            now,
            minutes,
            plan,
            hours,
        })
    }

    /// The moment some minutes from now.
    pub fn at(&self, minutes: f64) -> OffsetDateTime {
        self.now + time::Duration::seconds_f64(minutes * 60.0)
    }

    /// What somebody is called on this page.
    pub fn name(by: &str) -> String {
        match screen::signs_in() {
            true => screen::shown(by),
            false if by == here().by => "You".to_string(),
            false => by.to_string(),
        }
    }

    /// The shift's identifier and its last entry, for forms.
    pub fn thing(&self) -> Option<(Uuid, u32)> {
        self.shift.as_ref().map(|s| (s.id, s.seq))
    }
}
