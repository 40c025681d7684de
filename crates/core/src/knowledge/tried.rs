//! How likely each result of a tried fix is, given what is at fault.

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

/// Chances of cured, better, same, worse for a hypothesis of one or two causes.
///
/// `chances` holds, for each cause of the hypothesis, the chance that the fix cures it: 0 (not
/// touched) or 0.05..0.95. The four sum to one.
pub fn likelihoods(chances: &[f64]) -> [f64; 4] {
    let touched = chances.iter().filter(|k| **k > 0.0).count();
    if touched == 0 {
        return UNTOUCHED;
    }
    let worse = UNTOUCHED[3];
    if touched < chances.len() {
        let k = chances.iter().copied().fold(0.0, f64::max);
        let better = 0.5 * k + 0.015 * (1.0 - k);
        return [0.01, better, 1.0 - 0.01 - better - worse, worse];
    }
    let k: f64 = chances.iter().product();
    [
        (1.0 - worse) * k,
        (1.0 - worse) * 0.15 * (1.0 - k),
        (1.0 - worse) * 0.85 * (1.0 - k),
        worse,
    ]
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
