//! Checks, fixes and suspects in the workshop's own words.

use super::working::free;
use super::{amount, known_cause, optional, required, room, words};
use crate::case::event::Event;
use crate::case::speaks::Speaks;
use crate::case::state::{CaseState, Status};
use crate::knowledge::Knowledge;
use crate::own::LONGEST_OWN;
use crate::refusal::{Holding, NotNow, Problem, Refusal};
use crate::series::{LONGEST, Word};
use crate::trials::MOST_DB;

/// Most outcomes of one check of the workshop's own.
pub const MOST_OWN_OUTCOMES: usize = 8;
/// Most words of the workshop's own that one case holds.
pub const MOST_OWN: usize = 100;

pub(super) fn accept(
    knowledge: &Knowledge,
    case: &CaseState,
    event: &Event,
) -> Result<(), Refusal> {
    room("name", case.facts.own.len(), MOST_OWN, Holding::OwnWords)?;
    match event {
        Event::OwnChecked {
            name,
            outcomes,
            outcome,
            speaks,
            minutes,
        } => {
            words("name", name, LONGEST_OWN)?;
            required("outcome", outcome, LONGEST_OWN)?;
            if outcomes.len() > MOST_OWN_OUTCOMES {
                let holding = Holding::OwnOutcomes;
                let most = MOST_OWN_OUTCOMES;
                return Err(Refusal::invalid(
                    "outcomes",
                    Problem::Full { holding, most },
                ));
            }
            for one in outcomes {
                optional("outcomes", one, LONGEST_OWN)?;
            }
            amount("minutes", *minutes)?;
            speaks
                .as_ref()
                .map_or(Ok(()), |s| whom(knowledge, &s.cause))
        }
        Event::OwnFixed {
            name,
            aimed_at,
            minutes,
            money,
            grams,
            ..
        } => {
            words("name", name, LONGEST_OWN)?;
            amount("minutes", *minutes)?;
            amount("money", *money)?;
            amount("grams", *grams)?;
            aimed_at.as_ref().map_or(Ok(()), |id| whom(knowledge, id))?;
            free(knowledge, case)?;
            match (&case.status, case.parts_out.first()) {
                (Status::Verifying(open), _) => Err(NotNow::ProofFirst(*open).into()),
                (_, Some((_, part))) => Err(NotNow::PartIsOff(part.clone()).into()),
                _ => Ok(()),
            }
        }
        Event::Trialled(word) => trialled(knowledge, word),
        Event::OwnSuspected { name } => words("name", name, LONGEST_OWN),
        _ => Ok(()),
    }
}

/// A suspect of the knowledge, or whoever is not listed.
fn whom(knowledge: &Knowledge, cause: &str) -> Result<(), Refusal> {
    match cause {
        Speaks::SOMEONE_ELSE => Ok(()),
        cause => known_cause(knowledge, cause),
    }
}

/// What a trial series says: of known causes, within what a series can say.
fn trialled(knowledge: &Knowledge, word: &Word) -> Result<(), Refusal> {
    required("series", &word.series, LONGEST_OWN)?;
    required("name", &word.name, LONGEST)?;
    for (cause, decibans) in &word.weight.causes {
        known_cause(knowledge, cause)?;
        if !decibans.is_finite() || decibans.abs() > MOST_DB {
            let problem = Problem::Amount {
                given: *decibans,
                most: MOST_DB,
            };
            return Err(Refusal::invalid("weight", problem));
        }
    }
    Ok(())
}
