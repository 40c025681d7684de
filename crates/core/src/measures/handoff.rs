//! What a reading of the bench says to a case, and what is kept of it.

use super::out::{Likelihoods, Out, Output};
use super::{Input, Inputs, Measure, Raw, Refused, measure};
use crate::evidence::{Answer, Confidence, Facts, Sighting};
use crate::knowledge::{FindingId, Knowledge, MOST_STATES};
use std::collections::BTreeMap;

/// How likely the reading is under each state of a finding; nothing where it does not speak of it.
pub fn weights(
    knowledge: &Knowledge,
    measure: &Measure,
    out: &Out,
    finding: FindingId,
) -> Option<[f64; MOST_STATES]> {
    let id = &knowledge.finding(finding).id;
    let told = out.findings.iter().find(|(f, _)| f == id);
    let finer = out.finer.as_ref().filter(|_| *id == measure.id);
    let all: &Likelihoods = finer.or(told.map(|(_, all)| all))?;
    let mut weights = [0.0; MOST_STATES];
    for (weight, state) in weights.iter_mut().zip(&knowledge.finding(finding).states) {
        let told = all.iter().find(|(s, _)| *s == state.id);
        *weight = told.map_or(0.0, |(_, l)| *l);
    }
    Some(weights)
}

/// The answers a reading gives, by finding; none while a slip is suspected.
pub fn answers(knowledge: &Knowledge, measure: &Measure, out: &Out) -> Vec<(FindingId, Answer)> {
    let said = out.findings.iter().map(|(id, _)| *id);
    let said = said.chain(out.finer.as_ref().map(|_| measure.id));
    let mut found: Vec<FindingId> = said.filter_map(|id| knowledge.finding_id(id)).collect();
    found.sort();
    found.dedup();
    let answer = |f| Some((f, Answer::Read(weights(knowledge, measure, out, f)?)));
    found.into_iter().filter_map(answer).collect()
}

/// Facts with what a reading says.
pub fn with_reading(knowledge: &Knowledge, facts: &Facts, measure: &Measure, out: &Out) -> Facts {
    let mut facts = facts.clone();
    for (finding, answer) in answers(knowledge, measure, out) {
        let confidence = Confidence::Sure;
        let sighting = Sighting { answer, confidence };
        facts.findings.insert(finding, sighting);
    }
    facts
}

/// A reading as a log keeps it.
#[derive(Debug, Clone, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Reading {
    /// The measure.
    pub measure: String,
    /// Its inputs as they were read, each in its own unit; what is usual is left out.
    pub inputs: Inputs,
    /// Somebody said that it is so, though it looked like a slip.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub confirmed: bool,
}

impl Reading {
    /// Of what was typed, or the case knew.
    ///
    /// # Errors
    /// Which input makes no sense, and why.
    pub fn of(measure: &Measure, raw: &Inputs, confirmed: bool) -> Result<Self, Refused> {
        let given = super::Given::read(measure.id, measure.inputs, raw)?;
        let slipped = measure.reckon(raw)?.slipped;
        let kept = measure.inputs.iter().filter(|i| raw.contains_key(i.id));
        let kept = kept.filter_map(|i| Some((i.id.to_string(), given.raw(i.id)?)));
        Ok(Self {
            measure: measure.id.to_string(),
            inputs: kept.collect(),
            confirmed: confirmed && slipped,
        })
    }

    /// What follows from it.
    ///
    /// # Errors
    /// When there is no such measure, or the numbers make no sense.
    pub fn reckon(&self) -> Result<(&'static Measure, Out), Refused> {
        let of = measure(&self.measure)?;
        let out = match self.confirmed {
            true => of.reckon_confirmed(&self.inputs),
            false => of.reckon(&self.inputs),
        };
        Ok((of, out?))
    }
}

impl Out {
    /// The numbers among the outputs.
    pub fn numbers(&self) -> BTreeMap<String, f64> {
        let number = |(name, value): &(String, Output)| match value {
            Output::Number(v) => Some((name.clone(), *v)),
            _ => None,
        };
        self.outputs.iter().filter_map(number).collect()
    }

    /// The first number that has an uncertainty: its name, the number, the uncertainty.
    pub fn uncertain(&self) -> Option<(&str, f64, f64)> {
        let found = self.numbers();
        self.outputs.iter().find_map(|(name, value)| match value {
            Output::Number(v) => Some((name.as_str(), *v, uncertainty(&found, name)?)),
            _ => None,
        })
    }
}

/// The uncertainty of an output among others: called as it is, `_u` in place of its unit.
pub fn uncertainty(found: &BTreeMap<String, f64>, name: &str) -> Option<f64> {
    let (stem, _) = stem_and_unit(name);
    found.get(&format!("{stem}_u")).copied()
}

/// Units at the end of an output's name, the longer first.
const UNITS: [&str; 15] = [
    "mm_s2", "mm3_s", "mm_s", "mm3", "percent", "mm", "deg", "min", "hz", "c", "w", "n", "g", "h",
    "s",
];

/// An output's name without its unit, and the unit; empty where it has none.
pub fn stem_and_unit(name: &str) -> (&str, &str) {
    let cut = |unit: &&'static str| Some((name.strip_suffix(*unit)?.strip_suffix('_')?, *unit));
    UNITS.iter().find_map(cut).unwrap_or((name, ""))
}

impl Measure {
    /// What a case, or a machine, knows of the inputs.
    pub fn known(&self, knowledge: &Knowledge, facts: &Facts) -> Inputs {
        let known = |i: &&Input| {
            let value = super::gauge::known(knowledge, facts, i, i.setting?)?;
            Some((i.id.to_string(), value))
        };
        self.inputs.iter().filter_map(|i| known(&i)).collect()
    }

    /// Outputs that are set on a machine from now on: what is worth keeping with it.
    pub fn calibrates(&self) -> bool {
        CALIBRATIONS.contains(&self.id)
    }
}

/// Measures whose result is set on the machine, or is a property of it.
const CALIBRATIONS: [&str; 14] = [
    "wall-thickness",
    "extruder-steps-free",
    "extruder-steps-hot",
    "measure-filament",
    "insert-length",
    "first-layer-thickness",
    "axis-steps",
    "z-travel",
    "tram",
    "witness-marks",
    "belt-pluck",
    "ringing",
    "fit-lengths",
    "diagonals",
];

/// Whether what a log kept of a reading still makes sense.
///
/// # Errors
/// Which input does not, and why.
pub fn holds(reading: &Reading) -> Result<(), Refused> {
    let (of, _) = reading.reckon()?;
    let known = |raw: &Raw| !matches!(raw, Raw::Text(t) if t.len() > super::LONGEST_WORD);
    match reading.inputs.iter().find(|(_, raw)| !known(raw)) {
        Some((id, _)) => super::refused::refuse(format!("{id} is too long for {}", of.id)),
        None => Ok(()),
    }
}
