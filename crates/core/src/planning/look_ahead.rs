//! What a step is worth: its own cost and the best that can be done after it, one level or two levels deep.

use super::cost::{Present, Workshop, check_cost};
use super::repair::{Done, Network, Scratch};
use super::{Action, state_likelihoods};
use crate::knowledge::{CheckId, FixId, Knowledge};

/// A mass this small is not worth thinking about twice.
const NEXT_TO_NOTHING: f64 = 1e-4;

/// Where one stands: who may still be at it, what state the machine is in, which fixes are out.
pub(super) struct Situation {
    pub mass: Vec<f64>,
    pub present: Present,
    pub fixes: Done,
}

/// Expected counted minutes from here to the end when a step is done first, and the mass it cures now.
#[derive(Debug, Clone, Copy)]
pub(super) struct Worth {
    pub value: f64,
    pub cures: f64,
}

/// Reckons what steps are worth from one place in a case.
pub(super) struct LookAhead<'a> {
    knowledge: &'a Knowledge,
    network: &'a Network,
    workshop: &'a Workshop,
    /// P(state | hypothesis) of the checks looked at so far.
    likelihoods: Vec<Option<Vec<Vec<f64>>>>,
    scratch: Scratch,
}

impl<'a> LookAhead<'a> {
    pub fn new(knowledge: &'a Knowledge, network: &'a Network, workshop: &'a Workshop) -> Self {
        Self { knowledge, network, workshop, likelihoods: vec![None; knowledge.checks.len()], scratch: Scratch::default() }
    }

    /// Expected cost of fixes alone.
    pub fn fixes_alone(&mut self, here: &Situation) -> f64 {
        self.network.repair(&here.mass, &here.fixes, here.present, &mut self.scratch).cost
    }

    /// What a step is worth when after it only fixes follow, or one of `then` and after that fixes.
    pub fn worth(&mut self, here: &Situation, action: Action, then: &[Action]) -> Worth {
        let total: f64 = here.mass.iter().sum();
        match action {
            Action::Check(check) => self.check(here, check, total, then),
            Action::Fix(fix) => {
                let mut mass = here.mass.clone();
                let cures = self.network.apply(&mut mass, fix, &mut Vec::new());
                let mut fixes = here.fixes.clone();
                fixes[fix.at()] = true;
                let after = Situation { mass, present: Present::PRINTED, fixes };
                Worth { value: self.network.cost(fix, here.present) * total + self.best(&after, action, then), cures }
            }
            // Nothing follows on giving up, and a stop is cleared before anything is planned.
            Action::GiveUp | Action::ClearStop(_) => Worth { value: self.workshop.give_up * total, cures: 0.0 },
        }
    }

    fn check(&mut self, here: &Situation, check: CheckId, total: f64, then: &[Action]) -> Worth {
        let known = self.knowledge.check(check);
        let (cost, present) = check_cost(known, here.present, self.workshop);
        let mut fixes = here.fixes.clone();
        if let Some(fix) = self.knowledge.finding(known.finding).also_fix {
            fixes[fix.at()] = true;
        }
        // Taken out while it is read, as reckoning deeper may look at other checks.
        let likelihoods = self.likelihoods[check.at()]
            .take()
            .unwrap_or_else(|| state_likelihoods(self.knowledge, self.network.hypotheses(), known.finding));
        let mut worth = Worth { value: cost * total, cures: 0.0 };
        let mut after = Situation { mass: vec![0.0; here.mass.len()], present, fixes };
        for (state, column) in likelihoods.iter().enumerate() {
            for (m, (before, l)) in after.mass.iter_mut().zip(here.mass.iter().zip(column)) {
                *m = before * l;
            }
            if known.ends_case.contains(&state) {
                worth.cures += after.mass.iter().sum::<f64>();
            } else {
                worth.value += self.best(&after, Action::Check(check), then);
            }
        }
        self.likelihoods[check.at()] = Some(likelihoods);
        worth
    }

    /// The least expected cost from a situation: fixes alone, or one of the steps given before them.
    fn best(&mut self, here: &Situation, done: Action, then: &[Action]) -> f64 {
        let mut best = self.fixes_alone(here);
        if then.is_empty() || here.mass.iter().sum::<f64>() < NEXT_TO_NOTHING {
            return best;
        }
        for step in then {
            let out = *step == done || matches!(step, Action::Fix(fix) if here.fixes[fix.at()]) || self.tries_done(*step, here);
            if !out {
                best = best.min(self.worth(here, *step, &[]).value);
            }
        }
        best
    }

    /// A check that would try a fix which is already out.
    fn tries_done(&self, step: Action, here: &Situation) -> bool {
        let Action::Check(check) = step else { return false };
        let tries: Option<FixId> = self.knowledge.finding(self.knowledge.check(check).finding).also_fix;
        tries.is_some_and(|fix| here.fixes[fix.at()])
    }
}
