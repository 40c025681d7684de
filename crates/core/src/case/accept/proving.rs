//! The proof of a fix: how the fault struck, and prints; what the failed one cost.

use super::amount;
use super::working::free;
use crate::case::beside::Beside;
use crate::case::event::Event;
use crate::case::lost::Lost;
use crate::case::proving::Struck;
use crate::case::state::{CaseState, Status};
use crate::knowledge::Knowledge;
use crate::refusal::{NotNow, Problem, Refusal};
use crate::text::TextProblem;

/// Most prints a fault is counted over.
const MOST_PRINTS: u32 = 1_000;
/// Most hours of one print.
const MOST_HOURS: f64 = 1_000.0;

pub(super) fn accept(
    knowledge: &Knowledge,
    case: &CaseState,
    event: &Event,
) -> Result<(), Refusal> {
    match event {
        Event::Struck(told) => struck(told),
        Event::Lost(told) => lost(told),
        Event::Beside { how } => beside(knowledge, case, *how),
        Event::Printed {
            minutes,
            grams,
            hours,
            ..
        } => {
            amount("minutes", *minutes)?;
            amount("grams", *grams)?;
            hours.map_or(Ok(()), |given| long("hours", given))?;
            printed(knowledge, case)
        }
        _ => Ok(()),
    }
}

fn long(field: &str, given: f64) -> Result<(), Refusal> {
    let most = MOST_HOURS;
    match (0.0..=most).contains(&given) {
        true => Ok(()),
        false => Err(Refusal::invalid(field, Problem::Amount { given, most })),
    }
}

/// How often a fault struck: once at least, and no oftener than there were prints.
fn struck(struck: &Struck) -> Result<(), Refusal> {
    struck.hours.map_or(Ok(()), |given| long("hours", given))?;
    let clean = struck.clean_before.unwrap_or(0);
    if struck.prints < 1 || struck.of < struck.prints || struck.of.max(clean) > MOST_PRINTS {
        let problem = Problem::Strikes {
            prints: struck.prints,
            of: struck.of,
            most: MOST_PRINTS,
        };
        return Err(Refusal::invalid("prints", problem));
    }
    Ok(())
}

/// What else proves a fix must be possible: a check that told of its cause, a value it changed.
fn beside(knowledge: &Knowledge, case: &CaseState, how: Beside) -> Result<(), Refusal> {
    let waits = matches!(case.status, Status::Verifying(_) | Status::Cured(_));
    let possible = match how {
        Beside::CheckSound => case.telling_check(knowledge).is_some(),
        Beside::FaultBack => case.changed_a_value(),
    };
    match waits && possible {
        true => Ok(()),
        false => Err(NotNow::NothingToProve.into()),
    }
}

/// What a failed print cost: something must be said, and all of it must be possible.
fn lost(lost: &Lost) -> Result<(), Refusal> {
    lost.hours
        .map_or(Ok(()), |given| long("lost_hours", given))?;
    lost.grams
        .map_or(Ok(()), |given| amount("lost_grams", given))?;
    match lost.says_anything() {
        true => Ok(()),
        false => Err(Refusal::invalid("lost_hours", TextProblem::Missing)),
    }
}

fn printed(knowledge: &Knowledge, case: &CaseState) -> Result<(), Refusal> {
    free(knowledge, case)?;
    if let Some((_, part)) = case.parts_out.first() {
        return Err(NotNow::PartIsOff(part.clone()).into());
    }
    match case.status {
        Status::Verifying(_) | Status::Cured(_) => Ok(()),
        Status::Open if case.weakened_by().is_some() => Ok(()),
        _ => Err(NotNow::NothingToProve.into()),
    }
}
