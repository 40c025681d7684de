//! What one believes, scored: the log score, and how often what was said so surely came true.

use super::case::PracticeCase;

/// No share counts as less.
const LEAST: f64 = 0.01;
/// Where the bands of calibration end.
const BANDS: [f64; 5] = [0.1, 0.3, 0.5, 0.7, 1.0];

/// Shares brought to a sum of one; nothing where they are none, too many or too few.
pub fn shares(given: &[f64], case: &PracticeCase) -> Option<Vec<f64>> {
    let sum: f64 = given.iter().sum();
    let fine = given.len() == case.asked.len() + 1
        && given.iter().all(|s| s.is_finite() && *s >= 0.0)
        && sum > 0.0;
    fine.then(|| given.iter().map(|s| s / sum).collect())
}

/// Which of what was asked is true: each suspect, then somebody else.
pub fn truth(case: &PracticeCase) -> Vec<bool> {
    let mut true_of: Vec<bool> = case.asked.iter().map(|c| case.acting.contains(c)).collect();
    true_of.push(case.acting.iter().any(|c| !case.asked.contains(c)));
    true_of
}

/// The log score of shares: 0 where all lay on what was true, less where less did.
///
/// # Formula
/// ln Σ shares of what is true, none counted as less than 0.01
pub fn log_score(case: &PracticeCase, shares: &[f64]) -> f64 {
    let on_truth = shares.iter().zip(truth(case)).filter(|(_, t)| *t);
    let sum: f64 = on_truth.map(|(s, _)| s).sum();
    sum.clamp(LEAST, 1.0).ln()
}

/// A band of calibration.
#[derive(Debug, Clone, PartialEq)]
pub struct Band {
    /// Shares above `from` and up to `to`.
    pub from: f64,
    /// See `from`.
    pub to: f64,
    /// Shares said in it.
    pub many: usize,
    /// Their mean.
    pub said: f64,
    /// How often what they were said of was true.
    pub came: f64,
}

/// How often what was said so surely was true, in bands; those without a word are left out.
pub fn calibration(said: &[(f64, bool)]) -> Vec<Band> {
    let mut from = 0.0;
    let mut bands = Vec::new();
    for (n, to) in BANDS.into_iter().enumerate() {
        let within = |s: f64| s <= to && (s > from || n == 0);
        let of: Vec<&(f64, bool)> = said.iter().filter(|(s, _)| within(*s)).collect();
        let many = of.len();
        if many > 0 {
            let mean = |sum: f64| sum / many as f64;
            bands.push(Band {
                from,
                to,
                many,
                said: mean(of.iter().map(|(s, _)| s).sum()),
                came: mean(of.iter().filter(|(_, t)| *t).count() as f64),
            });
        }
        from = to;
    }
    bands
}
