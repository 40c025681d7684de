//! Checks whose outcome is read from an instrument: a number that fits what is found.

use suspect_core::evidence::{Answer, Facts};
use suspect_core::knowledge::{CheckId, Knowledge};
use suspect_core::measures::{Asked, Gauge, Told, gauge};

/// Numbers tried between the least and the greatest that make sense.
const TRIED: usize = 160;
/// An outcome fits a reading that gives it so much of the weight.
const FITS: f64 = 0.6;
/// A reading is right within so much of the number, or within the instrument's step.
const WITHIN: f64 = 0.02;

/// What an instrument shows.
#[derive(Debug, Clone, PartialEq)]
pub struct Reading {
    /// The input of the measure.
    pub input: &'static str,
    /// What is measured: "thickness of the wall".
    pub plain: &'static str,
    /// Its unit: "mm", "°C", "Hz".
    pub unit: &'static str,
    /// What it is.
    pub value: f64,
    /// The finest the instrument shows.
    pub step: f64,
}

impl Reading {
    /// Whether a number is what the instrument shows.
    pub fn is(&self, read: f64) -> bool {
        (read - self.value).abs() <= (self.value.abs() * WITHIN).max(self.step) + 1e-9
    }
}

/// The one number that a gauge cannot do without, where there is one.
fn sole(gauge: &Gauge) -> Option<&Asked> {
    let bare = |i: &&Asked| i.usual.is_none();
    let mut needed = gauge.inputs.iter().filter(bare).filter(|i| !i.optional);
    match (needed.next(), needed.next()) {
        (Some(one), None) => Some(one),
        (None, _) => gauge.inputs.iter().find(bare),
        _ => None,
    }
}

/// What the instrument of a check shows where it finds a state; nothing where its outcome is no
/// number, or none was found that fits.
pub(super) fn reading(
    knowledge: &Knowledge,
    facts: &Facts,
    check: CheckId,
    (state, chance): (usize, f64),
) -> Option<Reading> {
    let gauge = gauge(knowledge.check_name(check))?;
    let input = sole(gauge)?;
    let (min, max) = (input.number.min, input.number.max);
    let step: f64 = if input.number.step >= 1.0 { 1.0 } else { 0.01 };
    let low = if min > 0.0 {
        min
    } else {
        f64::max(step, max / 1e4)
    };
    let value = |n: usize| {
        let share = n as f64 / (TRIED - 1) as f64;
        let value: f64 = low * (max / low).powf(share);
        (value / step).round() * step
    };
    let finding = knowledge.check(check).finding;
    let fits = |v: &f64| {
        let readings = vec![*v; input.readings.max(1)];
        let told = Told {
            readings: [(input.number.id.to_string(), readings)].into(),
            confirmed: true,
        };
        match gauge.answer(knowledge, facts, finding, &told) {
            Some(Answer::Read(weights)) => weights[state] >= FITS * weights.iter().sum::<f64>(),
            _ => false,
        }
    };
    let fitting: Vec<f64> = (0..TRIED).map(value).filter(fits).collect();
    let at = (chance * fitting.len() as f64) as usize;
    let value = *fitting.get(at.min(fitting.len().saturating_sub(1)))?;
    Some(Reading {
        input: input.number.id,
        plain: input.number.plain,
        unit: input.number.unit,
        value,
        step,
    })
}
