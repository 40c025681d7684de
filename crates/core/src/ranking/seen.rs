//! What the signs of a case already settle: how far one of a pair shows them by itself, and which
//! outcomes of a check cannot come.

use super::pair::pair_of_finding;
use crate::evidence::{Confidence, Evidence, Source};
use crate::knowledge::{CauseId, FindingId, FixId, Knowledge};
use crate::learning::Links;
use std::sync::Arc;

/// What was seen, as far as other evidence hangs on it.
#[derive(Debug, Clone, Default)]
pub struct Seen {
    /// Signs: findings in a state that is neither absent nor sound.
    signs: Vec<(FindingId, usize)>,
    /// Every finding told with more than a hunch.
    told: Vec<(FindingId, usize)>,
    /// Fixes that cured and came undone.
    undone: Vec<FixId>,
    /// Links that were learned; the book's where there are none.
    links: Option<Arc<Links>>,
}

impl Seen {
    /// What the evidence of a case says. Tries are left out: they are what is to be explained.
    pub fn of(knowledge: &Knowledge, evidence: &Evidence) -> Self {
        let links = evidence.learned.as_ref().and_then(|l| l.links());
        let mut seen = Self {
            links: links.cloned(),
            ..Self::default()
        };
        for item in &evidence.items {
            if let Source::Tried(_, tried) = item.source
                && tried.came_undone
            {
                seen.undone.push(tried.fix);
            }
            let Source::Finding(f, sighting) = item.source else {
                continue;
            };
            let finding = knowledge.finding(f);
            let (Some(state), None) = (likeliest(&item.weights), finding.also_fix) else {
                continue;
            };
            if !finding.is_sound(state) {
                seen.signs.push((f, state));
            }
            if !sighting.answer.states().is_empty() && sighting.confidence != Confidence::Hunch {
                seen.told.push((f, state));
            }
        }
        seen
    }

    /// P(state | cause) for all states of a finding, as learned where it was.
    pub fn states<'a>(
        &'a self,
        knowledge: &'a Knowledge,
        cause: CauseId,
        finding: FindingId,
    ) -> &'a [f64] {
        let learned = self.links.as_ref().and_then(|l| l.get(cause, finding));
        learned.map_or_else(|| knowledge.table.states(cause, finding), |l| &l.states)
    }

    /// Whether a fix cured once and came undone.
    pub fn came_undone(&self, fix: FixId) -> bool {
        self.undone.contains(&fix)
    }

    /// How far the second of a pair shows by itself what is seen, when the first is mended.
    ///
    /// # Formula
    /// q = Π over the signs of min(1, L(sign | left) / L(sign | both))
    pub fn shown_by(&self, knowledge: &Knowledge, mended: CauseId, left: CauseId) -> f64 {
        let share = |&(f, state): &(FindingId, usize)| {
            let both = pair_of_finding(knowledge, self, f, (mended, left), state);
            (self.states(knowledge, left, f)[state] / both).min(1.0)
        };
        self.signs.iter().map(share).product()
    }

    /// Whether an outcome of a check cannot stand beside what was told.
    pub fn rules_out(&self, knowledge: &Knowledge, outcome: FindingId, state: usize) -> bool {
        let Some(check) = knowledge.finding(outcome).check else {
            return false;
        };
        let excludes = &knowledge.check(check).excludes[state];
        excludes.iter().any(|sign| self.told.contains(sign))
    }
}

/// The first of the heaviest states.
fn likeliest(weights: &[f64]) -> Option<usize> {
    (0..weights.len()).reduce(|best, s| if weights[s] > weights[best] { s } else { best })
}
