//! What helpers elsewhere suggest, and what becomes of it.

use super::{MOST_SUGGESTIONS, known_cause, no_check, optional, required, room};
use crate::case::event::Event;
use crate::case::state::CaseState;
use crate::knowledge::Knowledge;
use crate::refusal::{Holding, NotNow, Problem, Refusal};
use crate::text::{LONGEST_NAME, LONGEST_TEXT};

pub(super) fn accept(
    knowledge: &Knowledge,
    case: &CaseState,
    event: &Event,
) -> Result<(), Refusal> {
    match event {
        Event::Suggested {
            by,
            cause,
            check,
            text,
        } => {
            required("by", by, LONGEST_NAME)?;
            optional("text", text, LONGEST_TEXT)?;
            let waiting = case.suggestions.iter().filter(|s| s.taken.is_none());
            let holding = Holding::OpenSuggestions;
            room("text", waiting.count(), MOST_SUGGESTIONS, holding)?;
            if cause.is_none() && check.is_none() && text.trim().is_empty() {
                return Err(Refusal::invalid("text", Problem::SuggestsNothing));
            }
            if let Some(cause) = cause {
                known_cause(knowledge, cause)?;
            }
            match check {
                Some(check) if knowledge.check_id(check).is_none() => {
                    Err(no_check(knowledge, check))
                }
                _ => Ok(()),
            }
        }
        Event::Weighed { suggestion, .. } => {
            match case.suggestions.iter().find(|s| s.seq == *suggestion) {
                Some(there) if there.taken.is_none() => Ok(()),
                Some(_) => Err(NotNow::SuggestionAnswered.into()),
                None => {
                    let problem = Problem::NoSuggestion(*suggestion);
                    Err(Refusal::invalid("suggestion", problem))
                }
            }
        }
        _ => Ok(()),
    }
}
