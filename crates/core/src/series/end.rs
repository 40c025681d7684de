//! How a series ends.

use super::Series;
use crate::knowledge::{FixId, FixKind, Knowledge};
use serde::{Deserialize, Serialize};

/// Fixes proposed to a case at most.
const MOST_FIXES: usize = 3;

/// What a series found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum How {
    /// What is guilty is known and put back.
    Solved,
    /// The whole list is cleared.
    Elsewhere,
    /// It comes and goes by itself.
    ComesAndGoes,
    /// The old values stay: cheaper than finding out.
    LivingWithIt,
    /// Left unfinished.
    LeftOff,
}

impl How {
    /// Every end, with its identifier.
    pub const ALL: [(How, &'static str); 5] = [
        (How::Solved, "solved"),
        (How::Elsewhere, "elsewhere"),
        (How::ComesAndGoes, "comes-and-goes"),
        (How::LivingWithIt, "living-with-it"),
        (How::LeftOff, "left-off"),
    ];

    /// By its identifier.
    pub fn of(id: &str) -> Option<How> {
        How::ALL
            .iter()
            .find(|(_, known)| *known == id)
            .map(|(how, _)| *how)
    }
}

/// A setting to keep.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Keep {
    /// Which.
    pub name: String,
    /// At which value, in words.
    pub value: String,
    /// It is the old value.
    pub old: bool,
}

impl Series {
    /// Fixes that a solved series proposes to its case: for each difference that goes back, the
    /// one that cures its causes most surely. Only a print of the case's own model proves them.
    pub fn fixes(&self, knowledge: &Knowledge) -> Vec<FixId> {
        let Some((How::Solved, keep, _)) = &self.ended else {
            return Vec::new();
        };
        let guilty = keep.iter().filter(|k| k.old);
        let listed = guilty.filter_map(|k| self.list.iter().find(|l| l.difference.name == k.name));
        let causes = listed.flat_map(|l| &l.causes);
        let causes = causes.filter_map(|id| knowledge.cause_id(id));
        let mut fixes: Vec<FixId> = Vec::new();
        for cause in causes {
            let all = knowledge.fix_ids();
            let mends = all.filter(|x| knowledge.fix(*x).kind != FixKind::WorkAround);
            let best = mends.max_by(|a, b| {
                let cures = |x: &FixId| knowledge.cure(*x, cause);
                cures(a).total_cmp(&cures(b)).then(b.at().cmp(&a.at()))
            });
            if let Some(best) = best.filter(|x| knowledge.cure(*x, cause) > 0.0)
                && !fixes.contains(&best)
            {
                fixes.push(best);
            }
        }
        fixes.truncate(MOST_FIXES);
        fixes
    }
}
