//! How likely each result of a tried fix is, given what is at fault.

use super::links::FLOOR;
use crate::identified::identified;

identified! {
    /// What happened after a fix was tried. In the order of the tables here.
    pub enum TryResult {
        /// The fault is gone.
        Cured = "cured",
        /// The fault is weaker.
        Better = "better",
        /// Nothing changed.
        Same = "same",
        /// The fault is stronger.
        Worse = "worse",
    }
}

/// Chances of the results when the fix does not touch what is at fault.
pub const UNTOUCHED: [f64; 4] = [0.01, 0.015, 0.97, 0.005];

/// What is left of the certainty when nothing got worse.
const NOT_WORSE: f64 = 1.0 - UNTOUCHED[3];
/// Of the cases a fix does not cure, the share that gets better, and the share that stays the same.
const NOT_CURED: (f64, f64) = (0.15, 0.85);

/// Chances of cured, better, same, worse when the fix touches all that is at fault, or none of it.
///
/// `chances` holds, for each cause of the hypothesis, the chance that the fix cures it: 0 (not
/// touched) or 0.05..0.95. `by_chance` is the chance that the fault stays away though nothing was
/// touched. The four sum to one. Where one of a pair is touched, [`half_mended`] tells.
pub fn likelihoods(chances: &[f64], by_chance: f64) -> [f64; 4] {
    if !chances.iter().any(|k| *k > 0.0) {
        let [cured, better, same, worse] = UNTOUCHED;
        return [by_chance, better, same + cured - by_chance, worse];
    }
    touched(chances.iter().product())
}

/// Chances of the results of a fix that cures what is at fault with chance `k`.
pub fn touched(k: f64) -> [f64; 4] {
    [
        NOT_WORSE * k,
        NOT_WORSE * NOT_CURED.0 * (1.0 - k),
        NOT_WORSE * NOT_CURED.1 * (1.0 - k),
        UNTOUCHED[3],
    ]
}

/// The same when the fix touches one of a pair, which it cures with chance `k`, and `q` says how
/// far the other shows by itself what is seen.
///
/// # Formula
/// (cured, better, same) ∝ k·((1 − q)², 2q(1 − q), q²) + (1 − k)·(0, 0.15, 0.85), each at least
/// 0.005: a pair excuses a fix that did nothing only as far as the other one explains the signs.
pub fn half_mended(k: f64, q: f64) -> [f64; 4] {
    let left = [(1.0 - q) * (1.0 - q), 2.0 * q * (1.0 - q), q * q];
    let uncured = [0.0, NOT_CURED.0, NOT_CURED.1];
    let mut own = [0.0; 3];
    for (o, (l, u)) in own.iter_mut().zip(left.iter().zip(uncured)) {
        *o = NOT_WORSE * (k * l + (1.0 - k) * u);
    }
    let low = own.iter().filter(|o| **o < FLOOR).count() as f64;
    let high: f64 = own.iter().filter(|o| **o >= FLOOR).sum();
    for o in &mut own {
        *o = match *o < FLOOR {
            true => FLOOR,
            false => *o * (NOT_WORSE - FLOOR * low) / high,
        };
    }
    [own[0], own[1], own[2], UNTOUCHED[3]]
}

/// The table folded onto the outcomes a check offers: results it does not offer count as `same`.
pub fn fold(table: [f64; 4], outcomes: &[TryResult]) -> Vec<f64> {
    let mut folded: Vec<f64> = outcomes.iter().map(|r| table[*r as usize]).collect();
    let rest = 1.0 - folded.iter().sum::<f64>();
    let home = outcomes
        .iter()
        .position(|r| *r == TryResult::Same)
        .unwrap_or(0);
    folded[home] += rest;
    folded
}
