//! The measuring bench: what is read with calipers, a thermometer, a meter, by eye or ear, what
//! follows from it with which uncertainty, and which suspects it speaks for.
//!
//! One interface for all measures ([`Measure`]), one file each, in folders by what they are about.
//! Uncertainties are one standard deviation. What looks like a slip is asked about, and as long as
//! it is, the reading says nothing about anybody.

mod bench;
mod card;
mod csv;
mod formula;
mod gauge;
mod given;
mod handoff;
mod input;
pub(crate) mod maths;
mod out;
mod refused;
mod request;
pub mod signals;
pub mod slips;
mod sources;
mod spectrum;
mod usual;

mod bed;
mod costs;
mod heat;
mod layers;
mod motion;
mod photo;
mod plastic;
mod size;
mod sound;
mod stock;
mod z;

pub use bench::Bench;
pub use card::{Card, Hold};
pub use csv::{Trace, read_trace};
pub use formula::{Formula, Piece, against, by_name, formulas};
pub use gauge::{Asked, Gauge, ReadingProblem, Readings, Told, gauge, gauges};
pub use given::{Given, Raw};
pub use handoff::{Reading, answers, holds, stem_and_unit, uncertainty, weights, with_reading};
pub use input::{Input, Kind, Unit};
pub use out::{Likelihoods, Out, Output};
pub use refused::Refused;
pub use request::{Inputs, answer};
pub use usual::density_of;

use crate::nearest::hint;

/// Most readings of one list: a temperature trace of an hour at several a second.
pub const MOST_READINGS: usize = 20_000;

/// Longest word a log keeps of a reading: recordings and pictures stay where they are.
pub const LONGEST_WORD: usize = 200;

/// A measure of the bench.
#[derive(Debug)]
pub struct Measure {
    /// Identifier; of the check it answers, where it answers one.
    pub id: &'static str,
    /// What it tells.
    pub plain: &'static str,
    /// What it is not meant to show.
    pub not: &'static str,
    /// What to mind while reading; empty where there is nothing.
    pub safety: &'static str,
    /// What the bench shows beside its numbers.
    pub card: Card,
    /// What it asks for, in order.
    pub inputs: &'static [Input],
    reckon: fn(&'static str, &Given, &mut Out) -> Result<(), Refused>,
}

impl Measure {
    /// Reads what was given and reckons what follows.
    ///
    /// # Errors
    /// In one line: which input, which value, what would do.
    pub fn reckon(&self, raw: &Inputs) -> Result<Out, Refused> {
        let mut out = self.reckon_confirmed(raw)?;
        if out.slipped {
            out.findings.clear();
            out.finer = None;
        }
        Ok(out)
    }

    /// As [`reckon`](Self::reckon), when a person has said that it is so: what looked like a slip
    /// counts.
    ///
    /// # Errors
    /// As there.
    pub fn reckon_confirmed(&self, raw: &Inputs) -> Result<Out, Refused> {
        let given = Given::read(self.id, self.inputs, raw)?;
        let mut out = Out {
            warnings: given.notes.clone(),
            ..Out::default()
        };
        (self.reckon)(self.id, &given, &mut out)?;
        let finite = |o: &Output| match o {
            Output::Number(v) => v.is_finite(),
            Output::Numbers(all) => all.iter().all(|v| v.is_finite()),
            Output::Word(_) | Output::Words(_) => true,
        };
        if !out.outputs.iter().all(|(_, o)| finite(o)) {
            let ids: Vec<&str> = raw.keys().map(String::as_str).collect();
            return refused::refuse(format!(
                "these numbers make no sense together: {}",
                ids.join(", ")
            ));
        }
        Ok(out)
    }

    /// An input by its identifier.
    pub fn input(&self, id: &str) -> Option<&'static Input> {
        self.inputs.iter().find(|i| i.id == id)
    }
}

/// Every measure, by what it is about.
pub fn measures() -> impl Iterator<Item = &'static Measure> {
    [
        plastic::ALL,
        z::ALL,
        motion::ALL,
        bed::ALL,
        size::ALL,
        heat::ALL,
        layers::ALL,
        costs::ALL,
        stock::ALL,
        sound::ALL,
        photo::ALL,
    ]
    .into_iter()
    .flatten()
}

/// Checks that a measure of another name answers.
const ANSWERS: [(&str, &str); 2] = [
    ("mesh-readout", "tram"),
    ("paper-at-points", "first-layer-thickness"),
];

/// The measure that answers a check.
pub fn for_check(check: &str) -> Option<&'static Measure> {
    let other = ANSWERS.iter().find(|(c, _)| *c == check);
    let id = other.map_or(check, |(_, id)| id);
    measures().find(|m| m.id == id)
}

/// A measure by its identifier.
///
/// # Errors
/// When there is none, with the most alike.
pub fn measure(id: &str) -> Result<&'static Measure, Refused> {
    let found = measures().find(|m| m.id == id);
    found.ok_or_else(|| {
        let near = hint(id, measures().map(|m| m.id));
        Refused(format!(
            "`{}` is no measure{near}",
            crate::nearest::short(id)
        ))
    })
}
