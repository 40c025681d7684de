//! Checks whose outcome is a reading: the measure that answers one, filled with what the case
//! knows.
//!
//! A reading with its uncertainty is a likelihood, never a verdict: a step of 4.0 ± 0.1 mm fits
//! tooth jumps and whole motor cycles alike.

use super::handoff::weights;
use super::out::Out;
use super::{Input, Inputs, Kind, Measure, Raw, Refused, measures};
use crate::evidence::{Answer, Facts};
use crate::knowledge::{FindingId, Knowledge, MOST_STATES};
use crate::nearest::short;
use crate::settings::{Number, NumberProblem};
use std::collections::BTreeMap;
use std::sync::LazyLock;

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
    /// More or fewer numbers than make sense.
    #[error("{plain} takes {least} to {most} numbers, but {many} were given")]
    Many {
        /// What it is called.
        plain: &'static str,
        /// Least that are taken.
        least: usize,
        /// Most that are taken.
        most: usize,
        /// How many were given.
        many: usize,
    },
    /// The number makes no sense.
    #[error(transparent)]
    Number(#[from] NumberProblem),
    /// The numbers make no sense together.
    #[error("{0}")]
    Together(String),
}

/// Numbers as read, by input.
pub type Readings = BTreeMap<String, Vec<f64>>;

/// What was read at a check.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Told {
    /// The numbers.
    pub readings: Readings,
    /// Somebody has said that it is so, though it looked like a slip.
    pub confirmed: bool,
}

/// One number a check asks for.
#[derive(Debug)]
pub struct Asked {
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
    /// Fewest and most readings taken.
    bounds: (usize, usize),
}

/// A check whose outcome is read as numbers.
#[derive(Debug)]
pub struct Gauge {
    /// The check, by identifier.
    pub check: &'static str,
    /// The measure that answers it.
    pub measure: &'static Measure,
    /// The numbers asked for, in order.
    pub inputs: Vec<Asked>,
}

/// Checks that are read as numbers: those with a measure of their name that speaks of all their
/// outcomes and takes no more than a hand can write down.
const CHECKS: [&str; 21] = [
    "shift-size",
    "wall-thickness",
    "extruder-steps-free",
    "extruder-steps-hot",
    "measure-filament",
    "ripple-two-speeds",
    "chamber-watts",
    "z-travel",
    "axis-motor-heat",
    "feeder-heat",
    "driver-heat",
    "probe-repeat",
    "band-spacing",
    "rib-spacing",
    "belt-pluck",
    "chamber-two-sensors",
    "second-thermometer",
    "diagonals",
    "round-four-ways",
    "top-layers-count",
    "witness-marks",
];

static GAUGES: LazyLock<Vec<Gauge>> = LazyLock::new(|| {
    let found = CHECKS
        .iter()
        .filter_map(|c| measures().find(|m| m.id == *c));
    found.map(Gauge::of).collect()
});

/// All gauges.
pub fn gauges() -> &'static [Gauge] {
    &GAUGES
}

/// The gauge of a check, when its outcome is a number.
pub fn gauge(check: &str) -> Option<&'static Gauge> {
    GAUGES.iter().find(|g| g.check == check)
}

impl Asked {
    /// A number asked for; nothing for words, which the case gives.
    fn of(input: &'static Input) -> Option<Self> {
        let (readings, bounds) = match input.kind {
            Kind::Number | Kind::Whole => (1, (1, 1)),
            Kind::Readings(asked, least, most) => (asked, (least, most)),
            Kind::Choice(_) | Kind::Text => return None,
        };
        let (min, max) = input.range;
        Some(Self {
            number: Number {
                id: input.id,
                plain: input.plain,
                unit: input.unit.shown(),
                min,
                max,
                step: if input.kind == Kind::Whole { 1.0 } else { 0.01 },
            },
            setting: input.setting,
            usual: input.usual,
            readings,
            optional: !input.needed,
            bounds,
        })
    }

    fn accept(&self, given: &[f64]) -> Result<(), ReadingProblem> {
        let plain = self.number.plain;
        if given.is_empty() {
            return match self.optional {
                true => Ok(()),
                false => Err(ReadingProblem::Missing { plain }),
            };
        }
        let ((least, most), many) = (self.bounds, given.len());
        if !(least..=most).contains(&many) {
            return Err(ReadingProblem::Many {
                plain,
                least,
                most,
                many,
            });
        }
        for value in given {
            self.number.accept(*value)?;
        }
        Ok(())
    }
}

