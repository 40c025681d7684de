//! Which sets were printed and seen, and how they looked the last time.

use super::plan::Plan;
use super::set::Set;
use std::collections::HashSet;

/// What pieces proved: of a set, its latest copy decides.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Proofs {
    good: HashSet<Set>,
    all_old_bad: bool,
}

impl Proofs {
    /// A piece with this set old was seen.
    pub(super) fn seen(&mut self, plan: &Plan, set: Set, clean: f64, fault: f64) {
        if clean > fault {
            self.good.insert(set);
        } else {
            self.good.remove(&set);
        }
        if set == plan.all() {
            self.all_old_bad = fault > clean;
        }
    }

    /// Whether the latest copy with only this set old was good.
    pub fn good(&self, set: Set) -> bool {
        self.good.contains(&set)
    }

    /// Whether the latest copy with everything old was bad.
    pub fn all_old_bad(&self) -> bool {
        self.all_old_bad
    }
}
