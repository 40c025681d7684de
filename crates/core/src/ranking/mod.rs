//! How likely each suspect is: every cause alone, pairs of causes, and `unlisted`, weighed by the evidence.
//!
//! Weights of evidence are additive (I. J. Good): for each hypothesis the posterior log-odds against `unlisted` are the prior's
//! plus the sum of its ledger, in decibans. See `docs/DESIGN.md` for the reasons of each number.

mod likelihood;
mod line_up;

pub use line_up::{CauseLine, LineUp, PairLine, Surprise, rank, rank_plain};

use crate::evidence::Evidence;
use crate::knowledge::{CauseId, Knowledge};
pub(crate) use likelihood::{Column, pair_states};

/// Prior probability of `unlisted`: someone we have not met.
pub const P_UNLISTED: f64 = 0.02;
/// Prior probability of all pairs together.
pub const P_PAIRS: f64 = 0.10;

/// Who did it: nobody listed, one cause, or two.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Hypothesis {
    /// Someone we have not met.
    Unlisted,
    /// One cause alone.
    One(CauseId),
    /// Two causes together.
    Two(CauseId, CauseId),
}

impl Hypothesis {
    /// The causes of the hypothesis.
    pub fn causes(&self) -> impl Iterator<Item = CauseId> + use<> {
        let (a, b) = match *self {
            Hypothesis::Unlisted => (None, None),
            Hypothesis::One(c) => (Some(c), None),
            Hypothesis::Two(i, j) => (Some(i), Some(j)),
        };
        a.into_iter().chain(b)
    }
}

/// Weight of evidence of a likelihood ratio, in decibans.
///
/// # Formula
/// 10 · log10(ratio)
pub fn decibans(ratio: f64) -> f64 {
    10.0 * ratio.log10()
}

/// The likelihood ratio of a weight in decibans: the inverse of [`decibans`].
pub fn ratio(decibans: f64) -> f64 {
    (decibans * (std::f64::consts::LN_10 / 10.0)).exp()
}

/// Every hypothesis with prior and posterior. Impossible ones (prior 0) are left out.
#[derive(Debug, Clone)]
pub struct Posterior {
    /// Hypotheses: `unlisted`, causes in knowledge order, pairs in knowledge order.
    pub hypotheses: Vec<Hypothesis>,
    /// Prior probability of each.
    pub prior: Vec<f64>,
    /// Posterior probability of each; they sum to 1.
    pub probability: Vec<f64>,
    /// Ledger rows of each hypothesis are not kept; this is, per item, r_f: how far the item agrees with the rest, in decibans.
    pub agreement: Vec<f64>,
    causes: usize,
}

/// Hypotheses with their priors in a context.
pub fn priors(knowledge: &Knowledge, context: &crate::profile::Context, with_pairs: bool) -> (Vec<Hypothesis>, Vec<f64>) {
    let weights: Vec<f64> = knowledge.cause_ids().map(|c| knowledge.weight(c, context)).collect();
    let total: f64 = weights.iter().sum();
    let mut hypotheses = vec![Hypothesis::Unlisted];
    let mut prior = vec![P_UNLISTED];
    let pair_total: f64 = if with_pairs { knowledge.pairs.iter().map(|(i, j)| weights[i.at()] * weights[j.at()]).sum() } else { 0.0 };
    let singles = 1.0 - P_UNLISTED - if pair_total > 0.0 { P_PAIRS } else { 0.0 };
    for c in knowledge.cause_ids().filter(|c| weights[c.at()] > 0.0) {
        hypotheses.push(Hypothesis::One(c));
        prior.push(singles * weights[c.at()] / total);
    }
    if pair_total > 0.0 {
        for &(i, j) in &knowledge.pairs {
            let product = weights[i.at()] * weights[j.at()];
            if product > 0.0 {
                hypotheses.push(Hypothesis::Two(i, j));
                prior.push(P_PAIRS * product / pair_total);
            }
        }
    }
    (hypotheses, prior)
}

