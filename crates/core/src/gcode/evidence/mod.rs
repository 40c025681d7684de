//! What a file says of a case, each with its lines and the reason. What a file cannot know is not
//! claimed.

mod answers;
mod load;

pub(super) use answers::top_skin;

use super::numbers;
use super::reading::Reading;
use crate::evidence::{Confidence, Facts};
use crate::knowledge::Knowledge;
use crate::settings::NumberId;
use serde::Serialize;

/// An answer that a file gives.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Found {
    /// The finding.
    pub id: String,
    /// Its state.
    pub state: String,
    /// How surely.
    pub confidence: Confidence,
    /// Lines of the file that say so.
    pub lines: Vec<u64>,
    /// Why.
    pub why: String,
}

/// A number of the case that a file tells.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct FoundNumber {
    /// The number.
    pub id: NumberId,
    /// Its value in the number's own unit.
    pub value: f64,
    /// Lines of the file that say so.
    pub lines: Vec<u64>,
    /// Why.
    pub why: String,
}

/// Something that asks much of the machine, and no answer to any question.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Sign {
    /// `over-melt-limit`, `near-melt-limit`, `short-layers`, `one-stretch` or `homed-after-mesh`.
    pub what: String,
    /// Lines of the file that say so.
    pub lines: Vec<u64>,
    /// In words.
    pub why: String,
}

/// All that a file says of a case.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
pub struct Says {
    /// Answers.
    pub findings: Vec<Found>,
    /// Numbers.
    pub numbers: Vec<FoundNumber>,
    /// Signs of overload.
    pub signs: Vec<Sign>,
}

/// What is known besides the file.
#[derive(Debug, Clone, Copy)]
pub struct Beside<'a> {
    /// The case.
    pub facts: &'a Facts,
    /// Height of the fault, mm.
    pub fault_mm: Option<f64>,
    /// The last good file of this machine.
    pub good: Option<&'a Reading>,
}

type Answer = (&'static str, &'static str, Confidence, Vec<u64>, String);

/// What a file says of a case.
pub fn says(knowledge: &Knowledge, reading: &Reading, beside: Beside<'_>) -> Says {
    if !reading.lays() {
        return Says::default();
    }
    let answers = [
        answers::mesh(reading, beside.facts),
        answers::diameter(reading, beside.facts),
        answers::nozzle(reading, beside.facts),
        answers::supports(reading),
        answers::top_layers(reading),
        answers::parking(reading),
        answers::seam_direction(reading),
        load::flow_demand(reading, beside.facts),
        beside.fault_mm.and_then(|z| answers::path_at(reading, z)),
        beside.good.map(|good| answers::against_good(reading, good)),
    ];
    let known = |finding: &Found| {
        let id = knowledge.finding_id(&finding.id);
        id.is_some_and(|id| knowledge.finding(id).state(&finding.state).is_some())
    };
    let findings = answers
        .into_iter()
        .flatten()
        .map(|(id, state, confidence, lines, why)| Found {
            id: id.to_owned(),
            state: state.to_owned(),
            confidence,
            lines,
            why,
        });
    Says {
        findings: findings.filter(known).collect(),
        numbers: numbers::of(reading),
        signs: load::signs(reading, beside.facts),
    }
}
