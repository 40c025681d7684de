//! How likely each suspect is: every cause alone, pairs of causes, and `unlisted`, weighed by the evidence.
//!
//! Weights of evidence are additive (I. J. Good): for each hypothesis the posterior log-odds against `unlisted` are the prior's
//! plus the sum of its ledger, in decibans. See `docs/DESIGN.md` for the reasons of each number.

mod likelihood;
mod line_up;

pub use line_up::{CauseLine, LineUp, PairLine, Surprise, rank, rank_plain};

use crate::evidence::Evidence;
use crate::knowledge::{CauseId, Knowledge};
use likelihood::Members;
pub(crate) use likelihood::{Column, SOUND_THOUGH_GUILTY, pair_states};

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

/// Every hypothesis with prior and posterior. Impossible ones (prior 0) are left out.
#[derive(Debug, Clone)]
pub struct Posterior {
    /// Hypotheses: `unlisted`, causes in knowledge order, pairs in knowledge order.
    pub hypotheses: Vec<Hypothesis>,
    /// Prior probability of each.
    pub prior: Vec<f64>,
    /// Posterior probability of each; they sum to 1.
    pub probability: Vec<f64>,
    /// Per item r_f: how far it agrees with the rest, in decibans. Empty unless a line-up was made.
    pub agreement: Vec<f64>,
    causes: usize,
    members: Members,
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

/// Weighs the evidence for every hypothesis. Without the agreement of each item with the rest, which only a line-up shows.
pub fn posterior(knowledge: &Knowledge, evidence: &Evidence, with_pairs: bool) -> Posterior {
    weigh(knowledge, evidence, &columns(knowledge, evidence), with_pairs).0
}

/// Likelihood ratios of all items for all hypotheses, and of each group as a whole.
pub(crate) struct Ratios {
    items: Vec<Vec<f64>>,
    groups: Vec<Vec<f64>>,
}

/// The same with columns already made. Works with likelihood ratios instead of decibans: no logarithm in the inner loop.
pub(crate) fn weigh(knowledge: &Knowledge, evidence: &Evidence, columns: &[Column], with_pairs: bool) -> (Posterior, Ratios) {
    let (hypotheses, prior) = priors(knowledge, &evidence.context, with_pairs);
    let members = Members::of(&hypotheses);
    let items: Vec<Vec<f64>> = columns.iter().map(|c| c.ratios(knowledge, &members)).collect();
    let mut probability = prior.clone();
    for (n, i) in ungrouped(evidence).into_iter().enumerate() {
        probability.iter_mut().zip(&items[i]).for_each(|(p, r)| *p *= r);
        // Hundreds of strong findings must not run out of the number range; a ratio is at most about 200.
        if n % 16 == 15 {
            normalise(&mut probability);
        }
    }
    let mut order = Vec::new();
    let whole = |g: &Vec<usize>| (0..prior.len()).map(|h| group_ratio(g, None, h, &items, &mut order)).collect();
    let groups: Vec<Vec<f64>> = evidence.groups.iter().map(whole).collect();
    for whole in &groups {
        probability.iter_mut().zip(whole).for_each(|(p, r)| *p *= r);
        normalise(&mut probability);
    }
    normalise(&mut probability);
    let posterior = Posterior { hypotheses, prior, probability, agreement: Vec::new(), causes: knowledge.causes.len(), members };
    (posterior, Ratios { items, groups })
}

/// Items that stand in no group.
fn ungrouped(evidence: &Evidence) -> Vec<usize> {
    (0..evidence.items.len()).filter(|i| !evidence.groups.iter().any(|g| g.contains(i))).collect()
}

/// r_f of every item: how far it agrees with the rest, in decibans. The mass that would be there without the item says it:
/// an ungrouped item simply leaves; in a group the others may count for more.
pub(crate) fn agreement(evidence: &Evidence, posterior: &Posterior, ratios: &Ratios) -> Vec<f64> {
    let probability = &posterior.probability;
    let mut without = vec![0.0; evidence.items.len()];
    for i in ungrouped(evidence) {
        without[i] = sum(probability.len(), |h| probability[h] / ratios.items[i][h]);
    }
    let mut order = Vec::new();
    for (group, whole) in evidence.groups.iter().zip(&ratios.groups) {
        for i in group {
            without[*i] =
                sum(probability.len(), |h| probability[h] * group_ratio(group, Some(*i), h, &ratios.items, &mut order) / whole[h]);
        }
    }
    without.into_iter().map(|w: f64| -decibans(w)).collect()
}

/// A sum of many terms in four strands, so that no addition waits for the one before.
fn sum(terms: usize, mut term: impl FnMut(usize) -> f64) -> f64 {
    let mut strands = [0.0; 4];
    let whole = terms - terms % 4;
    for h in (0..whole).step_by(4) {
        for (k, strand) in strands.iter_mut().enumerate() {
            *strand += term(h + k);
        }
    }
    strands.iter().sum::<f64>() + (whole..terms).map(term).sum::<f64>()
}

/// Scales to a sum of 1. Done after every item, so that hundreds of strong findings cannot run out of the number range.
fn normalise(mass: &mut [f64]) {
    let scale = 1.0 / mass.iter().sum::<f64>();
    mass.iter_mut().for_each(|m| *m *= scale);
}

/// Likelihood ratio of a whole group, one item left out if asked: same-signed weights count 1, ½, ¼ …, which are the ratio itself,
/// its square root, the root of that.
fn group_ratio(group: &[usize], left_out: Option<usize>, h: usize, ratios: &[Vec<f64>], order: &mut Vec<f64>) -> f64 {
    // Nearly every group has two members: the stronger counts whole, the weaker by its root.
    if let [a, b] = *group {
        let (a, b) = (ratios[a][h], ratios[b][h]);
        return match left_out {
            Some(out) => {
                if out == group[0] {
                    b
                } else {
                    a
                }
            }
            None if (a > 1.0) != (b > 1.0) => a * b,
            None if (a > b) == (a > 1.0) => a * b.sqrt(),
            None => b * a.sqrt(),
        };
    }
    let mut product = 1.0;
    for positive in [true, false] {
        order.clear();
        let signed = group.iter().filter(|i| Some(**i) != left_out).map(|i| ratios[*i][h]);
        order.extend(signed.filter(|r| if positive { *r > 1.0 } else { *r < 1.0 }));
        order.sort_by(|a, b| if positive { b.total_cmp(a) } else { a.total_cmp(b) });
        for (n, ratio) in order.iter().enumerate() {
            product *= (0..n).fold(*ratio, |r, _| r.sqrt());
        }
    }
    product
}

/// One column of weights per item of evidence.
pub(crate) fn columns(knowledge: &Knowledge, evidence: &Evidence) -> Vec<Column> {
    evidence.items.iter().map(|item| Column::new(knowledge, item)).collect()
}

/// Ledger of one hypothesis: decibans per item, groups discounted. They sum to its evidence total.
pub(crate) fn ledger(knowledge: &Knowledge, evidence: &Evidence, columns: &[Column], h: Hypothesis) -> Vec<f64> {
    let raw: Vec<f64> = columns.iter().map(|c| decibans(c.ratio(knowledge, h))).collect();
    let mut counted = raw.clone();
    discount(&evidence.groups, &raw, &mut counted);
    counted
}

/// Weights of one group with the same sign count 1, ½, ¼ … from the largest; ties go by knowledge order.
fn discount(groups: &[Vec<usize>], raw: &[f64], counted: &mut [f64]) {
    for group in groups {
        for positive in [true, false] {
            let mut order: Vec<usize> = group.iter().copied().filter(|i| if positive { raw[*i] > 0.0 } else { raw[*i] < 0.0 }).collect();
            order.sort_by(|a, b| raw[*b].abs().total_cmp(&raw[*a].abs()).then(a.cmp(b)));
            let mut factor = 1.0;
            for i in order {
                counted[i] = raw[i] * factor;
                factor *= 0.5;
            }
        }
    }
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

    /// What one more, ungrouped piece of evidence would do: its probability as a ratio to that under `unlisted`, and how far each
    /// cause would be involved after it.
    pub(crate) fn after(&self, knowledge: &Knowledge, column: &Column) -> (f64, Vec<f64>) {
        let mut mass = column.ratios(knowledge, &self.members);
        mass.iter_mut().zip(&self.probability).for_each(|(m, p)| *m *= p);
        let ratio = mass.iter().sum();
        normalise(&mut mass);
        (ratio, self.involvement(&mass))
    }
}
