//! The answer to a request, by names.

use super::ladder::Best;
use serde::Serialize;
use std::collections::BTreeMap;

/// The answer.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(untagged)]
pub enum Answer {
    /// Of a plan.
    Plan(Box<PlanAnswer>),
    /// Of a ladder.
    Ladder(Best),
}

/// What is known of a plan, and what to print next.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct PlanAnswer {
    /// None of the list.
    pub elsewhere: f64,
    /// It comes and goes by itself.
    pub comes_and_goes: f64,
    /// The likeliest hypotheses.
    pub top: Vec<Told>,
    /// Sums of the kinds.
    pub sums: Sums,
    /// The probability that the fault is gone when only this unit is put back.
    pub cures_alone: BTreeMap<String, f64>,
    /// The leading verdict.
    pub verdict: ToldVerdict,
    /// How far "it comes and goes" has risen, dB.
    pub contradiction_db: f64,
    /// What the pieces say of each cause asked for, dB.
    pub case_decibans: BTreeMap<String, f64>,
    /// Living with it against going on.
    pub work_around: ToldWorkAround,
    /// The next piece; nothing when the verdict is proven.
    pub next: Option<ToldNext>,
}

/// A hypothesis with its probability.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Told {
    /// The hypothesis.
    #[serde(flatten)]
    pub hypothesis: ToldHypothesis,
    /// Its probability.
    pub p: f64,
}

/// A hypothesis by the names of its units.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum ToldHypothesis {
    /// One alone.
    Alone(String),
    /// Two of their own, half a cure hidden.
    SeparateHidden([String; 2]),
    /// Two of their own, half a cure seen.
    SeparateSeen([String; 2]),
    /// Two together.
    Together([String; 2]),
}

/// Sums of the kinds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Sums {
    /// One alone.
    pub alone: f64,
    /// Two together.
    pub together: f64,
    /// Two of their own.
    pub separate: f64,
}

/// The verdict by names.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ToldVerdict {
    /// `set`, `elsewhere`, `comes and goes`, `together`.
    pub kind: &'static str,
    /// The units.
    pub units: Vec<String>,
    /// Its probability.
    pub p: f64,
    /// `open`, `owes a piece`, `proven`.
    pub state: &'static str,
    /// What is old in the piece that is owed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub piece: Option<Vec<String>>,
}

/// Living with it against going on.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ToldWorkAround {
    /// What would be left old.
    pub old: Vec<String>,
    /// Its price, counted minutes.
    pub price_minutes: f64,
    /// What going on costs.
    pub going_on_minutes: f64,
    /// Whether living with it is cheaper.
    pub stop: bool,
}

/// The next piece by names.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ToldNext {
    /// What is old in it.
    pub old: Vec<String>,
    /// Expected minutes to the end.
    pub expected_minutes: f64,
    /// Bits about the hypotheses.
    pub information_bits: f64,
}
