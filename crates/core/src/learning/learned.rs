//! What a ranking reads of what was learned: numbers of one machine, and no cases.

use super::MOST_FACTOR;
use super::cures::{LINKS_FROM, Use};
use super::links::Links;
use crate::knowledge::{CauseId, FixId, Knowledge, StopTerm};
use std::collections::BTreeMap;
use std::sync::Arc;

/// Factor of rates and factor of wear together lie within this many times the book.
const MOST_TOGETHER: f64 = 2.0 * MOST_FACTOR;

/// What was counted for a cause on one level, and what was expected there.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Counted {
    /// Counted.
    pub n: f64,
    /// Expected by the levels above.
    pub expected: f64,
}

/// What was learned of a cause on a machine.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LearnedCause {
    /// What its weight is multiplied by, wear included.
    pub factor: f64,
    /// The part of the factor that hours of its parts bring.
    pub wear: f64,
    /// The part of the factor that what is wrong with its kind brings.
    pub quirk: f64,
    /// On this machine.
    pub machine: Counted,
    /// On machines of its kind.
    pub kind: Counted,
    /// In the whole shop.
    pub shop: Counted,
}

impl Default for LearnedCause {
    fn default() -> Self {
        LearnedCause {
            factor: 1.0,
            wear: 1.0,
            quirk: 1.0,
            machine: Counted::default(),
            kind: Counted::default(),
            shop: Counted::default(),
        }
    }
}

/// How often a fix was used for a cause, and what the chance of a cure is by it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LearnedCure {
    /// The chance, the book's ten uses counted.
    pub chance: f64,
    /// Uses, each weighed by the chance that it was this cause.
    pub uses: f64,
    /// Those that cured, weighed so; improved ones half.
    pub worked: f64,
}

/// Why a machine's book makes a cause likelier or less likely.
#[derive(Debug, Clone, PartialEq)]
pub struct Reason {
    /// The cause.
    pub cause: CauseId,
    /// What its weight is multiplied by.
    pub factor: f64,
    /// Why.
    pub why: Why,
}

/// What of the book it is.
#[derive(Debug, Clone, PartialEq)]
pub enum Why {
    /// Hours of a part.
    Part {
        /// Which.
        part: &'static str,
        /// Hours it ran.
        hours: f64,
        /// Its usual life.
        usual: f64,
    },
    /// Something wrong with its kind, not mended: its name.
    Quirk(String),
}

/// Numbers learned for one machine. Without any the book speaks.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Learned {
    causes: Vec<LearnedCause>,
    cures: BTreeMap<(FixId, CauseId), LearnedCure>,
    /// Closed cases that counted.
    pub cases: usize,
    reasons: Vec<Reason>,
    links: Option<Arc<Links>>,
    /// The same numbers in use, where they rest: shown, and not reckoned with.
    awake: Option<Arc<Learned>>,
}

impl Learned {
    /// Numbers by cause, in knowledge order. A cause that speaks for a stop is never made less
    /// likely by them.
    pub fn new(knowledge: &Knowledge, mut causes: Vec<LearnedCause>, cases: usize) -> Self {
        causes.resize(knowledge.causes.len(), LearnedCause::default());
        for (cause, dangerous) in causes.iter_mut().zip(dangerous(knowledge)) {
            let least = if dangerous { 1.0 } else { 1.0 / MOST_TOGETHER };
            cause.factor = (cause.factor * cause.wear).clamp(least, MOST_TOGETHER);
        }
        Self {
            causes,
            cases,
            ..Self::default()
        }
    }

    /// With what the machine's book says: hours of worn parts, what is wrong with its kind.
    #[must_use]
    pub fn with_reasons(mut self, knowledge: &Knowledge, reasons: Vec<Reason>) -> Self {
        let dangerous = dangerous(knowledge);
        self.causes
            .resize(knowledge.causes.len(), LearnedCause::default());
        for reason in &reasons {
            let at = reason.cause.at();
            let (Some(cause), Some(dangerous)) = (self.causes.get_mut(at), dangerous.get(at))
            else {
                continue;
            };
            match &reason.why {
                Why::Part { .. } => cause.wear *= reason.factor,
                Why::Quirk(_) => cause.quirk *= reason.factor,
            }
            let least = if *dangerous { 1.0 } else { 1.0 / MOST_TOGETHER };
            cause.factor = (cause.factor * reason.factor).clamp(least, MOST_TOGETHER);
        }
        self.reasons = reasons;
        self
    }

