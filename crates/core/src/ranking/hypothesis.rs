//! Who did it: the hypotheses and how likely each is before any evidence.

use crate::knowledge::{CauseId, Knowledge};
use crate::learning::Learned;
use crate::profile::Context;

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

/// Hypotheses with their priors in a context: by the book, or with what was learned.
pub fn priors(
    knowledge: &Knowledge,
    context: &Context,
    learned: Option<&Learned>,
    with_pairs: bool,
) -> (Vec<Hypothesis>, Vec<f64>) {
    let weight = |c| knowledge.weight(c, context) * learned.map_or(1.0, |l| l.factor(c));
    let weights: Vec<f64> = knowledge.cause_ids().map(weight).collect();
    let total: f64 = weights.iter().sum();
    let most = 1 + weights.len() + if with_pairs { knowledge.pairs.len() } else { 0 };
    let (mut hypotheses, mut prior) = (Vec::with_capacity(most), Vec::with_capacity(most));
    hypotheses.push(Hypothesis::Unlisted);
    prior.push(P_UNLISTED);
    for c in knowledge.cause_ids().filter(|c| weights[c.at()] > 0.0) {
        hypotheses.push(Hypothesis::One(c));
        prior.push(weights[c.at()] / total);
    }
    let singles = prior.len();
    let mut pair_total = 0.0;
    if with_pairs {
        for &(i, j) in &knowledge.pairs {
            let product = weights[i.at()] * weights[j.at()];
            if product > 0.0 {
                hypotheses.push(Hypothesis::Two(i, j));
                prior.push(product);
                pair_total += product;
            }
        }
    }
    let share = 1.0 - P_UNLISTED - if pair_total > 0.0 { P_PAIRS } else { 0.0 };
    prior[1..singles].iter_mut().for_each(|p| *p *= share);
    prior[singles..]
        .iter_mut()
        .for_each(|p| *p *= P_PAIRS / pair_total);
    (hypotheses, prior)
}
