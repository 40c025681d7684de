//! What the list of questions says, as events; and the fields that show what a case holds.

use super::picker::{TRIED_ROWS, asked};
use crate::form::{Errors, Fields};
use crate::show;
use crate::words::refusal;
use suspect_core::case::{CaseState, Event};
use suspect_core::evidence::{Confidence, answer};
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::nearest::short;
use suspect_core::settings::{Reading, number_id};

/// Events for what a form says beyond what the case already holds. Messages go to `errors`, by
/// field.
pub fn events(k: &Knowledge, fields: &Fields, case: &CaseState, errors: &mut Errors) -> Vec<Event> {
    let mut events = numbers(fields, case, errors);
    for (id, text) in fields.with_prefix("f.") {
        events.extend(finding(k, case, (id, text), errors));
    }
    events.extend(rest(k, fields, case));
    events.extend(tried(k, fields, errors));
    events
}

fn numbers(fields: &Fields, case: &CaseState, errors: &mut Errors) -> Vec<Event> {
    let mut events = Vec::new();
    for (id, text) in fields
        .with_prefix("n.")
        .filter(|(_, text)| !text.is_empty())
    {
        match number_id(id).and_then(|id| id.number().read(text)) {
            Ok(reading) if case.facts.settings.named(id) == Some(reading.value) => {}
            Ok(Reading { value, note }) => events.push(Event::Measured {
                number: id.to_string(),
                value,
                note,
            }),
            Err(problem) => {
                errors.insert(format!("n.{id}"), refusal::number(&problem));
            }
        }
    }
    events
}

/// An answer `state` or `state:confidence`; an empty one takes an earlier one back.
fn finding(
    k: &Knowledge,
    case: &CaseState,
    (id, text): (&str, &str),
    errors: &mut Errors,
) -> Option<Event> {
    let Some(finding) = k.finding_id(id) else {
        let message = format!("`{}` is no known sign.", short(id));
        errors.insert("form".into(), message);
        return None;
    };
    let (state, word) = text
        .split_once(':')
        .unwrap_or((text, Confidence::Sure.id()));
    let Some(confidence) = Confidence::from_id(word) else {
        let message = "How sure is one of sure, likely, hunch.";
        errors.insert(format!("f.{id}"), message.into());
        return None;
    };
    let known = case.facts.findings.get(&finding);
    let same =
        known.is_some_and(|s| s.answer.id(k, finding) == state && s.confidence == confidence);
    if same || (state.is_empty() && known.is_none()) {
        return None;
    }
    let state = if state.is_empty() { "unknown" } else { state };
    if let Err(problem) = answer(k, finding, state) {
        let message = refusal::problem(id, &problem.into());
        errors.insert(format!("f.{id}"), message);
        return None;
    }
    Some(Event::Observed {
        finding: id.to_string(),
        state: state.to_string(),
        confidence,
        asked: false,
    })
}

/// "Nothing else looks wrong here": a group's unanswered signs are absent, as a hunch.
fn rest(k: &Knowledge, fields: &Fields, case: &CaseState) -> Vec<Event> {
    let mut events = Vec::new();
    let groups = fields.with_prefix("rest.").filter(|(_, v)| *v == "yes");
    for f in groups
        .filter_map(|(group, _)| asked(k, group.parse().ok()?))
        .flatten()
    {
        let finding = k.finding(f);
        let known = case.facts.findings.contains_key(&f);
        let given = fields.given(&format!("f.{}", finding.id)).is_some();
        if finding.presence() && !known && !given {
            events.push(Event::Observed {
                finding: finding.id.clone(),
                state: "absent".into(),
                confidence: Confidence::Hunch,
                asked: false,
            });
        }
    }
    events
}

/// What was tried before.
fn tried(k: &Knowledge, fields: &Fields, errors: &mut Errors) -> Vec<Event> {
    let mut events = Vec::new();
    for n in 0..TRIED_ROWS {
        let fix = fields.get(&format!("t.{n}.fix"));
        let result = fields.get(&format!("t.{n}.result"));
        match (k.fix_id(fix), TryResult::from_id(result)) {
            _ if fix.is_empty() && result.is_empty() => {}
            (Some(_), Some(result)) => events.push(Event::Tried {
                fix: fix.to_string(),
                result,
            }),
            _ => {
                let message = "Choose both what was tried and what came of it.";
                errors.insert("tried".into(), message.into());
            }
        }
    }
    events
}

/// The fields that show what a case already holds.
pub fn filled(knowledge: &Knowledge, case: &CaseState) -> Fields {
    let mut fields = Vec::new();
    for (number, value) in case.facts.settings.known() {
        fields.push((format!("n.{number}"), show::exact(value)));
    }
    for (f, sighting) in &case.facts.findings {
        let state = sighting.answer.id(knowledge, *f);
        let value = match sighting.confidence {
            Confidence::Sure => state.to_string(),
            other => format!("{state}:{}", other.id()),
        };
        fields.push((format!("f.{}", knowledge.finding(*f).id), value));
    }
    Fields::of(fields)
}