impl Gauge {
    fn of(measure: &'static Measure) -> Self {
        Self {
            check: measure.id,
            measure,
            inputs: measure.inputs.iter().filter_map(Asked::of).collect(),
        }
    }

    /// An input by its identifier.
    pub fn input(&self, id: &str) -> Option<&Asked> {
        self.inputs.iter().find(|i| i.number.id == id)
    }

    /// Checks that the readings are there and make sense, each and together.
    ///
    /// # Errors
    /// The input and what is wrong with it.
    pub fn accept(
        &self,
        knowledge: &Knowledge,
        facts: &Facts,
        readings: &Readings,
    ) -> Result<(), (String, ReadingProblem)> {
        if let Some(id) = readings.keys().find(|id| self.input(id).is_none()) {
            let problem = ReadingProblem::NoReading {
                given: short(id),
                check: self.check,
            };
            return Err((id.clone(), problem));
        }
        for input in &self.inputs {
            let id = input.number.id;
            let given = readings.get(id).map_or(&[][..], Vec::as_slice);
            let accepted = input.accept(given);
            accepted.map_err(|problem| (id.to_string(), problem))?;
        }
        let raw = self.filled(knowledge, facts, readings);
        match self.measure.reckon(&raw) {
            Ok(_) => Ok(()),
            Err(refused) => Err(self.beside(&refused)),
        }
    }

    /// A refusal beside the field it names, in the words of the field.
    fn beside(&self, refused: &Refused) -> (String, ReadingProblem) {
        let (named, plain) = refused.in_words(|id| Some(self.input(id)?.number.plain));
        let field = named.unwrap_or_else(|| self.inputs[0].number.id.to_string());
        (field, ReadingProblem::Together(plain))
    }

    /// The readings with what the case knows of the rest: its numbers, its machine and material,
    /// what was answered.
    fn filled(&self, knowledge: &Knowledge, facts: &Facts, readings: &Readings) -> Inputs {
        let mut raw = Inputs::new();
        for input in self.measure.inputs {
            let read = readings.get(input.id).filter(|all| !all.is_empty());
            let value = match read {
                Some(all) => Some(Raw::List(all.iter().map(|v| Raw::Number(*v)).collect())),
                None => input
                    .setting
                    .and_then(|s| known(knowledge, facts, input, s)),
            };
            if let Some(value) = value {
                raw.insert(input.id.to_string(), value);
            }
        }
        raw
    }

    /// What follows from the readings.
    ///
    /// # Errors
    /// As [`Gauge::accept`].
    pub fn reckon(
        &self,
        knowledge: &Knowledge,
        facts: &Facts,
        told: &Told,
    ) -> Result<Out, Refused> {
        let raw = self.filled(knowledge, facts, &told.readings);
        match told.confirmed {
            true => self.measure.reckon_confirmed(&raw),
            false => self.measure.reckon(&raw),
        }
    }

    /// The answer that readings give: a likelihood for each outcome, alike while a slip is
    /// suspected. Nothing when they make no sense.
    pub fn answer(
        &self,
        knowledge: &Knowledge,
        facts: &Facts,
        finding: FindingId,
        told: &Told,
    ) -> Option<Answer> {
        self.accept(knowledge, facts, &told.readings).ok()?;
        let out = self.reckon(knowledge, facts, told).ok()?;
        let alike = || {
            let states = knowledge.finding(finding).states.len();
            let mut alike = [0.0; MOST_STATES];
            alike[..states].fill(1.0 / states as f64);
            alike
        };
        let said = weights(knowledge, self.measure, &out, finding);
        Some(Answer::Read(said.unwrap_or_else(alike)))
    }
}

/// What a case knows of an input, where it fits.
pub(super) fn known(
    knowledge: &Knowledge,
    facts: &Facts,
    input: &Input,
    name: &str,
) -> Option<Raw> {
    let Kind::Choice(of) = input.kind else {
        let value = facts.settings.named(name)?;
        let (low, high) = input.range;
        return (low..=high).contains(&value).then_some(Raw::Number(value));
    };
    let answered = || {
        let finding = knowledge.finding_id(name)?;
        let sighting = facts.findings.get(&finding)?;
        Some(sighting.answer.id(knowledge, finding).to_string())
    };
    let word = facts
        .context
        .named(name)
        .map(str::to_string)
        .or_else(answered)?;
    of.contains(&word.as_str()).then_some(Raw::Text(word))
}
