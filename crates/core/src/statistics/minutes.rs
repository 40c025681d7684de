//! Minutes it takes to resolve a case, and against a printed guide.

use super::{Counted, Sums, Told};

/// Cases from which a median is told, and what nine in ten take.
const MEDIAN_FROM: i64 = 5;
const NINE_FROM: i64 = 20;
/// Cases from which the printed guide is compared.
const AGAINST_FROM: i64 = 10;
/// Half width of a 90 % interval in standard errors.
const NINE_IN_TEN: f64 = 1.645;

/// Where bins end and how wide they are below: minutes by the minute, then coarser.
const WIDTHS: [(u64, u64); 4] = [(60, 1), (240, 5), (600, 15), (6_000, 60)];

/// The bin of so many minutes, by its lower bound; written so that bins stand in order.
pub(super) fn bin_from(minutes: f64) -> String {
    let whole = minutes.clamp(0.0, 6_000.0) as u64;
    let width = WIDTHS.iter().find(|(end, _)| whole < *end);
    let width = width.map_or(60, |(_, width)| *width);
    format!("{:05}", whole / width * width)
}

/// How wide the bin is that begins here.
fn width_at(low: f64) -> f64 {
    let width = WIDTHS.iter().find(|(end, _)| low < *end as f64);
    width.map_or(60.0, |(_, width)| *width as f64)
}

/// Minutes against the printed guide's, with the interval of 90 %.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Ratio {
    /// Minutes spent by those of the guide.
    pub ratio: f64,
    /// Its interval.
    pub low: f64,
    /// And its upper end.
    pub high: f64,
    /// Minutes the guide would have taken beyond those spent; below 0 it would have been faster.
    pub saved: f64,
}

/// Minutes it takes to resolve a case.
#[derive(Debug, Clone, PartialEq)]
pub struct Minutes {
    /// Closed cases.
    pub cases: i64,
    /// Half of all take no longer.
    pub median: Told<f64>,
    /// Nine in ten take no longer.
    pub nine_in_ten: Told<f64>,
    /// Bins: from, to, how many.
    pub bins: Vec<(f64, f64, i64)>,
    /// Against the printed guide.
    pub against: Told<Ratio>,
}

/// Minutes it takes to resolve a case.
pub fn minutes(sums: &Sums) -> Minutes {
    let bins: Vec<(f64, f64, i64)> = sums
        .of(Counted::Minutes)
        .filter_map(|(key, n, _)| {
            let low: f64 = key.parse().ok()?;
            Some((low, low + width_at(low), n))
        })
        .collect();
    let cases = bins.iter().map(|(.., n)| n).sum();
    let least = |share| quantile(&bins, cases, share);
    Minutes {
        cases,
        median: Told::from(cases, MEDIAN_FROM, || Some(least(0.5))),
        nine_in_ten: Told::from(cases, NINE_FROM, || Some(least(0.9))),
        against: Told::from(sums.n(Counted::Against, "spent"), AGAINST_FROM, || {
            against(sums)
        }),
        bins,
    }
}

/// Where a share of all cases lies below, straight through the bin it falls into.
fn quantile(bins: &[(f64, f64, i64)], cases: i64, share: f64) -> f64 {
    let mut left = share * cases as f64;
    for (low, high, n) in bins {
        let n = *n as f64;
        if left <= n {
            return low + (high - low) * (left / n).clamp(0.0, 1.0);
        }
        left -= n;
    }
    bins.last().map_or(0.0, |(_, high, _)| *high)
}

/// # Formula
/// r = Σ s / Σ l; error² = n/(n − 1) · Σ (s − r·l)² / (Σ l)²: the jackknife to first order
fn against(sums: &Sums) -> Option<Ratio> {
    let n = sums.n(Counted::Against, "spent") as f64;
    let [spent, listed, ss, sl, ll] = [
        "spent",
        "listed",
        "spent-spent",
        "spent-listed",
        "listed-listed",
    ]
    .map(|key| sums.amount(Counted::Against, key));
    let ratio = spent / listed;
    let squares = (ss - 2.0 * ratio * sl + ratio * ratio * ll).max(0.0);
    let error = (n / (n - 1.0) * squares).sqrt() / listed;
    let around = NINE_IN_TEN * error;
    (n > 1.0 && listed > 0.0).then_some(Ratio {
        ratio,
        low: (ratio - around).max(0.0),
        high: ratio + around,
        saved: listed - spent,
    })
}
