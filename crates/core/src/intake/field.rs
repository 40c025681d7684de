//! The field of those in question, and how much an answer is expected to narrow it.

use crate::evidence::Confidence;
use crate::knowledge::{FindingId, Knowledge};
use crate::planning::state_likelihoods;
use crate::ranking::{Hypothesis, Posterior, Seen};

/// Hypotheses looked at: the likeliest, and `unlisted`.
const KEPT: usize = 64;

/// The likeliest hypotheses with their probabilities, which sum to 1.
pub(super) struct Field {
    pub hypotheses: Vec<Hypothesis>,
    pub mass: Vec<f64>,
    pub seen: Seen,
}

impl Field {
    pub fn of(posterior: &Posterior) -> Self {
        let kept = posterior.likeliest(KEPT);
        let total: f64 = kept.iter().map(|h| posterior.probability[*h]).sum();
        Self {
            hypotheses: kept.iter().map(|h| posterior.hypotheses[*h]).collect(),
            mass: kept
                .iter()
                .map(|h| posterior.probability[*h] / total)
                .collect(),
            seen: posterior.seen.clone(),
        }
    }

    /// How many are in question: as many equally likely ones would be as hard to tell apart.
    ///
    /// # Formula
    /// 2^H, H the entropy in bits
    pub fn in_question(&self) -> f64 {
        entropy(&self.mass).exp2()
    }

    /// Bits that an answer to a finding is expected to tell.
    ///
    /// # Formula
    /// I(hypothesis; answer) = H(answer) − Σ_h P(h)·H(answer | h), the answer given with this
    /// confidence: the true state with γ, else any state alike
    pub fn information(
        &self,
        knowledge: &Knowledge,
        finding: FindingId,
        confidence: Confidence,
    ) -> f64 {
        let mut columns = state_likelihoods(
            knowledge,
            &self.seen,
            self.hypotheses.iter().copied(),
            finding,
        );
        let (gamma, any) = (
            confidence.gamma(),
            (1.0 - confidence.gamma()) / columns.len() as f64,
        );
        columns
            .iter_mut()
            .flatten()
            .for_each(|l| *l = gamma * *l + any);
        self.tells(&columns)
    }

    /// Bits that an observation tells whose chances are given by outcome and hypothesis.
    pub fn tells(&self, columns: &[Vec<f64>]) -> f64 {
        let outcomes: Vec<f64> = columns
            .iter()
            .map(|c| c.iter().zip(&self.mass).map(|(l, m)| l * m).sum())
            .collect();
        let left: f64 = self
            .mass
            .iter()
            .enumerate()
            .map(|(h, m)| m * entropy_of(columns.iter().map(|c| c[h])))
            .sum();
        (entropy(&outcomes) - left).max(0.0)
    }
}

/// Entropy in bits.
pub(super) fn entropy(shares: &[f64]) -> f64 {
    entropy_of(shares.iter().copied())
}

fn entropy_of(shares: impl Iterator<Item = f64>) -> f64 {
    shares.filter(|p| *p > 0.0).map(|p| -p * p.log2()).sum()
}
