//! How the advice did on the shop's own verified cases.

use super::{Counted, Sums, Told};
use crate::learning::calibration::{TOO_SURE, TOO_SURE_FROM};
use crate::learning::{Share, share};

/// Bins of how sure the advice was.
pub const BINS: usize = 5;
/// Cases from which shares are told, bins drawn, and missing suspects.
const RIGHT_FROM: i64 = 10;
const BIN_FROM: i64 = 5;
const MISSING_FROM: i64 = 20;
/// More cases of nobody who is listed than that: suspects are missing.
const MISSING_SHARE: f64 = 0.1;

/// The bin of a probability.
pub(super) fn bin_of(sure: f64) -> usize {
    ((sure * BINS as f64) as usize).min(BINS - 1)
}

/// Cases in which the advice was about so sure.
#[derive(Debug, Clone, PartialEq)]
pub struct Bin {
    /// Which, from the least sure.
    pub at: usize,
    /// Cases.
    pub n: i64,
    /// How sure it was on the mean.
    pub sure: f64,
    /// How often it was right.
    pub right: Share,
}

/// A suspect named first where it was another.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Mistaken {
    /// Whom the advice named.
    pub leader: String,
    /// Who it was.
    pub was: String,
    /// How often.
    pub n: i64,
}

/// How the advice did before the first check or fix.
#[derive(Debug, Clone, PartialEq)]
pub struct Advice {
    /// Verified cases.
    pub cases: i64,
    /// How often the suspect named first was the one.
    pub right: Told<Share>,
    /// Standard deviations by which it was right oftener than it said; below −1.64 it is too sure.
    pub z: Told<f64>,
    /// Whether its numbers are to be taken with caution.
    pub too_sure: bool,
    /// Mean of Σ (p − truth)²: 0 is perfect.
    pub brier: Told<f64>,
    /// Mean of −ln p of the one it was: 0 is perfect.
    pub log: Told<f64>,
    /// By how sure it was, bins with enough cases.
    pub bins: Vec<Bin>,
    /// Whom it mistook for whom, the commonest first.
    pub mistaken: Vec<Mistaken>,
    /// Cases of nobody who is listed.
    pub someone_else: i64,
    /// So many that suspects are missing.
    pub missing: bool,
}

/// How the advice did before the first check or fix.
pub fn advice(sums: &Sums) -> Advice {
    let n = |key: &str| sums.n(Counted::Advice, key);
    let of = |key: &str| sums.amount(Counted::Advice, key);
    let (cases, right, someone_else) = (n("expected"), n("right"), n("someone-else"));
    let all = cases + someone_else;
    let mean = |key| Told::from(cases, RIGHT_FROM, || Some(of(key) / cases as f64));
    let z = Told::from(cases, TOO_SURE_FROM as i64, || {
        let spread = of("spread").sqrt();
        (spread > 0.0).then(|| (right as f64 - of("expected")) / spread)
    });
    Advice {
        cases,
        right: Told::from(cases, RIGHT_FROM, || share(right as f64, cases as f64)),
        too_sure: z.known().is_some_and(|z| *z < TOO_SURE),
        z,
        brier: mean("brier"),
        log: mean("log"),
        bins: (0..BINS).filter_map(|at| bin(sums, at)).collect(),
        mistaken: mistaken(sums),
        someone_else,
        missing: all >= MISSING_FROM && someone_else as f64 > MISSING_SHARE * all as f64,
    }
}

fn bin(sums: &Sums, at: usize) -> Option<Bin> {
    let n = sums.n(Counted::Bin, &at.to_string());
    let right = sums.n(Counted::Bin, &format!("{at}-right"));
    (n >= BIN_FROM).then_some(())?;
    Some(Bin {
        at,
        n,
        sure: sums.amount(Counted::Bin, &at.to_string()) / n as f64,
        right: share(right as f64, n as f64)?,
    })
}

fn mistaken(sums: &Sums) -> Vec<Mistaken> {
    let known = sums.of(Counted::Mistaken).filter_map(|(key, n, _)| {
        let (leader, was) = key.split_once(' ')?;
        Some(Mistaken {
            leader: leader.into(),
            was: was.into(),
            n,
        })
    });
    let mut all: Vec<Mistaken> = known.collect();
    all.sort_by(|a, b| b.n.cmp(&a.n).then_with(|| a.leader.cmp(&b.leader)));
    all
}
