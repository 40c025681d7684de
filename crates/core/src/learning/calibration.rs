//! Does the advice know how sure it is? Judged on the shop's own verified cases.

use super::WRONG;

/// Cases from which "too sure" is said.
pub const TOO_SURE_FROM: usize = 30;
/// z below which the advice is too sure.
pub const TOO_SURE: f64 = -1.64;
/// Cases from which learning may rest.
const RESTS_FROM: usize = 50;
/// Sum of log scores below which it rests, and above which it wakes.
const RESTS: (f64, f64) = (-3.0, -1.0);
/// No probability counts as less.
const LEAST: f64 = 0.01;
/// Half width of a 90 % interval in standard errors.
const NINE_IN_TEN: f64 = 1.645;

/// How far leaders were right against how sure they were, in standard deviations, when one record
/// in ten is wrong. None where no leader had a chance.
///
/// # Formula
/// (R − Σ 0.9p)/√Σ 0.9p(1 − 0.9p)
pub fn too_sure(leaders: &[(f64, bool)]) -> Option<f64> {
    let expected = leaders.iter().map(|(p, _)| (1.0 - WRONG) * p);
    let (sum, spread) = expected.fold((0.0, 0.0), |(s, v), e| (s + e, v + e * (1.0 - e)));
    let right = leaders.iter().filter(|(_, right)| *right).count() as f64;
    (spread > 0.0).then(|| (right - sum) / spread.sqrt())
}

/// Whether learning rests by itself: it scored worse than the book on what was recorded. Pairs are
/// the recorded cause's probability at first advice, learned and by the book.
pub fn rests(pairs: &[(f64, f64)], resting: bool) -> (f64, bool) {
    let sum: f64 = pairs.iter().map(|(l, b)| gain(*l, *b)).sum();
    (sum, rests_at(sum, pairs.len(), resting))
}

/// What learning gained for one recorded cause: log score over the book's.
pub fn gain(learned: f64, book: f64) -> f64 {
    learned.max(LEAST).ln() - book.max(LEAST).ln()
}

/// Whether it rests at a sum of gains over so many cases; what rests wakes later than it fell
/// asleep.
pub fn rests_at(sum: f64, cases: usize, resting: bool) -> bool {
    let bound = if resting { RESTS.1 } else { RESTS.0 };
    cases >= RESTS_FROM && sum < bound
}

/// Minutes spent against the check-list's, with the jackknife's interval of 90 %.
///
/// None for fewer than two cases, or a check-list that would have taken no time.
pub fn spent_ratio(pairs: &[(f64, f64)]) -> Option<[f64; 3]> {
    let n = pairs.len() as f64;
    let (spent, listed) = pairs
        .iter()
        .fold((0.0, 0.0), |(a, b), (x, y)| (a + x, b + y));
    let without: Vec<f64> = pairs
        .iter()
        .map(|(x, y)| (spent - x) / (listed - y))
        .collect();
    let mean = without.iter().sum::<f64>() / n;
    let spread: f64 = without.iter().map(|r| (r - mean) * (r - mean)).sum();
    let error = ((n - 1.0) / n * spread).sqrt();
    let ratio = spent / listed;
    let around = NINE_IN_TEN * error;
    let told = pairs.len() > 1 && error.is_finite() && ratio.is_finite();
    told.then_some([ratio, ratio - around, ratio + around])
}
