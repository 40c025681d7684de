//! The table: a row a case, columns that any program for tables can use.

use crate::case::{CaseState, Entry, Event, HeldAnswer, Status, active};
use crate::knowledge::{Knowledge, Section};
use crate::profile::FieldId;
use serde::{Deserialize, Serialize};
use time::format_description::well_known::Rfc3339;

/// Columns in their order, each with what it holds.
pub const COLUMNS: [(&str, &str); 26] = [
    ("id", "identifier of the case"),
    ("number", "running number of the workshop"),
    ("machine", "name of the machine"),
    ("kind", "kind of the machine"),
    ("title", "what the trouble is called"),
    ("material", "material by its identifier"),
    ("spool", "the spool in words"),
    ("opened", "moment, RFC 3339, or a day"),
    ("closed", "moment, RFC 3339, or a day; empty while open"),
    ("outcome", "how it ended, by its identifier"),
    (
        "cause",
        "the cause it was: an identifier, or own/ and words",
    ),
    (
        "fix",
        "the fix that did it: an identifier, or own/ and words",
    ),
    ("proven", "yes where its proof was complete"),
    ("held", "the last day somebody said that the fix held"),
    ("minutes", "minutes of search and repair"),
    ("grams", "grams of filament of search and proof"),
    ("money", "money for parts"),
    ("lost_hours", "hours of the failed print"),
    ("lost_grams", "grams of the failed print"),
    ("first_layer", "yes where it was stopped in its first layer"),
    (
        "signs",
        "what was seen: finding=state, separated by semicolons",
    ),
    ("settings", "numbers: name=value, separated by semicolons"),
    (
        "checks",
        "outcomes of checks: check=outcome, separated by semicolons",
    ),
    (
        "tried",
        "fixes and what came of them: fix=result, separated by semicolons",
    ),
    ("told", "what was told, in words"),
    ("note", "the word at the closing"),
];

/// A row. Every column is a text; one that is empty says nothing.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
#[allow(missing_docs, reason = "fields are those of COLUMNS")]
pub struct Row {
    pub id: String,
    pub number: String,
    pub machine: String,
    pub kind: String,
    pub title: String,
    pub material: String,
    pub spool: String,
    pub opened: String,
    pub closed: String,
    pub outcome: String,
    pub cause: String,
    pub fix: String,
    pub proven: String,
    pub held: String,
    pub minutes: String,
    pub grams: String,
    pub money: String,
    pub lost_hours: String,
    pub lost_grams: String,
    pub first_layer: String,
    pub signs: String,
    pub settings: String,
    pub checks: String,
    pub tried: String,
    pub told: String,
    pub note: String,
}

/// What is wrong with a row.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{column}: {problem}")]
pub struct RowFault {
    /// Which column.
    pub column: &'static str,
    /// What was found, and what would do.
    pub problem: String,
}

/// The row of a case.
pub fn row(
    knowledge: &Knowledge,
    (id, number): (&str, i64),
    (machine, kind): (&str, &str),
    log: &[Entry],
    case: &CaseState,
) -> Row {
    let yes = |so: bool| if so { "yes" } else { "" }.to_string();
    let moment = |at: time::OffsetDateTime| at.format(&Rfc3339).unwrap_or_default();
    let amount = |v: f64| {
        if v > 0.0 {
            v.to_string()
        } else {
            String::new()
        }
    };
    let end = match &case.status {
        Status::Resolved(end) => Some(end),
        _ => None,
    };
    let lost = case.lost.unwrap_or_default();
    let held = end.map_or(&[][..], |end| &end.asked[..]).iter();
    let held = held
        .filter(|(_, a)| *a == HeldAnswer::Held)
        .map(|(at, _)| *at);
    Row {
        id: id.into(),
        number: number.to_string(),
        machine: machine.into(),
        kind: kind.into(),
        title: case.title.clone(),
        material: case
            .facts
            .context
            .id(FieldId::Material)
            .unwrap_or("")
            .into(),
        spool: case.spool.clone(),
        opened: case.opened_at.map(moment).unwrap_or_default(),
        closed: end.map(|end| moment(end.at)).unwrap_or_default(),
        outcome: end.map(|end| end.outcome.to_string()).unwrap_or_default(),
        cause: end.and_then(|end| end.cause.clone()).unwrap_or_default(),
        fix: end.and_then(|end| end.fix.clone()).unwrap_or_default(),
        proven: yes(end.is_some() && case.proven()),
        held: held.max().map(moment).unwrap_or_default(),
        minutes: amount(case.minutes),
        grams: amount(case.grams),
        money: amount(case.money),
        lost_hours: lost.hours.map(|v| v.to_string()).unwrap_or_default(),
        lost_grams: lost.grams.map(|v| v.to_string()).unwrap_or_default(),
        first_layer: yes(lost.first_layer),
        signs: answers(knowledge, case, false),
        settings: settings(case),
        checks: answers(knowledge, case, true),
        tried: tried(knowledge, case),
        told: said(log),
        note: end.map(|end| end.note.clone()).unwrap_or_default(),
    }
}

/// "layer-step=present;onset=sudden": what was seen, or what checks found.
fn answers(knowledge: &Knowledge, case: &CaseState, checks: bool) -> String {
    let told = case.facts.findings.iter().filter(|(f, _)| {
        let section = knowledge.finding(**f).section;
        section != Section::Number && (section == Section::Check) == checks
    });
    let told = told.map(|(f, s)| {
        let finding = knowledge.finding(*f);
        format!("{}={}", finding.id, s.answer.id(knowledge, *f))
    });
    told.collect::<Vec<_>>().join(";")
}

fn settings(case: &CaseState) -> String {
    let known = case.facts.settings.known();
    let known = known.map(|(id, value)| format!("{id}={value}"));
    known.collect::<Vec<_>>().join(";")
}

fn tried(knowledge: &Knowledge, case: &CaseState) -> String {
    let tried = case.facts.tried.iter().map(|t| {
        let fix = &knowledge.fix(t.fix).id;
        format!("{fix}={}", t.result.id())
    });
    tried.collect::<Vec<_>>().join(";")
}

fn said(log: &[Entry]) -> String {
    let counting = log.iter().zip(active(log)).filter(|(_, counts)| *counts);
    let told = counting.filter_map(|(e, _)| match &e.event {
        Event::Told { text } => Some(text.as_str()),
        _ => None,
    });
    told.collect::<Vec<_>>().join("\n")
}
