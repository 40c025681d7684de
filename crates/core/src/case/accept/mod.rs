//! May this event happen now? Asked before anything is appended, so that a log only holds what
//! makes sense.

mod facts;
mod own;
mod proving;
mod settling;
mod suggestions;
mod working;

use super::event::Event;
use super::state::CaseState;
use crate::knowledge::Knowledge;
use crate::refusal::{Holding, NotNow, Problem, Refusal, Stopped};
use crate::text;

pub use facts::MOST_MARKS;
pub use own::MOST_OWN_OUTCOMES;

/// Most pictures a case holds.
pub const MOST_PICTURES: usize = 8;
/// Most print files a case holds.
pub const MOST_FILES: usize = 12;
/// Most tellings a case holds: each is read for signs.
pub const MOST_TELLINGS: usize = 100;
/// Most tries of fixes a case holds.
pub const MOST_TRIED: usize = 100;
/// Most suggestions of a case that may wait for an answer.
pub const MOST_SUGGESTIONS: usize = 30;
/// Most entries one form may cause: far above the longest list of questions.
pub const MOST_ENTRIES_AT_ONCE: usize = 250;
/// Most minutes, grams or money of one step.
const MOST_OF_A_STEP: f64 = 10_000.0;

/// Checks an event against the case as it is.
///
/// # Errors
/// Why it may not happen.
pub fn accept(knowledge: &Knowledge, case: &CaseState, event: &Event) -> Result<(), Refusal> {
    if case.opened_at.is_none() != matches!(event, Event::Opened { .. }) {
        return Err(NotNow::OpenedOnce.into());
    }
    if case.resolved() && !after_closing(event) {
        return Err(NotNow::Closed.into());
    }
    match event {
        Event::Opened { .. }
        | Event::Measured { .. }
        | Event::Observed { .. }
        | Event::Told { .. }
        | Event::Passed { .. }
        | Event::Described { .. }
        | Event::Pictured { .. }
        | Event::Marked { .. }
        | Event::Filed { .. }
        | Event::Tried { .. }
        | Event::Cleared { .. }
        | Event::Noted { .. }
        | Event::SameAs { .. }
        | Event::Joined { .. } => facts::accept(knowledge, case, event),
        Event::OwnChecked { .. }
        | Event::OwnFixed { .. }
        | Event::OwnSuspected { .. }
        | Event::Trialled(_) => own::accept(knowledge, case, event),
        Event::Suggested { .. } | Event::Weighed { .. } => {
            suggestions::accept(knowledge, case, event)
        }
        Event::Checked { .. }
        | Event::Gauged { .. }
        | Event::Benched { .. }
        | Event::TimerSet { .. }
        | Event::PartKept { .. }
        | Event::SetAside { .. }
        | Event::TakenUp { .. }
        | Event::Fixed { .. }
        | Event::PutBack { .. }
        | Event::LeftForLater { .. }
        | Event::Struck(_)
        | Event::Lost(_)
        | Event::Beside { .. }
        | Event::Printed { .. } => working::accept(knowledge, case, event),
        Event::Retracted { .. }
        | Event::StopCleared { .. }
        | Event::Moved { .. }
        | Event::Resolved { .. }
        | Event::AskedAgain { .. }
        | Event::LeftOut { .. }
        | Event::Reopened { .. } => settling::accept(knowledge, case, event),
    }
}

/// What may still happen in a closed case.
fn after_closing(event: &Event) -> bool {
    matches!(
        event,
        Event::Reopened { .. }
            | Event::AskedAgain { .. }
            | Event::LeftOut { .. }
            | Event::Lost(_)
            | Event::Noted { .. }
            | Event::StopCleared { .. }
            | Event::Retracted { .. }
            | Event::PartKept { .. }
    )
}

/// A stop is lifted by a named person, or by the check that leads to its clearing; never by taking
/// back or answering anew what raised it.
///
/// # Errors
/// [`Refusal::Stopped`] with the stop that `event`, which turns `before` into `after`, would lift.
pub fn keeps_stops(
    knowledge: &Knowledge,
    before: &CaseState,
    after: &CaseState,
    event: &Event,
) -> Result<(), Refusal> {
    let lifted = before.stops.iter().find(|s| {
        !after.stops.contains(s) && !crate::safety::settled(knowledge, &after.facts, **s)
    });
    match lifted {
        Some(stop) if !matches!(event, Event::StopCleared { .. } | Event::Moved { .. }) => {
            Err(Refusal::Stopped {
                stop: knowledge.stops[*stop].id.clone(),
                why: Stopped::WouldLift,
            })
        }
        _ => Ok(()),
    }
}

/// Whether there is room for one more.
fn room(field: &str, there: usize, most: usize, holding: Holding) -> Result<(), Refusal> {
    match there < most {
        true => Ok(()),
        false => Err(Refusal::invalid(field, Problem::Full { holding, most })),
    }
}

/// Minutes, grams or money of one step.
fn amount(field: &str, value: f64) -> Result<(), Refusal> {
    if (0.0..=MOST_OF_A_STEP).contains(&value) {
        return Ok(());
    }
    let problem = Problem::Amount {
        given: value,
        most: MOST_OF_A_STEP,
    };
    Err(Refusal::invalid(field, problem))
}

fn known_fix(knowledge: &Knowledge, fix: &str) -> Result<(), Refusal> {
    match knowledge.fix_id(fix) {
        Some(_) => Ok(()),
        None => {
            let known = knowledge.fixes.iter().map(|f| f.id.as_str());
            Err(Refusal::invalid("fix", Problem::unknown("fix", fix, known)))
        }
    }
}

fn known_cause(knowledge: &Knowledge, cause: &str) -> Result<(), Refusal> {
    match knowledge.cause_id(cause) {
        Some(_) => Ok(()),
        None => {
            let known = knowledge.causes.iter().map(|c| c.id.as_str());
            Err(Refusal::invalid(
                "cause",
                Problem::unknown("cause", cause, known),
            ))
        }
    }
}

fn no_check(knowledge: &Knowledge, check: &str) -> Refusal {
    let known = knowledge.checks.iter();
    let known = known.map(|c| knowledge.finding(c.finding).id.as_str());
    Refusal::invalid("check", Problem::unknown("check", check, known))
}

fn optional(field: &str, value: &str, longest: usize) -> Result<(), Refusal> {
    text::optional(value, longest).map_err(|e| Refusal::invalid(field, e))
}

fn required(field: &str, value: &str, longest: usize) -> Result<(), Refusal> {
    text::required(value, longest).map_err(|e| Refusal::invalid(field, e))
}

fn words(field: &str, value: &str, longest: usize) -> Result<(), Refusal> {
    text::words(value, longest).map_err(|e| Refusal::invalid(field, e))
}
