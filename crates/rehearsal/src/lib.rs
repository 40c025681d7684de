//! Proof by rehearsal: draw what is at fault and what is seen of it, follow the advice to the end,
//! and compare with other ways of going about it: the same cases with the same luck for all. On
//! small networks the exact optimum is the measure.
//!
//! `world` draws cases, `player` follows a strategy through one, `optimum` solves small networks,
//! `shift` plans evenings, `floor` plays years of a workshop that learns, `trials` finds the guilty
//! one of a list, `practice` lets people solve drawn cases.
#![warn(missing_docs)]

pub mod floor;
mod optimum;
mod player;
pub mod practice;
mod shift;
pub mod trials;
mod world;

pub use optimum::{SmallNetworks, small_networks};
pub use player::STRATEGIES;
pub use shift::{ShiftOptions, ShiftReport, ShiftWay, shift};
pub use world::World;

use player::{Player, Score};
use rand_pcg::Pcg64;
use rand_pcg::rand_core::SeedableRng;
use serde::Serialize;
use std::num::NonZeroUsize;
use suspect_core::knowledge::Knowledge;
use suspect_core::planning::Workshop;

/// What is rehearsed.
#[derive(Debug, Clone)]
pub struct Options {
    /// Cases drawn.
    pub cases: usize,
    /// The same seed draws the same cases.
    pub seed: u64,
    /// Standard deviation, in log-odds, by which the world differs from the knowledge.
    pub perturb: f64,
    /// Small networks with a known optimum.
    pub networks: usize,
    /// Threads to use; the result does not depend on it.
    pub threads: NonZeroUsize,
}

/// How one way of going about it did.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct StrategyReport {
    /// `advice`, `checklist`, `probability-order`, `one-step`, `random`.
    pub name: &'static str,
    /// Counted minutes a case, giving up included.
    pub mean_minutes: f64,
    /// Nine cases of ten took at most so many.
    pub p90_minutes: f64,
    /// Checks and fixes a case.
    pub mean_steps: f64,
    /// Fixes a case that cured nothing.
    pub wrong_fixes: f64,
    /// Share of cases cured.
    pub resolved: f64,
    /// Money a case, filament included.
    pub mean_money: f64,
}

/// The result of a rehearsal.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Report {
    /// All ways, the advice first.
    pub strategies: Vec<StrategyReport>,
    /// The advice against the exact optimum.
    pub small_networks: SmallNetworks,
}

impl Report {
    /// How one way did.
    pub fn strategy(&self, name: &str) -> Option<&StrategyReport> {
        self.strategies.iter().find(|s| s.name == name)
    }
}

/// Rehearses. Deterministic: the same options give the same report, whatever the number of threads.
pub fn run(knowledge: &Knowledge, workshop: &Workshop, options: &Options) -> Report {
    let world = World::new(knowledge, options.seed, options.perturb);
    let scores = in_threads(options.threads, options.cases, |case| {
        let drawn = world.draw(case);
        STRATEGIES.map(|strategy| Player::new(knowledge, &world, workshop, &drawn).play(strategy))
    });
    let strategies = STRATEGIES
        .iter()
        .enumerate()
        .map(|(s, strategy)| sum_up(strategy.name(), scores.iter().map(|all| all[s])))
        .collect();
    let ratios = in_threads(options.threads, options.networks, |n| {
        small_networks::ratio(&mut seeded(options.seed, SMALL, n))
    });
    Report {
        strategies,
        small_networks: SmallNetworks::of(&ratios),
    }
}

/// One of several by weight.
fn pick_of(weights: &[f64], rng: &mut impl rand::Rng) -> usize {
    world::pick(weights, rand::RngExt::random(rng))
}

/// Streams of chance that must not mix.
const SMALL: u64 = 1;
const CASES: u64 = 2;
const PERTURB: u64 = 3;
const PRACTICE: u64 = 12;
const LUCK: u64 = 13;
const DRILL: u64 = 14;

fn seeded(seed: u64, stream: u64, n: usize) -> Pcg64 {
    Pcg64::seed_from_u64(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ (stream << 56) ^ n as u64)
}

/// Does `count` pieces of work, each by its number, and returns the results in their order.
fn in_threads<T: Send>(
    threads: NonZeroUsize,
    count: usize,
    work: impl Fn(usize) -> T + Sync,
) -> Vec<T> {
    let threads = threads.get().min(count.max(1));
    let work = &work;
    let mut results: Vec<(usize, T)> = std::thread::scope(|scope| {
        // Every n-th piece each, so that long and short ones mix.
        let hands: Vec<_> = (0..threads)
            .map(|t| {
                scope.spawn(move || {
                    (t..count)
                        .step_by(threads)
                        .map(|n| (n, work(n)))
                        .collect::<Vec<_>>()
                })
            })
            .collect();
        hands
            .into_iter()
            .flat_map(|hand| {
                hand.join()
                    .unwrap_or_else(|panic| std::panic::resume_unwind(panic))
            })
            .collect()
    });
    results.sort_by_key(|(n, _)| *n);
    results.into_iter().map(|(_, result)| result).collect()
}

fn sum_up(name: &'static str, scores: impl Iterator<Item = Score>) -> StrategyReport {
    let scores: Vec<Score> = scores.collect();
    let cases = scores.len().max(1) as f64;
    let mean = |of: fn(&Score) -> f64| scores.iter().map(of).sum::<f64>() / cases;
    let mut minutes: Vec<f64> = scores.iter().map(|s| s.minutes).collect();
    minutes.sort_by(f64::total_cmp);
    let p90 = ((scores.len() as f64 * 0.9).ceil() as usize).saturating_sub(1);
    StrategyReport {
        name,
        mean_minutes: mean(|s| s.minutes),
        p90_minutes: minutes.get(p90).copied().unwrap_or(0.0),
        mean_steps: mean(|s| s.steps as f64),
        wrong_fixes: mean(|s| s.wrong_fixes as f64),
        resolved: mean(|s| f64::from(u8::from(s.resolved))),
        mean_money: mean(|s| s.money),
    }
}
