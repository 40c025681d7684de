//! Known ways on many practice cases: the advice must win on every level.

use super::case::{LEVELS, Level};
use super::draw::{Wanted, draw};
use super::judge::of_way;
use super::play::Desk;
use crate::in_threads;
use crate::player::Strategy;
use serde::Serialize;
use std::num::NonZeroUsize;
use suspect_core::knowledge::Knowledge;
use suspect_core::planning::Workshop;

/// The ways, the advice first.
const WAYS: [Strategy; 4] = [
    Strategy::Advice,
    Strategy::Checklist,
    Strategy::ProbabilityOrder,
    Strategy::Random,
];

/// How a way did on a level.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct WayReport {
    /// `advice`, `checklist`, `probability-order`, `random`.
    pub name: &'static str,
    /// Counted minutes a case.
    pub minutes: f64,
    /// Minutes above the advice with the same luck: the score of practice.
    pub score: f64,
}

/// A level.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct PracticeReport {
    /// Which.
    pub level: Level,
    /// Cases drawn; fewer than asked for where some seeds hold none.
    pub cases: usize,
    /// Each way.
    pub ways: Vec<WayReport>,
}

/// Lets the ways play so many cases of each level.
pub fn ways(
    knowledge: &Knowledge,
    workshop: &Workshop,
    (cases, seed): (usize, u64),
    threads: NonZeroUsize,
) -> Vec<PracticeReport> {
    let of_level = |level: Level| {
        let played = in_threads(threads, cases, |n| {
            let wanted = Wanted::of(seed.wrapping_add(n as u64), level);
            let case = draw(knowledge, &wanted).ok()?;
            let desk = Desk::new(knowledge, workshop, &case);
            Some(WAYS.map(|way| of_way(&desk, way).minutes))
        });
        let played: Vec<[f64; 4]> = played.into_iter().flatten().collect();
        let many = played.len().max(1) as f64;
        let mean = |at: usize| played.iter().map(|m| m[at]).sum::<f64>() / many;
        let report = |(at, way): (usize, &Strategy)| WayReport {
            name: way.name(),
            minutes: mean(at),
            score: mean(at) - mean(0),
        };
        PracticeReport {
            level,
            cases: played.len(),
            ways: WAYS.iter().enumerate().map(report).collect(),
        }
    };
    LEVELS.into_iter().map(of_level).collect()
}
