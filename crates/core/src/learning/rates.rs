//! How often each cause strikes here: the book's shares moved by counts, machine ← kind ← shop.
//!
//! A level's factor of a cause is (κ + n)/(κ + E): n what was counted for it, E what the shares by
//! the levels above expected. A factor is a ratio and no rate, so that a machine's context (its
//! build, the material) stays the book's business.

use super::learned::Counted;
use super::{HALF_LIFE_DAYS, MOST_FACTOR, WRONG};
use std::collections::BTreeMap;

/// Cases expected that the book, the shop and the kind are worth.
const KAPPA: [f64; 3] = [10.0, 6.0, 3.0];

/// How much of a case counts for the cause recorded: the chance that it was that cause, given the
/// record and the evidence, with one record in ten wrong.
///
/// `recorded` is the book's probability of it at closing, `others` that of every other hypothesis,
/// `unlisted` included. What cannot be here teaches nothing.
///
/// # Formula
/// 0.9/(0.9 + 0.1·Σ over the others of π/(1 − π))
pub fn credit(recorded: f64, others: impl IntoIterator<Item = f64>) -> f64 {
    if recorded <= 0.0 {
        return 0.0;
    }
    let odds: f64 = others
        .into_iter()
        .filter(|p| *p < 1.0)
        .map(|p| p / (1.0 - p))
        .sum();
    (1.0 - WRONG) / (1.0 - WRONG + WRONG * odds)
}

/// What is left of a case after so many days.
///
/// # Formula
/// 0.5^(days/730)
pub fn fading(days: f64) -> f64 {
    0.5f64.powf(days.max(0.0) / HALF_LIFE_DAYS)
}

/// Closed cases of one machine in one context, or a single one.
#[derive(Debug, Clone)]
pub struct Cell<'a> {
    /// The machine, by number.
    pub machine: u32,
    /// Its kind, by number.
    pub kind: u32,
    /// Each cause's share by the book there; 0 for what cannot be. They need not sum to one.
    pub book: &'a [f64],
    /// What was recorded: causes by number, with what counts for each. Each count belongs to as
    /// much of a case: two causes of one case have half each.
    pub recorded: Vec<(usize, f64)>,
}

/// What was counted for each cause, and what was expected.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Counts {
    /// Counted.
    pub n: Vec<f64>,
    /// Expected by the levels above.
    pub expected: Vec<f64>,
}

impl Counts {
    fn add(&mut self, shares: &[f64], recorded: &[(usize, f64)]) {
        let causes = shares.len();
        self.n.resize(causes, 0.0);
        self.expected.resize(causes, 0.0);
        let all: f64 = recorded.iter().map(|(_, counts)| counts).sum();
        for (e, p) in self.expected.iter_mut().zip(shares) {
            *e += all * p;
        }
        for (cause, counts) in recorded {
            self.n[*cause] += counts;
        }
    }

    fn ratio(&self, cause: usize, kappa: f64) -> f64 {
        let at = |of: &[f64]| of.get(cause).copied().unwrap_or(0.0);
        (kappa + at(&self.n)) / (kappa + at(&self.expected))
    }
}

/// What the closed cases of a shop say: by level, then by kind or machine.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Rates {
    /// All cases.
    pub shop: Counts,
    /// By kind of machine.
    pub kinds: BTreeMap<u32, Counts>,
    /// By machine.
    pub machines: BTreeMap<u32, Counts>,
}

impl Rates {
    /// Learns from cells. What a level expects has been moved by the levels above it first.
    pub fn learn(cells: &[Cell<'_>]) -> Self {
        let mut rates = Rates::default();
        let mut now: Vec<Vec<f64>> = cells.iter().map(|c| normed(c.book.to_vec())).collect();
        for (cell, shares) in cells.iter().zip(&now) {
            rates.shop.add(shares, &cell.recorded);
        }
        moved(&mut now, cells, |_| Some(&rates.shop), KAPPA[0]);
        for (cell, shares) in cells.iter().zip(&now) {
            let kind = rates.kinds.entry(cell.kind).or_default();
            kind.add(shares, &cell.recorded);
        }
        moved(&mut now, cells, |c| rates.kinds.get(&c.kind), KAPPA[1]);
        for (cell, shares) in cells.iter().zip(&now) {
            let machine = rates.machines.entry(cell.machine).or_default();
            machine.add(shares, &cell.recorded);
        }
        rates
    }

    /// What the weight of a cause is multiplied by on a machine: within ¼..4, and never below 1
    /// for a cause that speaks for a stop.
    ///
    /// # Formula
    /// Π over the levels of (κ + n)/(κ + E)
    pub fn factor(&self, cause: usize, machine: u32, kind: u32, dangerous: bool) -> f64 {
        let levels = [
            Some(&self.shop),
            self.kinds.get(&kind),
            self.machines.get(&machine),
        ];
        let levels = levels.into_iter().zip(KAPPA);
        let product: f64 = levels
            .filter_map(|(counts, kappa)| Some(counts?.ratio(cause, kappa)))
            .product();
        let least = if dangerous { 1.0 } else { 1.0 / MOST_FACTOR };
        product.clamp(least, MOST_FACTOR)
    }
}

/// The factor of a cause by what was counted on each level: shop, kind, machine.
///
/// # Formula
/// Π over the levels of (κ + n)/(κ + E), within ¼..4
pub fn of_levels(levels: [Counted; 3]) -> f64 {
    let ratio = |(c, kappa): (Counted, f64)| (kappa + c.n) / (kappa + c.expected);
    let product: f64 = levels.into_iter().zip(KAPPA).map(ratio).product();
    product.clamp(1.0 / MOST_FACTOR, MOST_FACTOR)
}

/// Moves the shares of cells by the ratios of their group.
fn moved<'r>(
    now: &mut [Vec<f64>],
    cells: &[Cell<'_>],
    group: impl Fn(&Cell<'_>) -> Option<&'r Counts>,
    kappa: f64,
) {
    for (shares, cell) in now.iter_mut().zip(cells) {
        let Some(counts) = group(cell) else { continue };
        let mut next = std::mem::take(shares);
        for (cause, share) in next.iter_mut().enumerate() {
            *share *= counts.ratio(cause, kappa);
        }
        *shares = normed(next);
    }
}

/// Scaled to a sum of one; left alone where nothing is possible.
fn normed(mut shares: Vec<f64>) -> Vec<f64> {
    let sum: f64 = shares.iter().sum();
    if sum > 0.0 {
        shares.iter_mut().for_each(|s| *s /= sum);
    }
    shares
}
