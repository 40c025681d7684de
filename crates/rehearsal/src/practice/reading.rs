//! Checks whose outcome is read from an instrument: a number that fits what is found.

use suspect_core::evidence::{Answer, Facts};
use suspect_core::knowledge::{CheckId, Knowledge};
use suspect_core::measures::{Told, gauge};

/// What is read at a check: the input, the numbers one meets there, what is known beside it.
struct Instrument {
    check: &'static str,
    input: &'static str,
    within: (f64, f64),
    beside: &'static [(&'static str, f64)],
}

const fn instrument(
    check: &'static str,
    input: &'static str,
    within: (f64, f64),
    beside: &'static [(&'static str, f64)],
) -> Instrument {
    Instrument {
        check,
        input,
        within,
        beside,
    }
}

/// Checks that are read from an instrument in practice.
const INSTRUMENTS: [Instrument; 12] = [
    instrument("shift-size", "step_mm", (0.4, 9.0), &[]),
    instrument("wall-thickness", "wall_mm", (0.35, 1.3), &[]),
    instrument("extruder-steps-free", "remaining_mm", (5.0, 45.0), &[]),
    instrument("extruder-steps-hot", "remaining_mm", (5.0, 45.0), &[]),
    instrument("measure-filament", "diameter_mm", (1.55, 1.95), &[]),
    instrument("z-travel", "travelled_mm", (45.0, 55.0), &[]),
    instrument("axis-motor-heat", "case_c", (28.0, 98.0), &[]),
    instrument("feeder-heat", "case_c", (28.0, 98.0), &[]),
    instrument("driver-heat", "case_c", (28.0, 115.0), &[]),
    instrument("rib-spacing", "span_mm", (0.4, 20.0), &[]),
    instrument(
        "belt-pluck",
        "tone_hz",
        (20.0, 160.0),
        &[("span_mm", 400.0)],
    ),
    instrument(
        "second-thermometer",
        "other_c",
        (170.0, 250.0),
        &[("shown_c", 210.0)],
    ),
];
/// Numbers tried among those one meets.
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
    /// What is known beside it: "free length", 400, "mm".
    pub beside: Vec<(&'static str, f64, &'static str)>,
}

impl Reading {
    /// Whether a number is what the instrument shows.
    pub fn is(&self, read: f64) -> bool {
        (read - self.value).abs() <= (self.value.abs() * WITHIN).max(self.step) + 1e-9
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
    let id = knowledge.check_name(check);
    let known = INSTRUMENTS.iter().find(|i| i.check == id)?;
    let gauge = gauge(id)?;
    let input = gauge.input(known.input)?;
    let step: f64 = if known.within.1 > 12.0 { 0.1 } else { 0.01 };
    let value = |n: usize| {
        let (low, high) = known.within;
        let value = low + (high - low) * n as f64 / (TRIED - 1) as f64;
        (value / step).round() * step
    };
    let finding = knowledge.check(check).finding;
    let fits = |v: &f64| {
        let beside = known
            .beside
            .iter()
            .map(|(id, v)| (id.to_string(), vec![*v]));
        let own = (known.input.to_string(), vec![*v; input.readings.max(1)]);
        let told = Told {
            readings: beside.chain([own]).collect(),
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
    let beside = known.beside.iter().filter_map(|(id, v)| {
        let number = &gauge.input(id)?.number;
        Some((number.plain, *v, number.unit))
    });
    Some(Reading {
        input: input.number.id,
        plain: input.number.plain,
        unit: input.number.unit,
        value: (value / step).round() / (1.0 / step).round(),
        step,
        beside: beside.collect(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_instrument_shows_a_number_that_speaks_for_what_is_found() {
        let k = Knowledge::shipped();
        let mut units = Vec::new();
        for known in INSTRUMENTS {
            let check = k.check_id(known.check).unwrap();
            let states = k.finding(k.check(check).finding).states.len();
            let all =
                (0..states).filter_map(|state| reading(&k, &Facts::default(), check, (state, 0.5)));
            let all: Vec<Reading> = all.collect();
            assert!(all.len() > 1, "{}: {all:?}", known.check);
            for r in all {
                assert!(r.is(r.value) && !r.is(r.value * 10.0), "{r:?}");
                units.push(r.unit);
            }
        }
        for unit in ["mm", "°C", "Hz"] {
            assert!(units.contains(&unit), "{unit}: {units:?}");
        }
    }
}
