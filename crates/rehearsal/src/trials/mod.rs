//! Trials rehearsed: drawn situations solved by the plan, by halving and one at a time, with the
//! same luck in what is guilty.

mod situation;
mod ways;

pub use situation::Kind;

use crate::{in_threads, seeded};
use serde::Serialize;
use situation::Situation;
use std::num::NonZeroUsize;

/// What is rehearsed.
#[derive(Debug, Clone)]
pub struct Options {
    /// Differences of each list.
    pub differences: usize,
    /// Chance of a slip.
    pub noise: f64,
    /// Situations drawn of each kind.
    pub runs: usize,
    /// The same seed draws the same situations.
    pub seed: u64,
    /// Threads to use; the result does not depend on it.
    pub threads: NonZeroUsize,
}

/// How one way did on one kind.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Result {
    /// How the list was guilty.
    pub kind: Kind,
    /// `plan`, `halving`, `one-at-a-time`.
    pub way: &'static str,
    /// Pieces on average.
    pub mean_trials: f64,
    /// Nine of ten took at most so many.
    pub p90_trials: u32,
    /// Share that ended with what is guilty.
    pub right: f64,
}

/// The results, kind by kind.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Report {
    /// Differences of each list.
    pub differences: usize,
    /// Chance of a slip.
    pub noise: f64,
    /// Situations of each kind.
    pub runs: usize,
    /// What came out.
    pub results: Vec<Result>,
}

type Way = fn(&Situation, f64, &mut rand_pcg::Pcg64) -> ways::Ended;

const WAYS: [(&str, Way); 3] = [
    ("plan", ways::plan),
    ("halving", ways::halving),
    ("one-at-a-time", ways::one_at_a_time),
];

/// Streams of chance that must not mix with others of a seed.
const DRAW: u64 = 8;
const LOOK: u64 = 9;

/// Rehearses every kind. Deterministic: the same options give the same report.
pub fn run(options: &Options) -> Report {
    Report {
        differences: options.differences,
        noise: options.noise,
        runs: options.runs,
        results: Kind::ALL
            .into_iter()
            .flat_map(|kind| of_kind(options, kind))
            .collect(),
    }
}

/// Rehearses one kind by every way.
pub fn of_kind(options: &Options, kind: Kind) -> Vec<Result> {
    let ended = in_threads(options.threads, options.runs, |run| {
        let mut chance = seeded(options.seed, DRAW, run);
        let situation = Situation::draw(options.differences, kind, &mut chance);
        WAYS.map(|(_, way)| {
            way(
                &situation,
                options.noise,
                &mut seeded(options.seed, LOOK, run),
            )
        })
    });
    let sum_up = |(w, (way, _)): (usize, &(&'static str, Way))| {
        let mut counts: Vec<u32> = ended.iter().map(|e| e[w].0).collect();
        counts.sort_unstable();
        let runs = counts.len().max(1) as f64;
        Result {
            kind,
            way,
            mean_trials: counts.iter().map(|&c| f64::from(c)).sum::<f64>() / runs,
            p90_trials: counts.get(counts.len() * 9 / 10).copied().unwrap_or(0),
            right: ended.iter().filter(|e| e[w].1).count() as f64 / runs,
        }
    };
    WAYS.iter().enumerate().map(sum_up).collect()
}