/// Weighs the evidence for every hypothesis.
pub fn posterior(knowledge: &Knowledge, evidence: &Evidence, with_pairs: bool) -> Posterior {
    let (hypotheses, prior) = priors(knowledge, &evidence.context, with_pairs);
    let columns = columns(knowledge, evidence);
    let items = columns.len();
    let mut grouped = vec![false; items];
    evidence.groups.iter().flatten().for_each(|i| grouped[*i] = true);

    let mut mass = Vec::with_capacity(hypotheses.len());
    let mut without = vec![0.0; items];
    let mut raw = vec![(0.0, 1.0); items];
    let mut counted = vec![0.0; items];
    let mut order = Vec::new();
    let mut sum = 0.0;
    for (h, p) in hypotheses.iter().zip(&prior) {
        for (slot, column) in raw.iter_mut().zip(&columns) {
            *slot = column.weight(knowledge, *h);
        }
        counted.iter_mut().zip(&raw).for_each(|(c, (d, _))| *c = *d);
        discount(&evidence.groups, &raw, &mut counted, &mut order);
        let total: f64 = counted.iter().sum();
        let m = p * ratio(total);
        sum += m;
        mass.push(m);
        for i in 0..items {
            // Without item i: an ungrouped item simply leaves; in a group the others may count for more.
            without[i] += if !grouped[i] { m / raw[i].1 } else { m * ratio(regroup(&evidence.groups, &raw, &counted, i, &mut order)) };
        }
    }
    let agreement = without.iter().map(|w| decibans(sum / w)).collect();
    mass.iter_mut().for_each(|m| *m /= sum);
    Posterior { hypotheses, prior, probability: mass, agreement, causes: knowledge.causes.len() }
}

/// One column of weights per item of evidence.
pub(crate) fn columns(knowledge: &Knowledge, evidence: &Evidence) -> Vec<Column> {
    evidence.items.iter().map(|item| Column::new(knowledge, item)).collect()
}

/// Ledger of one hypothesis: decibans per item, groups discounted. They sum to its evidence total.
pub(crate) fn ledger(knowledge: &Knowledge, evidence: &Evidence, columns: &[Column], h: Hypothesis) -> Vec<f64> {
    let raw: Vec<_> = columns.iter().map(|c| c.weight(knowledge, h)).collect();
    let mut counted: Vec<f64> = raw.iter().map(|r| r.0).collect();
    discount(&evidence.groups, &raw, &mut counted, &mut Vec::new());
    counted
}

/// Weights of one group with the same sign count 1, ½, ¼ … from the largest; ties go by knowledge order.
fn discount(groups: &[Vec<usize>], raw: &[(f64, f64)], counted: &mut [f64], order: &mut Vec<usize>) {
    for group in groups {
        for positive in [true, false] {
            order.clear();
            order.extend(group.iter().copied().filter(|i| if positive { raw[*i].0 > 0.0 } else { raw[*i].0 < 0.0 }));
            order.sort_by(|a, b| raw[*b].0.abs().total_cmp(&raw[*a].0.abs()).then(a.cmp(b)));
            let mut factor = 1.0;
            for i in order.iter() {
                counted[*i] = raw[*i].0 * factor;
                factor *= 0.5;
            }
        }
    }
}

/// Change of a hypothesis's total, in decibans, when grouped item `gone` is left out.
fn regroup(groups: &[Vec<usize>], raw: &[(f64, f64)], counted: &[f64], gone: usize, order: &mut Vec<usize>) -> f64 {
    let group = groups.iter().find(|g| g.contains(&gone)).expect("the item is grouped");
    let before: f64 = group.iter().map(|i| counted[*i]).sum();
    let mut rest = counted.to_vec();
    let others: Vec<usize> = group.iter().copied().filter(|i| *i != gone).collect();
    discount(std::slice::from_ref(&others), raw, &mut rest, order);
    let after: f64 = others.iter().map(|i| rest[*i]).sum();
    after - before
}

impl Posterior {
    /// Probability that each cause is involved, alone or in a pair, by cause index.
    pub fn involved(&self) -> Vec<f64> {
        self.involvement(&self.probability)
    }

    /// The same before evidence.
    pub fn involved_before(&self) -> Vec<f64> {
        self.involvement(&self.prior)
    }

    fn involvement(&self, mass: &[f64]) -> Vec<f64> {
        let mut out = vec![0.0; self.causes];
        for (h, p) in self.hypotheses.iter().zip(mass) {
            h.causes().for_each(|c| out[c.at()] += p);
        }
        out
    }

    /// Surprise: how much `unlisted` has risen, in decibans.
    pub fn surprise(&self) -> f64 {
        decibans(self.probability[0] / P_UNLISTED)
    }

    /// The posterior after one more, ungrouped piece of evidence.
    pub(crate) fn with(&self, knowledge: &Knowledge, column: &Column) -> Posterior {
        let mut next = self.clone();
        let mut sum = 0.0;
        for (h, p) in self.hypotheses.iter().zip(&mut next.probability) {
            *p *= column.weight(knowledge, *h).1;
            sum += *p;
        }
        next.probability.iter_mut().for_each(|p| *p /= sum);
        next
    }
}
