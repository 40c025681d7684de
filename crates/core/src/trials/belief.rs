//! What is believed of the list: which unit alone, which two together or separately, none, or a
//! fault that comes and goes. Exact: the prior times the likelihood of every piece, normalised.

use super::grade::Likelihood;
use super::pairs::{Pairs, all};
use super::plan::Plan;
use super::set::Set;
use serde::{Deserialize, Serialize};

/// The probabilities of all hypotheses; they sum to one.
#[derive(Debug, Clone, PartialEq)]
pub struct Belief {
    /// None of the list: always the fault.
    pub elsewhere: f64,
    /// Clean or faulty at even odds, whatever is put back.
    pub comes_and_goes: f64,
    /// One unit alone, by number.
    pub alone: Vec<f64>,
    /// The fault while both are new; either put back cures.
    pub(super) together: Pairs,
    /// Two faults of their own, half a cure is seen.
    pub(super) seen: Pairs,
    /// Two faults of their own, half a cure is hidden.
    pub(super) hidden: Pairs,
    pub(super) totals: Totals,
}

/// The sums of the kinds of pairs.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub(super) struct Totals {
    pub together: f64,
    pub seen: f64,
    pub hidden: f64,
}

/// One way in which the list can be guilty.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Hypothesis {
    /// One unit alone.
    Alone(usize),
    /// Two, with half a cure hidden.
    SeparateHidden(usize, usize),
    /// Two, with half a cure seen.
    SeparateSeen(usize, usize),
    /// Two that act together.
    Together(usize, usize),
    /// None of the list.
    Elsewhere,
    /// By itself.
    ComesAndGoes,
}

/// What is to be found out.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Goal {
    /// What to put back.
    #[default]
    Repair,
    /// Which hypothesis holds: a pair by name.
    Name,
}

/// `p·log₂ p`, 0 for nothing.
pub(super) fn plogp(p: f64) -> f64 {
    if p > 1e-12 { p * p.log2() } else { 0.0 }
}

impl Belief {
    /// What is believed before any piece: shares by kind, within them by the weight of the
    /// suspicion, pairs by the product of both and by how likely they are to fight.
    pub fn prior(plan: &Plan) -> Belief {
        let (n, mut shares) = (plan.n(), plan.terms.shares);
        let weight = |i: usize| plan.units[i].weight;
        let mut pairs = Pairs::filled(n, 0.0);
        for (i, j) in all(n) {
            pairs.set(i, j, weight(i) * weight(j) * plan.tie.get(i, j));
        }
        let total = pairs.sum();
        if total > 0.0 {
            pairs.scale(1.0 / total);
        } else {
            // No pair is possible: its shares go to one alone.
            (shares.together, shares.separate) = (0.0, 0.0);
        }
        let weights: f64 = (0..n).map(weight).sum();
        Belief {
            elsewhere: shares.elsewhere,
            comes_and_goes: shares.comes_and_goes,
            alone: (0..n)
                .map(|i| shares.alone() * weight(i) / weights)
                .collect(),
            together: pairs.map(|p| shares.together * p),
            seen: pairs.map(|p| shares.separate / 2.0 * p),
            hidden: pairs.map(|p| shares.separate / 2.0 * p),
            totals: Totals {
                together: shares.together,
                seen: shares.separate / 2.0,
                hidden: shares.separate / 2.0,
            },
        }
    }

    /// After a piece with this set old, that looked as the likelihood says.
    pub fn after(&self, set: Set, said: Likelihood) -> Belief {
        let Likelihood { clean, half, fault } = said;
        let mut next = self.clone();
        next.elsewhere *= fault;
        next.comes_and_goes *= said.fickle();
        for (i, p) in next.alone.iter_mut().enumerate() {
            *p *= if set.has(i) { clean } else { fault };
        }
        next.together.weigh(set, [fault, clean, clean]);
        next.seen.weigh(set, [fault, half, clean]);
        next.hidden.weigh(set, [fault, fault, clean]);
        next.totals = Totals {
            together: next.together.sum(),
            seen: next.seen.sum(),
            hidden: next.hidden.sum(),
        };
        let sum = next.sum();
        next.elsewhere /= sum;
        next.comes_and_goes /= sum;
        next.alone.iter_mut().for_each(|p| *p /= sum);
        for pairs in [&mut next.together, &mut next.seen, &mut next.hidden] {
            pairs.scale(1.0 / sum);
        }
        let Totals {
            together,
            seen,
            hidden,
        } = &mut next.totals;
        for total in [together, seen, hidden] {
            *total /= sum;
        }
        next
    }

    /// The sum over all hypotheses: one.
    pub fn sum(&self) -> f64 {
        let (alone, together, separate) = self.sums();
        self.elsewhere + self.comes_and_goes + alone + together + separate
    }

    /// The probability that the fault is gone when only this unit is put back, by unit.
    pub fn cures(&self) -> Vec<f64> {
        let pairs = self.together.row_sums();
        self.alone.iter().zip(pairs).map(|(a, p)| a + p).collect()
    }

    /// The probability that the unit has a part in it, by unit.
    pub fn involved(&self) -> Vec<f64> {
        let pairs = self.together.plus(&self.seen).plus(&self.hidden).row_sums();
        self.alone.iter().zip(pairs).map(|(a, p)| a + p).collect()
    }

    /// The sums of the kinds: alone, together, separate.
    pub fn sums(&self) -> (f64, f64, f64) {
        let separate = self.totals.seen + self.totals.hidden;
        (self.alone.iter().sum(), self.totals.together, separate)
    }

    /// Two that act together.
    pub fn together(&self, i: usize, j: usize) -> f64 {
        self.together.get(i, j)
    }

    /// Two faults of their own, seen or hidden.
    pub fn separate(&self, i: usize, j: usize) -> f64 {
        self.seen.get(i, j) + self.hidden.get(i, j)
    }

    /// Every hypothesis with its probability.
    pub fn hypotheses(&self) -> Vec<(Hypothesis, f64)> {
        let n = self.alone.len();
        let mut list: Vec<_> = vec![
            (Hypothesis::Elsewhere, self.elsewhere),
            (Hypothesis::ComesAndGoes, self.comes_and_goes),
        ];
        list.extend((0..n).map(|i| (Hypothesis::Alone(i), self.alone[i])));
        for (i, j) in all(n) {
            list.push((Hypothesis::Together(i, j), self.together.get(i, j)));
            list.push((Hypothesis::SeparateSeen(i, j), self.seen.get(i, j)));
            list.push((Hypothesis::SeparateHidden(i, j), self.hidden.get(i, j)));
        }
        list
    }

    /// The uncertainty of the repair classes, bits: a pair that acts together counts half for each
    /// of its two. With the goal to name, every hypothesis is a class of its own.
    pub(super) fn entropy(&self, goal: Goal) -> f64 {
        let of = |pairs: &Pairs| pairs.map(plogp).sum();
        let half = match goal {
            Goal::Repair => self.together.row_sums(),
            Goal::Name => vec![0.0; self.alone.len()],
        };
        let units: f64 = self
            .alone
            .iter()
            .zip(half)
            .map(|(a, h)| plogp(a + h / 2.0))
            .sum();
        let named = match goal {
            Goal::Repair => 0.0,
            Goal::Name => of(&self.together),
        };
        let rest = plogp(self.elsewhere) + plogp(self.comes_and_goes);
        -(units + of(&self.seen) + of(&self.hidden) + named + rest)
    }
}
