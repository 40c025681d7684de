//! What is told of the fault: words, answers, numbers, pictures.

use super::{
    MOST_FILES, MOST_PICTURES, MOST_TELLINGS, MOST_TRIED, known_cause, known_fix, optional,
    required, room,
};
use crate::case::event::Event;
use crate::case::state::CaseState;
use crate::evidence;
use crate::knowledge::{Knowledge, Section};
use crate::picture::{Mark, MarkKind};
use crate::profile::{Context, FieldId};
use crate::refusal::{Holding, Problem, Refusal};
use crate::settings::{Conversion, number_id};
use crate::text::{LONGEST_NAME, LONGEST_TEXT, LONGEST_TITLE};
use std::collections::BTreeMap;

/// Most marks on one picture.
pub const MOST_MARKS: usize = 24;

pub(super) fn accept(
    knowledge: &Knowledge,
    case: &CaseState,
    event: &Event,
) -> Result<(), Refusal> {
    match event {
        Event::Opened {
            title,
            machine_name,
            machine,
            material,
            spool,
        } => {
            required("machine", machine_name, LONGEST_NAME)?;
            described(title, spool, machine, material.as_deref())
        }
        Event::Described {
            title,
            material,
            spool,
            machine,
        } => described(title, spool, machine, material.as_deref()),
        Event::Measured {
            number,
            value,
            note,
        } => measured(number, *value, note.as_ref()),
        Event::Told { text } => {
            room("told", case.told.len(), MOST_TELLINGS, Holding::Tellings)?;
            required("told", text, LONGEST_TEXT)
        }
        Event::Passed { finding } => asked(knowledge, finding, "unknown"),
        Event::Observed { finding, state, .. } => asked(knowledge, finding, state),
        Event::Pictured { name, .. } => {
            optional("name", name, LONGEST_TITLE)?;
            let there = case.pictures.len();
            room("picture", there, MOST_PICTURES, Holding::Pictures)
        }
        Event::Filed { name, .. } => {
            optional("name", name, LONGEST_TITLE)?;
            room("file", case.files.len(), MOST_FILES, Holding::Files)
        }
        Event::Marked { picture, marks } => marked(case, picture, marks),
        Event::Tried { fix, .. } => {
            let there = case.facts.tried.len();
            room("tried", there, MOST_TRIED, Holding::Tries)?;
            known_fix(knowledge, fix)
        }
        Event::Cleared { cause, .. } => known_cause(knowledge, cause),
        Event::Noted { text } => required("note", text, LONGEST_TEXT),
        _ => Ok(()),
    }
}

/// A title may be missing: not everybody has words for what is wrong.
fn described(
    title: &str,
    spool: &str,
    machine: &BTreeMap<String, String>,
    material: Option<&str>,
) -> Result<(), Refusal> {
    optional("title", title, LONGEST_TITLE)?;
    optional("spool", spool, LONGEST_NAME)?;
    known_context(machine, material)
}

fn measured(number: &str, value: f64, note: Option<&Conversion>) -> Result<(), Refusal> {
    if let Some(Conversion::Typed { typed: text } | Conversion::InWords(text)) = note {
        optional("note", text, LONGEST_TEXT)?;
    }
    number_id(number)
        .and_then(|id| id.number().accept(value))
        .map(|_| ())
        .map_err(|e| Refusal::invalid(number, e))
}

/// Fields of a machine, and a material.
pub(super) fn known_context(
    machine: &BTreeMap<String, String>,
    material: Option<&str>,
) -> Result<(), Refusal> {
    let mut context = Context::default();
    let material = material.map(|m| (FieldId::Material.id(), m));
    let fields = machine.iter().map(|(f, v)| (f.as_str(), v.as_str()));
    for (field, value) in fields.chain(material) {
        context
            .set(field, value)
            .map_err(|e| Refusal::invalid(field, e))?;
    }
    Ok(())
}

fn marked(case: &CaseState, picture: &str, marks: &[Mark]) -> Result<(), Refusal> {
    if !case.pictures.iter().any(|p| p.id == picture) {
        return Err(Refusal::invalid("picture", Problem::NoSuchPicture));
    }
    if marks.len() > MOST_MARKS {
        let problem = Problem::TooManyMarks {
            many: marks.len(),
            most: MOST_MARKS,
        };
        return Err(Refusal::invalid("marks", problem));
    }
    for mark in marks {
        if mark.places().iter().any(|p| !(0.0..=1.0).contains(p)) {
            return Err(Refusal::invalid("marks", Problem::MarkOutside));
        }
        match mark.kind {
            MarkKind::Text => required("marks", &mark.text, LONGEST_NAME)?,
            _ => optional("marks", &mark.text, LONGEST_NAME)?,
        }
    }
    Ok(())
}

/// A finding that a person answers when asked. What a check finds is answered by doing the check.
fn asked(knowledge: &Knowledge, finding: &str, state: &str) -> Result<(), Refusal> {
    match knowledge.finding_id(finding).map(|f| knowledge.finding(f)) {
        Some(f) if f.section == Section::Check => {
            let problem = Problem::FoundByCheck(finding.to_string());
            Err(Refusal::invalid(finding, problem))
        }
        _ => observed(knowledge, finding, state),
    }
}

/// An answer that the knowledge has for a finding.
pub(super) fn observed(knowledge: &Knowledge, finding: &str, state: &str) -> Result<(), Refusal> {
    let Some(id) = knowledge.finding_id(finding) else {
        let known = knowledge.findings.iter().map(|f| f.id.as_str());
        let problem = Problem::unknown("finding", finding, known);
        return Err(Refusal::invalid("finding", problem));
    };
    if knowledge.finding(id).section == Section::Number {
        let problem = Problem::DrawnFromNumbers(finding.to_string());
        return Err(Refusal::invalid(finding, problem));
    }
    evidence::answer(knowledge, id, state)
        .map(|_| ())
        .map_err(|e| Refusal::invalid(finding, e))
}
