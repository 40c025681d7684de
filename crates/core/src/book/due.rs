//! What is due on a machine, and what soon will be.

use super::{Book, PartState, Upkept};
use crate::knowledge::{Interval, Knowledge, MachineKind, UpkeepTask};
use crate::profile::Context;
use time::{Duration, OffsetDateTime};

/// A part is looked at again once it is worn with this chance, given that it was sound.
const LOOK_AT: f64 = 0.2;
/// From this share of its interval on a task is said to be due soon.
const SOON: f64 = 0.8;

/// Why a task is due: what ran since it was kept, and how much may.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Reason {
    /// Printing hours.
    Hours {
        /// Since it was kept.
        since: f64,
        /// Of so many.
        of: f64,
    },
    /// Days.
    Days {
        /// Since it was kept.
        since: f64,
        /// Of so many.
        of: f64,
    },
    /// Kilograms.
    Kilograms {
        /// Since it was kept.
        since: f64,
        /// Of so many.
        of: f64,
    },
    /// Prints.
    Prints {
        /// Since it was kept.
        since: f64,
        /// Of so many.
        of: f64,
    },
    /// Hours of a part.
    Part {
        /// Hours it ran.
        since: f64,
        /// Hours at which it is looked at.
        of: f64,
        /// Chance that it is worn by the next look if nobody looks now.
        worn: f64,
    },
    /// A mark that was looked at has moved since it was kept.
    Mark {
        /// When that was seen.
        at: OffsetDateTime,
    },
}

impl Reason {
    /// How far the interval ran: 1 and more is due.
    pub fn share(&self) -> f64 {
        match *self {
            Reason::Hours { since, of }
            | Reason::Days { since, of }
            | Reason::Kilograms { since, of }
            | Reason::Prints { since, of }
            | Reason::Part { since, of, .. } => since / of,
            Reason::Mark { .. } => 1.0,
        }
    }
}

/// A task of a machine, due or not.
#[derive(Debug, Clone)]
pub struct Due<'k> {
    /// The task.
    pub task: &'k UpkeepTask,
    /// What runs out first.
    pub reason: Reason,
    /// As it was last kept.
    pub kept: Option<Upkept>,
    /// The day it falls due at the pace of the last weeks; none where no pace is known.
    pub on: Option<OffsetDateTime>,
}

impl Due<'_> {
    /// Due now.
    pub fn now(&self) -> bool {
        self.reason.share() >= 1.0
    }

    /// Not due yet, but soon.
    pub fn soon(&self) -> bool {
        !self.now() && self.reason.share() >= SOON
    }
}

/// Every task a machine needs, in the order in which a person goes round it.
pub fn due<'k>(
    knowledge: &'k Knowledge,
    context: &Context,
    book: &Book,
    known: Option<&MachineKind>,
    states: &[PartState],
    now: OffsetDateTime,
) -> Vec<Due<'k>> {
    let needed = |task: &&UpkeepTask| task.needs.iter().all(|n| n.holds(context) != Some(false));
    let of = |task: &'k UpkeepTask| {
        let own = known.and_then(|k| k.every.get(&task.id));
        let every = own.copied().unwrap_or(task.every);
        let kept = book.kept.get(&task.id);
        let reasons = reasons(book, kept, every, now);
        let worn = task.part.as_deref().and_then(|p| of_part(states, p, kept));
        let moved = mark_moved(book, task, kept);
        let all = reasons.into_iter().chain(worn).chain(moved);
        let reason = all.max_by(|a, b| a.share().total_cmp(&b.share()))?;
        Some(Due {
            task,
            reason,
            kept: kept.cloned(),
            on: day(book, &reason, now),
        })
    };
    knowledge
        .upkeep
        .iter()
        .filter(needed)
        .filter_map(of)
        .collect()
}

/// What ran since a task was kept. What was never kept is as old as the records.
fn reasons(
    book: &Book,
    kept: Option<&Upkept>,
    every: Interval,
    now: OffsetDateTime,
) -> Vec<Reason> {
    let mut reasons = Vec::new();
    let since = |now: Option<f64>, then: Option<f64>| match (now, kept) {
        (Some(now), Some(_)) => then.map(|then| now - then),
        (now, None) => now,
        (None, _) => None,
    };
    if let (Some(of), Some(since)) = (every.hours, since(book.total(), kept.and_then(|k| k.total)))
    {
        reasons.push(Reason::Hours { since, of });
    }
    let begun = kept.map(|k| k.at).or(book.begun);
    if let (Some(of), Some(begun)) = (every.days, begun) {
        let since = ((now - begun) / Duration::DAY).max(0.0);
        reasons.push(Reason::Days { since, of });
    }
    let then = kept.and_then(|k| k.kilograms);
    if let (Some(of), Some(since)) = (every.kilograms, since(book.kilograms, then)) {
        reasons.push(Reason::Kilograms { since, of });
    }
    let then = kept.and_then(|k| k.prints);
    if let (Some(of), Some(since)) = (every.prints, since(book.prints, then)) {
        reasons.push(Reason::Prints { since, of });
    }
    reasons
}

/// Hours of a part against those at which it is looked at again: from the last look that found it
/// sound, or from new.
fn of_part(states: &[PartState], part: &str, kept: Option<&Upkept>) -> Option<Reason> {
    let state = states.iter().find(|s| s.hours.part.id == part)?;
    let (life, hours) = state.life.zip(state.hours.hours)?;
    let looked = kept.filter(|k| !k.wrong && state.hours.fitted.is_none_or(|at| k.at >= at));
    let looked = looked.and_then(|k| k.total).zip(state.hours.since);
    // Hours of the part when it was last found sound.
    let sound = looked.map_or(0.0, |(total, since)| (total - since).clamp(0.0, hours));
    let of = life.due(sound, LOOK_AT);
    let next = life.due(hours, LOOK_AT);
    let worn = 1.0 - (1.0 - life.worn(next)) / (1.0 - life.worn(sound)).max(1e-9);
    Some(Reason::Part {
        since: hours,
        of,
        worn,
    })
}

/// A mark that was seen to have moved, in upkeep or before a print, since the task was kept.
fn mark_moved(book: &Book, task: &UpkeepTask, kept: Option<&Upkept>) -> Option<Reason> {
    let in_upkeep = task.marks.iter().filter_map(|mark| book.kept.get(mark));
    let in_upkeep = in_upkeep.filter(|k| k.wrong).map(|k| k.at);
    let looked = book.looked.iter();
    let before_a_print = looked.filter(|l| task.marks.iter().any(|mark| l.wrong.contains(mark)));
    let moved = in_upkeep.chain(before_a_print.map(|l| l.at)).max()?;
    kept.is_none_or(|kept| kept.at < moved)
        .then_some(Reason::Mark { at: moved })
}

/// The day on which an interval runs out at the pace of the last weeks.
fn day(book: &Book, reason: &Reason, now: OffsetDateTime) -> Option<OffsetDateTime> {
    let (left, a_week) = match *reason {
        Reason::Days { since, of } => (of - since, 7.0),
        Reason::Hours { since, of } | Reason::Part { since, of, .. } => {
            (of - since, book.hours_a_week()?)
        }
        Reason::Kilograms { .. } | Reason::Prints { .. } | Reason::Mark { .. } => return None,
    };
    if a_week <= 0.0 {
        return None;
    }
    let weeks = (left / a_week).clamp(-520.0, 520.0);
    Some(now + Duration::seconds_f64(weeks * Duration::WEEK.as_seconds_f64()))
}
