//! The shift: what is next for whoever looks, the timetable, everything that needs hands.

use super::evening::{Evening, USUAL_MINUTES, here};
use super::tasks::{Blocked, Task};
use crate::drawing::timetable::{Block, Look, Row, Timetable};
use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::parts::link::Choice;
use crate::state::AppState;
use crate::{screen, show};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::people::Role;
use suspect_core::shift::{JobId, Placed};
use suspect_store::Uuid;
use time::OffsetDateTime;

/// A piece in somebody's list.
struct Turn {
    clock: String,
    name: String,
    act: String,
    href: String,
    minutes: String,
    /// What waits after it, and how long.
    waits: Option<String>,
}

struct PersonView {
    name: String,
    role: &'static str,
    you: bool,
    turns: Vec<Turn>,
}

struct TaskView {
    id: String,
    /// For addresses on this page.
    anchor: String,
    name: String,
    href: String,
    machine: Option<(String, String)>,
    next: String,
    next_href: String,
    hands: String,
    whole: String,
    needs: String,
    /// Nobody who is there may do its first piece.
    nobody: bool,
    stop: bool,
    until: Option<String>,
    taken: Option<String>,
    mine: bool,
    word: Option<(Option<String>, String)>,
    /// When it is done, by the plan.
    done: Option<String>,
}

#[derive(Template)]
#[template(path = "shift/show.html")]
struct ShiftPage {
    begun: bool,
    shift: Uuid,
    seq: u32,
    until: String,
    over: bool,
    minutes: String,
    signs_in: bool,
    hands: usize,
    choices: Vec<Choice>,
    first: Option<Turn>,
    people: Vec<PersonView>,
    timetable: String,
    tasks: Vec<TaskView>,
    left: Vec<TaskView>,
    blocked: Vec<Blocked>,
    others: Vec<(String, String)>,
    gain: Option<String>,
}

/// `GET /shift`
pub async fn show(State(state): State<AppState>) -> Page {
    let evening = Evening::read(&state).await?;
    let members = choices(&state, &evening).await?;
    Ok(Html(page(&evening, members)?))
}

/// Members who may do something, those who are there ticked.
async fn choices(state: &AppState, evening: &Evening) -> Result<Vec<Choice>, PageError> {
    let members = state.store.members().await?;
    let some = members
        .into_iter()
        .filter(|m| !m.left && m.role >= Role::Volunteer);
    let choice = |m: suspect_store::people::Member| {
        let by = suspect_core::people::author(&m.id.to_string());
        Choice {
            chosen: evening.people.iter().any(|p| p.by == by),
            label: format!("{}, {}", m.name, m.role.words()),
            value: by,
        }
    };
    Ok(some.map(choice).collect())
}

fn page(evening: &Evening, choices: Vec<Choice>) -> Result<String, PageError> {
    let you = here();
    let (id, seq) = evening.thing().unwrap_or((Uuid::now_v7(), 0));
    let people: Vec<PersonView> = evening
        .people
        .iter()
        .enumerate()
        .map(|(at, who)| PersonView {
            name: Evening::name(&who.by),
            role: who.role.words(),
            you: who.by == you.by,
            turns: turns(evening, at),
        })
        .collect();
    let own = evening.people.iter().position(|p| p.by == you.by);
    let first = own.and_then(|at| turns(evening, at).into_iter().next());
    let mut tasks: Vec<&Task> = evening.tasks.iter().collect();
    tasks.sort_by(|a, b| begins(evening, a).total_cmp(&begins(evening, b)));
    let until = evening.at(evening.minutes);
    let page = ShiftPage {
        begun: evening.shift.is_some(),
        shift: id,
        seq,
        until: show::clock(until),
        over: evening.minutes <= 0.0,
        minutes: match evening.minutes > 0.0 {
            true => show::number((evening.minutes / 5.0).ceil() * 5.0),
            false => show::number(USUAL_MINUTES),
        },
        signs_in: screen::signs_in(),
        hands: evening.people.len(),
        choices,
        first,
        timetable: timetable(evening),
        tasks: tasks.into_iter().map(|t| view(evening, t)).collect(),
        left: evening.left.iter().map(|t| view(evening, t)).collect(),
        blocked: evening.blocked.iter().map(copy).collect(),
        others: others(evening),
        gain: gain(evening),
        people,
    };
    Ok(page.render()?)
}

fn copy(of: &Blocked) -> Blocked {
    Blocked {
        name: of.name.clone(),
        href: of.href.clone(),
        why: of.why.clone(),
    }
}

/// To whom something may be handed.
fn others(evening: &Evening) -> Vec<(String, String)> {
    let people = evening.people.iter();
    people
        .map(|p| (p.by.clone(), Evening::name(&p.by)))
        .collect()
}

fn index(evening: &Evening, task: &Task) -> Option<usize> {
    evening.tasks.iter().position(|t| t.id == task.id)
}

fn begins(evening: &Evening, task: &Task) -> f64 {
    let at = index(evening, task);
    let own = evening.plan.placed.iter().filter(|p| Some(p.job) == at);
    own.map(|p| p.begin).fold(f64::INFINITY, f64::min)
}

/// What a person does, in order.
fn turns(evening: &Evening, person: usize) -> Vec<Turn> {
    let own = evening.plan.placed.iter().filter(|p| p.person == person);
    own.map(|p| turn(evening, p)).collect()
}

