//! Whether a fix made the fault weaker or rarer: prints since it, as far as they were told.

use super::state::CaseState;
use crate::knowledge::{FixId, TryResult};

/// Prints a step better than the kept piece that show an improvement.
const BETTER: u32 = 2;
/// Chance that the fault strikes less often than before, from which that may be said.
const RARER: f64 = 0.9;

/// Prints since the last fix.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Since {
    /// The fix; none where it has no name in the knowledge.
    pub fix: Option<FixId>,
    /// Its name in the workshop's own words, where it has one of these.
    pub own: Option<String>,
    /// Prints told of.
    pub prints: u32,
    /// Those that showed the fault.
    pub strikes: u32,
    /// Those that showed it weaker.
    pub better: u32,
}

impl Since {
    /// No print yet.
    pub(super) fn fix(fix: Option<FixId>) -> Self {
        Self {
            fix,
            own: None,
            prints: 0,
            strikes: 0,
            better: 0,
        }
    }

    /// No print yet of a fix in the workshop's own words.
    pub(super) fn own(name: &str) -> Self {
        Self {
            own: Some(name.to_string()),
            ..Self::fix(None)
        }
    }

    /// A print more.
    pub(super) fn print(&mut self, result: TryResult) {
        self.prints += 1;
        self.strikes += u32::from(result != TryResult::Cured);
        self.better += u32::from(result == TryResult::Better);
    }
}

impl CaseState {
    /// Chance that the fault strikes less often than before the last fix; none before a print.
    pub fn rarer(&self) -> Option<f64> {
        let since = self.since.as_ref().filter(|s| s.prints > 0)?;
        let share = self.struck().strikes().share();
        Some(share.struck_less(since.strikes, since.prints))
    }

    /// Whether "improved" may be said: two prints a step better than the kept piece, or the fault
    /// strikes less often than before with 90 %.
    pub fn improved(&self) -> bool {
        let better = self.since.as_ref().is_some_and(|s| s.better >= BETTER);
        better || self.rarer().is_some_and(|p| p >= RARER)
    }

    /// The last fix, where prints showed the fault since and more of them may be told.
    pub fn weakened_by(&self) -> Option<FixId> {
        let since = self.since.as_ref().filter(|s| s.strikes > 0)?;
        since.fix.filter(|_| !self.resolved())
    }
}
