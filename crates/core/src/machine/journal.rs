//! What the journal of a machine holds beside its build, and whether it makes sense.

use super::MachineEvent;
use super::event::MachineEntry;
use crate::identified::identified;
use crate::knowledge::Knowledge;
use crate::nearest::short;
use crate::refusal::{NotNow, Problem, Refusal};
use crate::settings::{Number, NumberProblem};
use crate::text;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Most that a counter of kilograms or prints shows.
const MOST_COUNTED: f64 = 1_000_000.0;
/// Nozzles between these exist, in mm.
pub const NOZZLES_MM: (f64, f64) = (0.1, 2.0);

pub(super) fn is_false(value: &bool) -> bool {
    !*value
}

identified! {
    /// What was changed.
    pub enum Changing {
        /// A setting of the machine or of its profile in the slicer.
        Setting = "setting",
        /// The firmware, or its configuration.
        Firmware = "firmware",
    }
}

identified! {
    /// What became of a quirk.
    pub enum QuirkNow {
        /// It stands as it came.
        Open = "open",
        /// Mended.
        Done = "done",
        /// This machine does not have it.
        NotNeeded = "not-needed",
        /// Left for later, knowingly.
        Postponed = "postponed",
    }
}

/// A change of a setting or of the firmware.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Change {
    /// Setting or firmware.
    pub what: Changing,
    /// Its name, as the workshop calls it.
    pub name: String,
    /// As it was; empty where nobody knew.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub before: String,
    /// As it is now.
    pub after: String,
}

macro_rules! values {
    ($($id:literal $plain:literal $unit:literal $min:literal $max:literal $step:literal
        [$($part:literal),*])+) => {
        /// Values that are found for a machine, a nozzle and a material.
        pub static VALUES: &[Value] = &[$(Value {
            number: Number {
                id: $id,
                plain: $plain,
                unit: $unit,
                min: $min as f64,
                max: $max as f64,
                step: $step as f64,
            },
            id: $id,
            parts: &[$($part),*],
        }),+];
    };
}

/// A value that is found for a machine, a nozzle and a material.
#[derive(Debug)]
pub struct Value {
    /// Identifier; that of a number of the case where it is one.
    pub id: &'static str,
    /// Its words, unit and range.
    pub number: Number,
    /// Parts on which it hangs: once one of them is new, the value is old.
    pub parts: &'static [&'static str],
}

impl Value {
    fn accept(&self, value: f64) -> Result<f64, NumberProblem> {
        self.number.accept(value)
    }
}

values! {
    "calibrated_flow_ratio" "flow ratio" "" 0.2 3.0 0.01 ["nozzle", "drive-gear", "tube", "liner"]
    "nozzle_c" "nozzle temperature" "°C" 100 500 1 ["nozzle", "heater-sensor", "liner"]
    "retract_mm" "retraction" "mm" 0 20 0.1 ["nozzle", "tube", "liner", "drive-gear"]
    "extruder_steps" "extruder steps" "steps/mm" 10 5000 0.1 ["drive-gear"]
    "first_layer_offset_mm" "first-layer offset" "mm" -10 10 0.01 ["nozzle", "plate", "probe"]
    "melt_limit_mm3_s" "melt limit" "mm³/s" 0.5 200 0.1 ["nozzle", "heater-sensor", "liner"]
}

/// A value by its identifier.
pub fn value_of(id: &str) -> Option<&'static Value> {
    VALUES.iter().find(|v| v.id == id)
}

/// Values found for a nozzle and a material on one machine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Calibration {
    /// Nozzle in mm.
    pub nozzle_mm: f64,
    /// Material family.
    pub material: String,
    /// Values by identifier, as in [`VALUES`].
    pub values: BTreeMap<String, f64>,
    /// The piece they were read from, in words.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub piece: String,
}

