//! What changes where a case stands: taking back, lifting a stop, moving, closing, opening again.

use super::facts::known_context;
use super::{known_cause, known_fix, optional, required, words};
use crate::case::event::Event;
use crate::case::outcome::Outcome;
use crate::case::state::CaseState;
use crate::knowledge::Knowledge;
use crate::lifting::lifting_holds;
use crate::own::{LONGEST_OWN, own_name};
use crate::refusal::{NotNow, Problem, Refusal};
use crate::text::{LONGEST_NAME, LONGEST_TEXT};

/// Most days after which a fault is said to have come back.
const MOST_DAYS: f64 = 3_650.0;

pub(super) fn accept(
    knowledge: &Knowledge,
    case: &CaseState,
    event: &Event,
) -> Result<(), Refusal> {
    match event {
        Event::Retracted { seq } => {
            if *seq <= 1 || *seq > case.last_seq {
                return Err(Refusal::invalid("seq", Problem::NoSuchEntry(*seq)));
            }
            match case.taken_back.contains(seq) {
                true => Err(NotNow::TakenBackBefore(*seq).into()),
                false => Ok(()),
            }
        }
        Event::StopCleared {
            stop,
            by,
            reason,
            seen,
        } => match knowledge.stop_at(stop) {
            Some(at) if case.stops.contains(&at) => {
                lifting_holds(by, reason, seen, knowledge.stops[at].work.steps.len())
            }
            Some(_) => Err(NotNow::StopIsLifted.into()),
            None => {
                let known = knowledge.stops.iter().map(|s| s.id.as_str());
                let problem = Problem::unknown("stop", stop, known);
                Err(Refusal::invalid("stop", problem))
            }
        },
        Event::Moved {
            machine_name,
            profile,
            by,
            reason,
            ..
        } => {
            required("machine", machine_name, LONGEST_NAME)?;
            known_context(profile, None)?;
            words("reason", reason, LONGEST_TEXT)?;
            // A stop goes with the case: whoever moves one answers for it by name.
            match case.stops.is_empty() {
                true => optional("by", by, LONGEST_NAME),
                false => words("by", by, LONGEST_NAME),
            }
        }
        Event::Resolved { .. } => resolved(knowledge, case, event),
        _ => afterwards(case, event),
    }
}

/// What may happen to a case that was closed.
fn afterwards(case: &CaseState, event: &Event) -> Result<(), Refusal> {
    match event {
        Event::AskedAgain { .. } => match case.resolved() {
            true => Ok(()),
            false => Err(NotNow::IsOpen.into()),
        },
        Event::LeftOut {
            reason: Some(reason),
        } => words("reason", reason, LONGEST_TEXT),
        Event::Reopened { reason, after_days } => {
            required("reason", reason, LONGEST_TEXT)?;
            let given = after_days.unwrap_or(0.0);
            if !(0.0..=MOST_DAYS).contains(&given) {
                let most = MOST_DAYS;
                return Err(Refusal::invalid("days", Problem::Amount { given, most }));
            }
            match case.resolved() {
                true => Ok(()),
                false => Err(NotNow::IsOpen.into()),
            }
        }
        _ => Ok(()),
    }
}

/// How a case may end: "fixed and verified" takes a proof, a case opened by error a reason.
fn resolved(knowledge: &Knowledge, case: &CaseState, event: &Event) -> Result<(), Refusal> {
    let Event::Resolved {
        outcome,
        cause,
        fix,
        note,
    } = event
    else {
        return Ok(());
    };
    optional("note", note, LONGEST_TEXT)?;
    if let Some(cause) = cause {
        match own_name(cause) {
            Some(own) => words("cause", own, LONGEST_OWN)?,
            None => known_cause(knowledge, cause)?,
        }
    }
    if let Some(fix) = fix {
        match own_name(fix) {
            Some(own) => words("fix", own, LONGEST_OWN)?,
            None => known_fix(knowledge, fix)?,
        }
    }
    match outcome {
        Outcome::FixedAndVerified if !case.proven() => {
            Err(Refusal::invalid("outcome", Problem::NotProved))
        }
        Outcome::Improved if !case.improved() => {
            Err(Refusal::invalid("outcome", Problem::NotImproved))
        }
        Outcome::FixedAndVerified | Outcome::BelievedFixed if cause.is_none() => {
            Err(Refusal::invalid("cause", Problem::CauseMissing))
        }
        Outcome::OpenedByError => words("note", note, LONGEST_TEXT),
        _ => Ok(()),
    }
}
