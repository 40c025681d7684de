//! Two cases of the same trouble become one: what the other knew is added to the one that goes on.

use super::accept::MOST_ENTRIES_AT_ONCE;
use super::event::{Entry, Event};
use super::replay::active;
use super::state::CaseState;
use crate::knowledge::Knowledge;
use crate::measures::answers;
use crate::settings::NumberId;

/// What a case that goes on takes over from another one of the same trouble, in its order: what was
/// told, seen, measured, checked, tried and noted there and is not known here. Where both know
/// something, the case that goes on keeps its own. Pictures stay where they are.
pub fn taken_over(knowledge: &Knowledge, keeps: &CaseState, other: &[Entry]) -> Vec<Event> {
    let counts = active(other);
    let entries = other.iter().zip(counts).filter(|(_, counts)| *counts);
    let mut taken: Vec<Event> = Vec::new();
    let mut applied: Option<String> = None;
    for (entry, _) in entries {
        let event = match &entry.event {
            Event::Fixed { fix, .. } => {
                applied = Some(fix.clone());
                continue;
            }
            // A fix with its proof is a try to the case that goes on.
            Event::Printed { result, .. } => match applied.take() {
                Some(fix) => Event::Tried {
                    fix,
                    result: *result,
                },
                None => continue,
            },
            event => event.clone(),
        };
        if is_new(knowledge, keeps, &event) {
            taken.push(event);
        }
    }
    // Room for the entry that names the other case.
    taken.truncate(MOST_ENTRIES_AT_ONCE - 1);
    taken
}

fn is_new(knowledge: &Knowledge, keeps: &CaseState, event: &Event) -> bool {
    let unanswered = |finding: &str| {
        let known = knowledge.finding_id(finding);
        known.is_some_and(|f| !keeps.facts.findings.contains_key(&f))
    };
    match event {
        Event::Observed { finding, .. } => unanswered(finding),
        Event::Checked { check, .. } | Event::Gauged { check, .. } => unanswered(check),
        Event::Benched { reading, .. } => reading.reckon().is_ok_and(|(measure, out)| {
            let said = answers(knowledge, measure, &out);
            let mut said = said.iter();
            said.all(|(f, _)| !keeps.facts.findings.contains_key(f))
        }),
        Event::Measured { number, .. } => {
            NumberId::from_id(number).is_some_and(|n| keeps.facts.settings.get(n).is_none())
        }
        Event::Told { text } => !keeps.told.contains(text),
        Event::Tried { fix, .. } => knowledge.fix_id(fix).is_some(),
        Event::Cleared { cause, .. } => knowledge.cause_id(cause).is_some_and(|c| {
            let mut cleared = keeps.facts.cleared.iter();
            !cleared.any(|(known, _)| *known == c)
        }),
        Event::OwnChecked { .. } | Event::OwnSuspected { .. } | Event::Noted { .. } => true,
        _ => false,
    }
}