    /// What the machine's book says of a cause.
    pub fn reasons(&self, cause: CauseId) -> impl Iterator<Item = &Reason> {
        self.reasons.iter().filter(move |r| r.cause == cause)
    }

    /// With uses of fixes.
    #[must_use]
    pub fn with_uses(
        mut self,
        knowledge: &Knowledge,
        uses: impl IntoIterator<Item = (FixId, CauseId, Use)>,
    ) -> Self {
        for (fix, cause, Use { weight, success }) in uses {
            if knowledge.cure(fix, cause) <= 0.0 {
                continue;
            }
            let cure = self.cures.entry((fix, cause)).or_insert(LearnedCure {
                chance: 0.0,
                uses: 0.0,
                worked: 0.0,
            });
            cure.uses += weight;
            cure.worked += weight * success;
        }
        for ((fix, cause), cure) in &mut self.cures {
            let all = Use {
                weight: cure.uses,
                success: if cure.uses > 0.0 {
                    cure.worked / cure.uses
                } else {
                    0.0
                },
            };
            cure.chance = super::cures::cures(knowledge.cure(*fix, *cause), [all]);
        }
        self
    }

    /// With looks; a shop of few cases keeps the book's links.
    #[must_use]
    pub fn with_links(mut self, links: Arc<Links>) -> Self {
        self.links = Some(links).filter(|l| self.cases >= LINKS_FROM && !l.is_empty());
        self
    }

    /// Learned links; none while the book's hold.
    pub fn links(&self) -> Option<&Arc<Links>> {
        self.links.as_ref()
    }

    /// These numbers shown and not used, since the book did better: what is counted stays, factors,
    /// cures and links are the book's. What the machine's own book says goes on.
    #[must_use]
    pub fn at_rest(self, knowledge: &Knowledge) -> Self {
        let mut resting = self.clone();
        for cause in &mut resting.causes {
            (cause.factor, cause.wear, cause.quirk) = (1.0, 1.0, 1.0);
        }
        for ((fix, cause), cure) in &mut resting.cures {
            cure.chance = knowledge.cure(*fix, *cause);
        }
        resting.links = None;
        let reasons = std::mem::take(&mut resting.reasons);
        resting.awake = Some(Arc::new(self));
        resting.with_reasons(knowledge, reasons)
    }

    /// Whether the numbers rest.
    pub fn rests(&self) -> bool {
        self.awake.is_some()
    }

    /// The numbers as they are used while they do not rest.
    #[must_use]
    pub fn awake(self: &Arc<Self>) -> Arc<Self> {
        self.awake.clone().unwrap_or_else(|| Arc::clone(self))
    }

    /// What was learned of a cause.
    pub fn cause(&self, cause: CauseId) -> LearnedCause {
        self.causes.get(cause.at()).copied().unwrap_or_default()
    }

    /// What the weight of a cause is multiplied by.
    pub fn factor(&self, cause: CauseId) -> f64 {
        self.causes.get(cause.at()).map_or(1.0, |c| c.factor)
    }

    /// What was learned of a fix for a cause; none where it was never used.
    pub fn cure(&self, fix: FixId, cause: CauseId) -> Option<LearnedCure> {
        self.cures.get(&(fix, cause)).copied()
    }
}

/// Causes that speak for a finding on which a stop hangs, by place in the knowledge.
pub fn dangerous(knowledge: &Knowledge) -> Vec<bool> {
    let terms = knowledge
        .stops
        .iter()
        .flat_map(|s| s.holds.iter().flatten());
    let signs: Vec<_> = terms
        .filter_map(|term| match term {
            StopTerm::Finding(finding, state) => Some((*finding, *state)),
            _ => None,
        })
        .collect();
    let speaks = |cause: CauseId| {
        signs.iter().any(|(finding, state)| {
            let background = knowledge.finding(*finding).states[*state].background;
            knowledge.table.linked(cause, *finding)
                && knowledge.table.states(cause, *finding)[*state] > background
        })
    };
    knowledge.cause_ids().map(speaks).collect()
}
