//! What each rule is given.

use crate::learning::proof;
use serde::Deserialize;
use serde::de::DeserializeOwned;
use serde_json::Value;
use std::collections::BTreeMap;

/// Why a rule is not answered.
pub struct Refused(pub String);

/// Prints, cases and strikes are not counted beyond.
const MOST: f64 = 100_000.0;

/// Reads what a rule is given.
pub fn read<T: DeserializeOwned>(given: &Value) -> Result<T, String> {
    serde_path_to_error::deserialize(given).map_err(|e| format!("`{}`: {}", e.path(), e.inner()))
}

/// Name of a field, for messages.
pub type Field = &'static str;

/// A number within bounds.
pub fn bounded(field: Field, value: f64, low: f64, high: f64) -> Result<f64, Refused> {
    match (low..=high).contains(&value) {
        true => Ok(value),
        false => Err(Refused(format!(
            "`{field}`: {value} does not lie between {low} and {high}"
        ))),
    }
}

/// A chance.
pub fn fraction(field: Field, value: f64) -> Result<f64, Refused> {
    bounded(field, value, 0.0, 1.0)
}

/// A whole number from `low` on.
pub fn whole(field: Field, value: f64, low: f64) -> Result<u32, Refused> {
    let value = bounded(field, value, low, MOST)?;
    match value.fract() == 0.0 {
        true => Ok(value as u32),
        false => Err(Refused(format!("`{field}`: {value} is no whole number"))),
    }
}

/// Weights of causes: none below nothing, and some above it.
pub fn weights(field: Field, book: &BTreeMap<String, f64>) -> Result<(), Refused> {
    for weight in book.values() {
        bounded(field, *weight, 0.0, 1e9)?;
    }
    match book.values().any(|w| *w > 0.0) {
        true => Ok(()),
        false => Err(Refused(format!("`{field}`: no cause has any weight"))),
    }
}

/// Names as numbers, in the order they come.
#[derive(Default)]
pub struct Numbers(BTreeMap<String, u32>);

impl Numbers {
    /// The number of a name.
    pub fn of(&mut self, name: &str) -> u32 {
        let next = self.0.len() as u32;
        *self.0.entry(name.to_string()).or_insert(next)
    }
}

#[derive(Deserialize)]
pub struct Strikes {
    k: f64,
    n: f64,
    clean_before: Option<f64>,
    #[serde(default)]
    every: bool,
}

impl Strikes {
    pub fn read(&self) -> Result<proof::Strikes, Refused> {
        let (k, n) = (
            whole("strikes.k", self.k, 1.0)?,
            whole("strikes.n", self.n, 1.0)?,
        );
        if k > n {
            return Err(Refused(format!("`strikes`: {k} strikes in {n} prints")));
        }
        let clean = self
            .clean_before
            .map(|c| whole("strikes.clean_before", c, 0.0));
        Ok(proof::Strikes {
            k,
            n,
            clean_before: clean.transpose()?,
            every: self.every,
        })
    }
}

#[derive(Deserialize)]
pub struct Proof {
    pub strikes: Strikes,
    cures: Option<f64>,
}

impl Proof {
    pub fn cures(&self) -> Result<f64, Refused> {
        fraction("cures", self.cures.unwrap_or(0.9))
    }
}

#[derive(Deserialize)]
pub struct Shares {
    pub strikes: Strikes,
    pub latest_h: f64,
    pub seen: f64,
    pub prints_h: Vec<f64>,
}

#[derive(Deserialize)]
pub struct Hours {
    pub strikes: f64,
    pub hours: f64,
    pub cures: Option<f64>,
}

#[derive(Deserialize)]
pub struct Improved {
    pub strikes: Strikes,
    pub after: [f64; 2],
}

#[derive(Deserialize)]
pub struct Clean {
    pub strikes: Strikes,
    pub clean: f64,
    pub k: f64,
}

#[derive(Deserialize)]
pub struct Back {
    pub strikes: Strikes,
    pub clean: f64,
    pub day: f64,
    pub since: f64,
    pub rate: f64,
    pub k: f64,
}

#[derive(Deserialize)]
pub struct Hold {
    pub shop: Vec<(f64, bool)>,
    pub own: Vec<(f64, bool)>,
}

#[derive(Deserialize)]
pub struct Credit {
    pub book: BTreeMap<String, f64>,
    pub recorded: String,
}

#[derive(Deserialize)]
pub struct Rates {
    pub book: BTreeMap<String, f64>,
    pub machine: String,
    pub kind: String,
    pub cases: Vec<RateCase>,
    #[serde(default)]
    pub dangerous: Vec<String>,
}

#[derive(Deserialize)]
pub struct RateCase {
    pub machine: String,
    pub kind: String,
    pub book: BTreeMap<String, f64>,
    pub recorded: String,
    pub outcome: String,
    #[serde(default)]
    pub days: f64,
    pub credit: f64,
    pub proven: Option<bool>,
}

#[derive(Deserialize)]
pub struct Cures {
    pub k: f64,
    pub uses: Vec<(f64, f64)>,
}

#[derive(Deserialize)]
pub struct Link {
    pub states: BTreeMap<String, f64>,
    pub seen: BTreeMap<String, f64>,
}

#[derive(Deserialize)]
pub struct Wear {
    pub usual: f64,
    #[serde(default)]
    pub ended: Vec<f64>,
    #[serde(default)]
    pub running: Vec<f64>,
    pub t: Option<f64>,
}

#[derive(Deserialize)]
pub struct Stock {
    pub a: f64,
    pub b: f64,
    pub machines: Vec<(f64, f64)>,
    pub weeks: f64,
}

#[derive(Deserialize)]
pub struct Calibration {
    pub leaders: Vec<(f64, f64)>,
}

#[derive(Deserialize)]
pub struct Rests {
    pub pairs: Vec<((f64, f64), f64)>,
    #[serde(default)]
    pub resting: bool,
}

#[derive(Deserialize)]
pub struct Spent {
    pub pairs: Vec<(f64, f64)>,
}