/// Whether an entry of the journal makes sense; entries of other kinds do.
pub(super) fn accept(
    knowledge: &Knowledge,
    log: &[MachineEntry],
    event: &MachineEvent,
) -> Result<(), Refusal> {
    match event {
        MachineEvent::Counter {
            kilograms, prints, ..
        } => {
            counted("kilograms", *kilograms)?;
            counted("prints", *prints)
        }
        MachineEvent::Kept { task, note, .. } => {
            let known = knowledge.upkeep.iter().any(|t| t.id == *task);
            if !known {
                let ids = knowledge.upkeep.iter().map(|t| t.id.as_str());
                let problem = Problem::unknown("task", task, ids);
                return Err(Refusal::invalid("task", problem));
            }
            optional("note", note, text::LONGEST_TEXT)
        }
        MachineEvent::Changed(change) => changed(change),
        MachineEvent::Good { note, .. } | MachineEvent::Quirk { note, .. } => {
            optional("note", note, text::LONGEST_TEXT)
        }
        MachineEvent::Commissioned { step, note, .. } => {
            let known = knowledge.commissioning.iter().map(|s| s.id.as_str());
            if !known.clone().any(|id| id == step) {
                let problem = Problem::unknown("step", step, known);
                return Err(Refusal::invalid("step", problem));
            }
            optional("note", note, text::LONGEST_TEXT)
        }
        MachineEvent::LookedOver { seen, wrong } => looked(knowledge, seen.iter().chain(wrong)),
        MachineEvent::Calibrated(calibration) => calibrated(calibration),
        MachineEvent::Noted { text } => {
            text::words(text, text::LONGEST_TEXT).map_err(|e| Refusal::invalid("text", e))
        }
        MachineEvent::Retired { reason } => {
            text::words(reason, text::LONGEST_TEXT).map_err(|e| Refusal::invalid("reason", e))
        }
        MachineEvent::Fitted { part, hours, .. } => fitted_once(log, part, *hours),
        _ => Ok(()),
    }
}

fn optional(field: &str, text: &str, longest: usize) -> Result<(), Refusal> {
    text::optional(text, longest).map_err(|e| Refusal::invalid(field, e))
}

/// A change with a name and a value that is another than before.
fn changed(change: &Change) -> Result<(), Refusal> {
    text::words(&change.name, text::LONGEST_NAME).map_err(|e| Refusal::invalid("name", e))?;
    optional("after", &change.after, text::LONGEST_NAME)?;
    if text::is_blank(&change.after) {
        return Err(Refusal::invalid("after", text::TextProblem::Missing));
    }
    optional("before", &change.before, text::LONGEST_NAME)?;
    match change.before == change.after {
        true => Err(Refusal::invalid("after", Problem::SameAsBefore)),
        false => Ok(()),
    }
}

/// Looks before a print that the knowledge has.
fn looked<'a>(
    knowledge: &Knowledge,
    mut looks: impl Iterator<Item = &'a String>,
) -> Result<(), Refusal> {
    let known = knowledge.precautions.iter().map(|p| p.id.as_str());
    match looks.find(|id| !known.clone().any(|k| k == id.as_str())) {
        None => Ok(()),
        Some(odd) => {
            let problem = Problem::unknown("look", odd, known);
            Err(Refusal::invalid("look", problem))
        }
    }
}

fn counted(field: &str, given: Option<f64>) -> Result<(), Refusal> {
    match given.filter(|n| !(0.0..=MOST_COUNTED).contains(n)) {
        None => Ok(()),
        Some(given) => {
            let most = MOST_COUNTED;
            Err(Refusal::invalid(field, Problem::Amount { given, most }))
        }
    }
}

fn calibrated(calibration: &Calibration) -> Result<(), Refusal> {
    let (least, most) = NOZZLES_MM;
    let given = calibration.nozzle_mm;
    if !(least..=most).contains(&given) {
        return Err(Refusal::invalid(
            "nozzle_mm",
            Problem::Amount { given, most },
        ));
    }
    let mut context = crate::profile::Context::default();
    context
        .set("material", &calibration.material)
        .map_err(|e| Refusal::invalid("material", e))?;
    for (id, value) in &calibration.values {
        let Some(of) = value_of(id) else {
            let problem = Problem::unknown("value", id, VALUES.iter().map(|v| v.id));
            return Err(Refusal::invalid(&short(id), problem));
        };
        of.accept(*value).map_err(|e| Refusal::invalid(of.id, e))?;
    }
    if calibration.values.is_empty() {
        return Err(Refusal::invalid("values", text::TextProblem::Missing));
    }
    text::optional(&calibration.piece, text::LONGEST_NAME).map_err(|e| Refusal::invalid("piece", e))
}

/// The same part fitted new at the same hours: one of the two entries is enough.
fn fitted_once(log: &[MachineEntry], part: &str, hours: f64) -> Result<(), Refusal> {
    let last = log.iter().rev().find_map(|e| match e.event.what() {
        MachineEvent::Fitted { part: p, hours, .. } if p == part => Some(*hours),
        _ => None,
    });
    match last == Some(hours) {
        true => Err(NotNow::FittedAlready.into()),
        false => Ok(()),
    }
}
