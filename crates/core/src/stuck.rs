//! When nothing helps: three fixes without effect, or facts that do not fit together. Then the
//! first facts are looked at again, those first on which most hangs.

use crate::case::CaseState;
use crate::evidence::{Evidence, Facts, Source};
use crate::knowledge::{CauseId, FindingId, Knowledge};
use crate::ranking::{LineUp, posterior};

/// So many fixes in a row without effect are enough.
pub const IN_VAIN: usize = 3;
/// Facts shown at most.
const SHOWN: usize = 6;
/// A fact on which less than this hangs is not asked for again.
const HANGS: f64 = 0.02;

/// Stuck one is stuck.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Stuck {
    /// So many fixes in a row changed nothing.
    InVain(usize),
    /// The facts surprise by so many decibans.
    Contradiction(f64),
}

/// Whether a case is stuck, and why.
pub fn stuck(case: &CaseState, line_up: &LineUp) -> Option<Stuck> {
    let in_vain = case.in_vain();
    if in_vain >= IN_VAIN {
        return Some(Stuck::InVain(in_vain));
    }
    line_up
        .pulls_apart()
        .map(|_| Stuck::Contradiction(line_up.surprise.decibans))
}

/// A fact, and what the line-up would be without it.
#[derive(Debug, Clone, PartialEq)]
pub struct FactThatMatters {
    /// The finding.
    pub finding: FindingId,
    /// Who would lead without it.
    pub leader: CauseId,
    /// With which probability.
    pub probability: f64,
    /// The leader would be another.
    pub turns: bool,
    /// Probability that moves from one hypothesis to another: 0 to 1.
    pub moves: f64,
}

/// Facts on which most hangs, weightiest first: taken away, they move the line-up most. A person
/// looks at these again first.
pub fn what_matters(
    knowledge: &Knowledge,
    facts: &Facts,
    line_up: &LineUp,
) -> Vec<FactThatMatters> {
    let leader = line_up.leader().map(|l| l.cause);
    let told = line_up
        .evidence
        .items
        .iter()
        .filter_map(|item| match item.source {
            Source::Finding(f, _) if facts.findings.contains_key(&f) => Some(f),
            _ => None,
        });
    let without = |finding: FindingId| {
        let mut fewer = facts.clone();
        fewer.findings.remove(&finding);
        let then = posterior(knowledge, &Evidence::of(knowledge, &fewer), true);
        let moves = then
            .probability
            .iter()
            .zip(&line_up.posterior.probability)
            .map(|(a, b)| (a - b).abs())
            .sum::<f64>()
            / 2.0;
        let involved = then.involved();
        let (mut who, mut most) = (CauseId(0), -1.0);
        for c in knowledge
            .cause_ids()
            .filter(|c| knowledge.cause(*c).consequence_of.is_empty())
        {
            if involved[c.at()] > most {
                (who, most) = (c, involved[c.at()]);
            }
        }
        FactThatMatters {
            finding,
            leader: who,
            probability: most,
            turns: Some(who) != leader,
            moves,
        }
    };
    let mut matters: Vec<FactThatMatters> =
        told.map(without).filter(|m| m.moves >= HANGS).collect();
    matters.sort_by(|a, b| {
        b.turns
            .cmp(&a.turns)
            .then(b.moves.total_cmp(&a.moves))
            .then(a.finding.cmp(&b.finding))
    });
    matters.truncate(SHOWN);
    matters
}
