//! How likely each suspect is: every cause alone, pairs of causes, and `unlisted`, weighed by the
//! evidence.
//!
//! Weights of evidence are additive (I. J. Good): for each hypothesis the posterior log-odds
//! against `unlisted` are the prior's plus the sum of its ledger, in decibans. See `docs/DESIGN.md`
//! for the reasons of each number.

mod groups;
mod hypothesis;
mod likelihood;
mod line_up;
mod members;
mod pair;
mod seen;
mod weigh;

pub use hypothesis::{Hypothesis, P_PAIRS, P_UNLISTED, priors};
pub use line_up::{CauseLine, LineUp, PairLine, PullsApart, Surprise, rank, rank_plain};
pub use seen::Seen;

use crate::evidence::Evidence;
use crate::knowledge::{CauseId, FixId, Knowledge};
use crate::learning::Learned;
pub(crate) use groups::{columns, ledger};
pub(crate) use likelihood::{Column, SOUND_THOUGH_GUILTY};
use members::Members;
pub(crate) use pair::{pair_states, tried_of};
use std::sync::Arc;
pub(crate) use weigh::weigh;
use weigh::{normalise, sum};

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
    /// What was seen, as far as the outcomes of further steps hang on it.
    pub seen: Seen,
    /// Per item r_f: how far it agrees with the rest, in decibans; empty unless a line-up was made.
    pub agreement: Vec<f64>,
    /// What outcomes taught, as far as the priors hang on it.
    pub learned: Option<Arc<Learned>>,
    causes: usize,
    members: Members,
}

/// Share of its chance that is left to a fix that came undone once.
const AGAIN: f64 = 0.3;

/// Weighs the evidence for every hypothesis. Without the agreement of each item with the rest,
/// which only a line-up shows.
pub fn posterior(knowledge: &Knowledge, evidence: &Evidence, with_pairs: bool) -> Posterior {
    weigh(
        knowledge,
        evidence,
        &columns(knowledge, evidence),
        with_pairs,
        false,
    )
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

    /// Chance that a fix cures a cause: as learned where it was used, else the book's; a third of
    /// it where the fix cured before and came undone.
    pub fn cure(&self, knowledge: &Knowledge, fix: FixId, cause: CauseId) -> f64 {
        let learned = self.learned.as_ref().and_then(|l| l.cure(fix, cause));
        let chance = learned.map_or_else(|| knowledge.cure(fix, cause), |l| l.chance);
        match self.seen.came_undone(fix) {
            true => AGAIN * chance,
            false => chance,
        }
    }

    /// Where the pairs begin among the hypotheses.
    fn first_pair(&self) -> usize {
        self.hypotheses.len() - self.members.pairs
    }

    fn involvement(&self, mass: &[f64]) -> Vec<f64> {
        let mut out = vec![0.0; self.causes];
        let (ones, mut twos) = mass[1..].split_at(self.members.ones.len());
        self.members
            .ones
            .iter()
            .zip(ones)
            .for_each(|(c, p)| out[*c as usize] += p);
        for run in &self.members.runs {
            let (pairs, behind) = twos.split_at(run.many as usize);
            out[run.first as usize] += sum(pairs.len(), |p| pairs[p]);
            out[run.from as usize..]
                .iter_mut()
                .zip(pairs)
                .for_each(|(o, p)| *o += p);
            twos = behind;
        }
        out
    }

    /// `unlisted` and the `kept` likeliest other hypotheses, by index, likeliest first.
    pub fn likeliest(&self, kept: usize) -> Vec<usize> {
        let mut order: Vec<usize> = (1..self.hypotheses.len()).collect();
        let by_mass = |a: &usize, b: &usize| {
            self.probability[*b]
                .total_cmp(&self.probability[*a])
                .then(a.cmp(b))
        };
        if order.len() > kept {
            order.select_nth_unstable_by(kept, by_mass);
            order.truncate(kept);
        }
        order.sort_by(by_mass);
        std::iter::once(0).chain(order).collect()
    }

    /// Surprise: how much `unlisted` has risen, in decibans.
    pub fn surprise(&self) -> f64 {
        decibans(self.probability[0] / P_UNLISTED)
    }

    /// What one more, ungrouped piece of evidence would do: its probability as a ratio to that
    /// under `unlisted`, and how far each cause would be involved after it.
    pub(crate) fn after(&self, knowledge: &Knowledge, column: &Column) -> (f64, Vec<f64>) {
        let (mut mass, mut pairs) = (Vec::with_capacity(self.probability.len()), Vec::new());
        column.ratios_alone(&self.members, &mut mass);
        column.ratios_of_pairs(
            knowledge,
            &column.pair_table(),
            &self.members.runs,
            &mut pairs,
        );
        mass.append(&mut pairs);
        mass.iter_mut()
            .zip(&self.probability)
            .for_each(|(m, p)| *m *= p);
        let ratio = normalise(&mut mass);
        (ratio, self.involvement(&mass))
    }
}