fn turn(evening: &Evening, placed: &Placed) -> Turn {
    let task = &evening.tasks[placed.job];
    let wait = placed.over - placed.free;
    Turn {
        clock: show::clock(evening.at(placed.begin)),
        name: match &task.machine {
            Some((machine, _)) => format!("{machine}, {}", task.short),
            None => task.name.clone(),
        },
        act: task.acts[placed.piece].clone(),
        href: match placed.piece {
            0 => task.next_href.clone(),
            _ => task.href.clone(),
        },
        minutes: show::minutes((placed.free - placed.begin).max(1.0)),
        waits: (wait >= 1.0).then(|| show::minutes(wait)),
    }
}

fn anchor(id: &JobId) -> String {
    id.to_string().replace('/', "-")
}

fn view(evening: &Evening, task: &Task) -> TaskView {
    let shift = evening.shift.as_ref().map(|s| &s.is);
    let taken = shift.and_then(|s| s.taken.get(&task.id));
    let said = shift.and_then(|s| {
        let not_tonight = s.not_tonight.get(&task.id).filter(|s| !s.word.is_empty());
        not_tonight.or_else(|| s.words.get(&task.id))
    });
    let done = index(evening, task).and_then(|at| evening.plan.done[at]);
    let able = |role: Role| task.needs.met_by(role);
    TaskView {
        anchor: anchor(&task.id),
        id: task.id.to_string(),
        name: task.name.clone(),
        href: task.href.clone(),
        machine: task.machine.clone(),
        next: task.next.clone(),
        next_href: task.next_href.clone(),
        hands: show::minutes(task.hands.max(1.0)),
        whole: show::minutes(task.whole.max(1.0)),
        needs: task.needs.words(),
        nobody: !evening.people.iter().any(|p| able(p.role)),
        stop: task.job.stop,
        until: task.until.map(show::clock),
        mine: taken.is_some_and(|by| *by == here().by),
        taken: taken.map(|by| Evening::name(by)),
        word: said.map(|s| (s.by.as_deref().map(Evening::name), s.word.clone())),
        done: done.map(|at| show::clock(evening.at(at))),
    }
}

/// What the order gains against first come, first served.
fn gain(evening: &Evening) -> Option<String> {
    let (planned, first) = evening.hours;
    (planned > 0.05).then(|| {
        let until = show::clock(evening.at(evening.minutes));
        let more = planned - first;
        let against = match more >= 0.05 {
            true => format!(
                "{} h more than first come, first served",
                show::tenths(more)
            ),
            false => "as many as first come, first served".to_string(),
        };
        format!(
            "By {until} this order gives {} machine hours back, {against}.",
            show::tenths(planned)
        )
    })
}

fn timetable(evening: &Evening) -> String {
    let people = evening.people.iter().enumerate().map(|(at, who)| Row {
        name: Evening::name(&who.by),
        blocks: evening
            .plan
            .placed
            .iter()
            .filter(|p| p.person == at)
            .map(|p| block(evening, p, p.begin, p.free))
            .collect(),
    });
    let mut machines: BTreeMap<usize, Row> = BTreeMap::new();
    for (at, task) in evening.tasks.iter().enumerate() {
        let Some((name, _)) = &task.machine else {
            continue;
        };
        let row = machines.entry(task.job.machine).or_insert_with(|| Row {
            name: name.clone(),
            blocks: Vec::new(),
        });
        if task.job.ready > 0.0 {
            row.blocks.push(wait(task, 0.0, task.job.ready));
        }
        for p in evening.plan.placed.iter().filter(|p| p.job == at) {
            row.blocks.push(block(evening, p, p.begin, p.free));
            if p.over - p.free >= 1.0 {
                row.blocks.push(wait(task, p.free, p.over));
            }
        }
    }
    let machines: Vec<Row> = machines.into_values().collect();
    let (people, clock) = (people.collect::<Vec<_>>(), |m: f64| {
        show::clock(evening.at(m))
    });
    Timetable {
        title: "The evening: who does what, and what waits",
        minutes: evening.minutes.max(30.0),
        people: &people,
        machines: &machines,
        round: to_half_hour(evening.now),
        clock: &clock,
    }
    .svg()
}

/// Minutes until the next half hour by the clock.
fn to_half_hour(now: OffsetDateTime) -> f64 {
    let minute = f64::from(now.minute() % 30) + f64::from(now.second()) / 60.0;
    (30.0 - minute) % 30.0
}

fn block(evening: &Evening, placed: &Placed, from: f64, to: f64) -> Block {
    let task = &evening.tasks[placed.job];
    let look = match task.job.stop && placed.piece == 0 {
        true => Look::Stop,
        false => Look::Hands,
    };
    Block {
        from,
        to,
        look,
        short: task.short.clone(),
        words: format!("{}: {}", task.name, task.acts[placed.piece]),
        href: format!("#{}", anchor(&task.id)),
    }
}

fn wait(task: &Task, from: f64, to: f64) -> Block {
    Block {
        from,
        to,
        look: Look::Wait,
        short: String::new(),
        words: format!("{}: waits", task.name),
        href: format!("#{}", anchor(&task.id)),
    }
}
