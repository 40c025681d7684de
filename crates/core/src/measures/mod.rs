//! Checks whose outcome is a number: what is read, what follows from it, and how likely the reading
//! is under each outcome.
//!
//! A reading with its uncertainty is a likelihood, never a verdict: a step of 4.0 ± 0.1 mm fits
//! tooth jumps and whole motor cycles alike. One file per kind of reading.

mod density;
mod feed;
mod filament;
mod heat;
mod probe;
mod ripples;
mod slip;
mod step_size;
mod wall;
mod watts;
mod z_travel;

use crate::evidence::{Answer, Facts};
use crate::knowledge::{FindingId, Knowledge, MOST_STATES};
use crate::nearest::short;
use crate::settings::{Number, NumberProblem};
use std::collections::BTreeMap;

/// Share of readings that say nothing because something else went wrong: the wrong thing measured,
/// a number misread.
const MISREAD: f64 = 0.02;

/// Most readings of one input.
const MOST_READINGS: usize = 20;

/// What is wrong with a reading.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum ReadingProblem {
    /// The check asks for no such reading.
    #[error("`{given}` is no reading of `{check}`")]
    NoReading {
        /// What was given, cut short.
        given: String,
        /// The check.
        check: &'static str,
    },
    /// It was not given.
    #[error("{plain} is missing")]
    Missing {
        /// What it is called.
        plain: &'static str,
    },
    /// More numbers than are asked for.
    #[error("{many} numbers are too many for {plain}")]
    TooMany {
        /// What it is called.
        plain: &'static str,
        /// How many.
        many: usize,
    },
    /// The number makes no sense.
    #[error(transparent)]
    Number(#[from] NumberProblem),
}

/// One number that is read.
#[derive(Debug)]
pub struct Input {
    /// Name, unit and range.
    pub number: Number,
    /// A setting of the case that gives it when it is known there.
    pub setting: Option<&'static str>,
    /// What is usual, filled in when nothing is known.
    pub usual: Option<f64>,
    /// Readings asked for; 1 for a single number.
    pub readings: usize,
    /// Whether it may be left out.
    pub optional: bool,
}

/// Numbers as read, by input.
pub type Readings = BTreeMap<String, Vec<f64>>;

/// What follows from the readings.
#[derive(Debug, Clone, PartialEq)]
pub struct Reckoned {
    /// The result with its uncertainty: "4.0 ± 0.1 mm".
    pub result: String,
    /// The formula with the numbers put in, and what it says.
    pub lines: Vec<String>,
    /// What looks like a slip or asks for care; recorded only when confirmed.
    pub warnings: Vec<String>,
    /// P(reading | outcome), by outcome's identifier, up to a common factor.
    pub likelihood: Vec<(&'static str, f64)>,
}

/// A check whose outcome is read as numbers.
#[derive(Debug)]
pub struct Gauge {
    /// The check, by identifier.
    pub check: &'static str,
    /// The numbers asked for, in order.
    pub inputs: &'static [Input],
    reckon: fn(&Read) -> Reckoned,
}

/// All gauges.
pub const GAUGES: [Gauge; 12] = [
    step_size::GAUGE,
    wall::GAUGE,
    feed::FREE,
    feed::HOT,
    filament::GAUGE,
    ripples::GAUGE,
    watts::GAUGE,
    z_travel::GAUGE,
    heat::AXIS,
    heat::FEEDER,
    heat::DRIVER,
    probe::GAUGE,
];

/// The gauge of a check, when its outcome is a number.
pub fn gauge(check: &str) -> Option<&'static Gauge> {
    GAUGES.iter().find(|g| g.check == check)
}

/// Readings with the case they belong to.
struct Read<'a> {
    readings: &'a Readings,
    facts: &'a Facts,
    knowledge: &'a Knowledge,
}

impl Read<'_> {
    fn all(&self, id: &str) -> &[f64] {
        self.readings.get(id).map_or(&[], Vec::as_slice)
    }

    fn one(&self, id: &str) -> f64 {
        self.given(id).unwrap_or(f64::NAN)
    }

    /// A single number, where it was given.
    fn given(&self, id: &str) -> Option<f64> {
        self.all(id).first().copied()
    }

    /// Whether a finding of the case shows a state.
    fn shows(&self, finding: &str, state: &str) -> bool {
        let Some(f) = self.knowledge.finding_id(finding) else {
            return false;
        };
        self.facts
            .findings
            .get(&f)
            .is_some_and(|s| s.answer.id(self.knowledge, f) == state)
    }
}

impl Gauge {
    /// An input by its identifier.
    pub fn input(&self, id: &str) -> Option<&'static Input> {
        self.inputs.iter().find(|i| i.number.id == id)
    }

    /// Checks that the readings are there and make sense.
    ///
    /// # Errors
    /// The input and what is wrong with it.
    pub fn accept(&self, readings: &Readings) -> Result<(), (String, ReadingProblem)> {
        if let Some(id) = readings.keys().find(|id| self.input(id).is_none()) {
            let problem = ReadingProblem::NoReading {
                given: short(id),
                check: self.check,
            };
            return Err((id.clone(), problem));
        }
        for input in self.inputs {
            let id = input.number.id;
            let given = readings.get(id).map_or(&[][..], Vec::as_slice);
            self.accept_one(input, given)
                .map_err(|problem| (id.to_string(), problem))?;
        }
        Ok(())
    }

    fn accept_one(&self, input: &Input, given: &[f64]) -> Result<(), ReadingProblem> {
        let plain = input.number.plain;
        if given.is_empty() && input.optional {
            return Ok(());
        }
        if given.is_empty() {
            return Err(ReadingProblem::Missing { plain });
        }
        if given.len() > MOST_READINGS || (input.readings == 1 && given.len() > 1) {
            return Err(ReadingProblem::TooMany {
                plain,
                many: given.len(),
            });
        }
        for value in given {
            input.number.accept(*value)?;
        }
        Ok(())
    }

    /// What follows from readings that were accepted.
    pub fn reckon(&self, knowledge: &Knowledge, facts: &Facts, readings: &Readings) -> Reckoned {
        (self.reckon)(&Read {
            readings,
            facts,
            knowledge,
        })
    }

    /// The answer that readings give: a likelihood for each outcome. Nothing when they make no
    /// sense.
    pub fn answer(
        &self,
        knowledge: &Knowledge,
        facts: &Facts,
        finding: FindingId,
        readings: &Readings,
    ) -> Option<Answer> {
        self.accept(readings).ok()?;
        let reckoned = self.reckon(knowledge, facts, readings);
        let states = &knowledge.finding(finding).states;
        let of = |id: &str| {
            reckoned
                .likelihood
                .iter()
                .find(|(state, _)| *state == id)
                .map_or(0.0, |(_, l)| *l)
        };
        let total: f64 = states.iter().map(|s| of(&s.id)).sum();
        let mut weights = [0.0; MOST_STATES];
        for (weight, state) in weights.iter_mut().zip(states) {
            let share = if total > 0.0 && total.is_finite() {
                of(&state.id) / total
            } else {
                1.0 / states.len() as f64
            };
            *weight = (1.0 - MISREAD) * share + MISREAD / states.len() as f64;
        }
        Some(Answer::Read(weights))
    }
}

const fn input(
    id: &'static str,
    plain: &'static str,
    unit: &'static str,
    range: (f64, f64),
    usual: Option<f64>,
    readings: usize,
) -> Input {
    Input {
        number: Number {
            id,
            plain,
            unit,
            min: range.0,
            max: range.1,
            step: 0.01,
        },
        setting: None,
        usual,
        readings,
        optional: false,
    }
}

/// An input that may be left out.
const fn optional(input: Input) -> Input {
    Input {
        number: input.number,
        setting: input.setting,
        usual: input.usual,
        readings: input.readings,
        optional: true,
    }
}

const fn from_setting(input: Input, setting: &'static str) -> Input {
    Input {
        number: input.number,
        setting: Some(setting),
        usual: input.usual,
        readings: input.readings,
        optional: input.optional,
    }
}

/// Mean and standard deviation of readings; the deviation of a single one is 0.
fn mean_and_spread(readings: &[f64]) -> (f64, f64) {
    let n = readings.len() as f64;
    let mean = readings.iter().sum::<f64>() / n;
    let spread = if readings.len() < 2 {
        0.0
    } else {
        (readings.iter().map(|r| (r - mean).powi(2)).sum::<f64>() / (n - 1.0)).sqrt()
    };
    (mean, spread)
}

/// A number for people: two decimals at most, none that say nothing.
fn shown(value: f64) -> String {
    let text = format!("{value:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_string()
}
