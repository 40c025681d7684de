//! What a step is worth: its own cost and the best that can be done after it, one level or two
//! levels deep.

use super::Action;
use super::cost::Present;
use super::network::{Done, Network, Test};
use super::open::Out;
use super::repair::Scratch;
use crate::knowledge::{CheckId, FixId};

/// A mass this small is not worth thinking about twice.
const NEXT_TO_NOTHING: f64 = 1e-4;
/// Steps that differ by less than this are as good: the earlier in knowledge order stands first.
const TIE: f64 = 1e-9;

/// The two leading steps are thought through once more where the second costs less than this much
/// above the first, as a share.
const CLOSE: f64 = 0.02;
/// So many of the best steps are weighed on the third level.
const THIRD_LEVEL: usize = 3;

/// Where one stands: who may still be at it, what state the machine is in, which fixes are out.
#[derive(Debug, Clone)]
pub struct Situation {
    /// Mass of each kept hypothesis.
    pub mass: Vec<f64>,
    /// State of the machine.
    pub present: Present,
    /// Fixes that are out.
    pub fixes: Done,
    /// Checks that are out.
    pub checks: Done,
}

impl Situation {
    /// Where a network starts.
    pub fn start(network: &Network, present: Present, out: Out) -> Self {
        Self {
            mass: network.mass.clone(),
            present,
            fixes: out.fixes,
            checks: out.checks,
        }
    }

    /// Mass not yet cured.
    pub fn total(&self) -> f64 {
        self.mass.iter().sum()
    }

    /// After a fix and its verification: the mass it cured, and where one stands when it did not
    /// cure.
    pub fn after_fix(&self, network: &Network, fix: FixId) -> (f64, Self) {
        let mut after = self.clone();
        let cured = network.apply(&mut after.mass, fix, &mut Vec::new());
        after.present = Present::PRINTED;
        after.fixes[fix.at()] = true;
        (cured, after)
    }

    /// After a check whose outcome is not yet known: [`Situation::observe`] puts it in.
    pub fn after_check(&self, check: CheckId, test: &Test) -> Self {
        let mut after = self.clone();
        after.present = test.costs[self.present.at()].after;
        after.checks[check.at()] = true;
        if let Some(fix) = test.tries {
            after.fixes[fix.at()] = true;
        }
        after
    }

    /// The masses `before`, weighed by the likelihood of what was seen.
    pub fn observe(&mut self, before: &[f64], likelihood: &[f64]) {
        for (m, (before, l)) in self.mass.iter_mut().zip(before.iter().zip(likelihood)) {
            *m = before * l;
        }
    }
}

/// Expected counted minutes from here to the end when a step is done first, and the mass it cures
/// now.
#[derive(Debug, Clone, Copy)]
pub struct Worth {
    /// Expected counted minutes, times the mass.
    pub value: f64,
    /// Mass cured.
    pub cures: f64,
}

/// A step with what it is worth.
#[derive(Debug, Clone, Copy)]
pub struct Weighed {
    /// The step.
    pub action: Action,
    /// One level deep.
    pub once: f64,
    /// As deep as it was thought through.
    pub worth: Worth,
}

/// Reckons what steps are worth from one place in a case.
#[derive(Debug)]
pub struct LookAhead<'a> {
    network: &'a Network,
    scratch: Scratch,
    gains: Vec<f64>,
}

impl<'a> LookAhead<'a> {
    /// A look-ahead over a network.
    pub fn new(network: &'a Network) -> Self {
        Self {
            network,
            scratch: Scratch::default(),
            gains: Vec::new(),
        }
    }

    /// Expected cost of fixes alone.
    pub fn fixes_alone(&mut self, here: &Situation) -> f64 {
        self.network
            .repair(&here.mass, &here.fixes, here.present, &mut self.scratch)
            .cost
    }

    /// All steps there are from here, giving up among them, best first: each thought through one
    /// level deep, the best `second_level` of them two levels, with one another as what may follow,
    /// and the two that lead a third where they are close.
    /// Ties keep knowledge order, checks before fixes.
    pub fn weigh(&mut self, here: &Situation, second_level: usize) -> Vec<Weighed> {
        let network = self.network;
        let checks = network.checks().map(Action::Check);
        let fixes = network
            .useful()
            .iter()
            .map(|x| Action::Fix(FixId(*x as u16)));
        let open: Vec<Action> = checks
            .chain(fixes)
            .filter(|a| !self.out(*a, here))
            .chain([Action::GiveUp])
            .collect();
        let mut steps: Vec<Weighed> = open
            .into_iter()
            .map(|action| {
                let worth = self.worth(here, action, &[]);
                Weighed {
                    action,
                    once: worth.value,
                    worth,
                }
            })
            .collect();
        best_first(&mut steps);
        let best: Vec<Action> = steps
            .iter()
            .map(|s| s.action)
            .filter(|a| *a != Action::GiveUp)
            .take(second_level)
            .collect();
        for step in steps.iter_mut().filter(|s| best.contains(&s.action)) {
            step.worth = self.worth(here, step.action, &[&best]);
        }
        best_first(&mut steps);
        self.settle(here, &mut steps, &best);
        steps
    }

    /// Thinks the two leading steps through a third level deep where the second is hardly dearer.
    fn settle(&mut self, here: &Situation, steps: &mut [Weighed], best: &[Action]) {
        let [first, second, ..] = steps else { return };
        let close = second.worth.value < first.worth.value * (1.0 + CLOSE);
        let thought = |s: &Weighed| best.contains(&s.action);
        if !close || !thought(first) || !thought(second) {
            return;
        }
        let third = &best[..best.len().min(THIRD_LEVEL)];
        for step in [first, second] {
            step.worth = self.worth(here, step.action, &[best, third]);
        }
        best_first(&mut steps[..2]);
    }

    /// The best step from here among a few: the checks given, the fixes that gain most per minute,
    /// giving up. One level deep.
    pub fn best_of(&mut self, here: &Situation, checks: &[CheckId], fixes: usize) -> Action {
        self.network.gains(&here.mass, &mut self.gains);
        let per_minute = self.network.per_minute(here.present);
        let mut promising: Vec<usize> = self
            .network
            .useful()
            .iter()
            .copied()
            .filter(|x| !here.fixes[*x])
            .collect();
        promising.sort_by(|a, b| {
            (self.gains[*b] * per_minute[*b])
                .total_cmp(&(self.gains[*a] * per_minute[*a]))
                .then(a.cmp(b))
        });
        let fixes = promising
            .into_iter()
            .take(fixes)
            .map(|x| Action::Fix(FixId(x as u16)));
        let (mut best, mut least) = (Action::GiveUp, self.network.give_up * here.total());
        for action in checks
            .iter()
            .map(|c| Action::Check(*c))
            .chain(fixes)
            .filter(|a| !self.out(*a, here))
            .collect::<Vec<_>>()
        {
            let value = self.worth_within(here, action, &[], least).value;
            if value < least - TIE {
                (best, least) = (action, value);
            }
        }
        best
    }

    /// What a step is worth when after it fixes follow, or first one step of each level of `then`.
    pub fn worth(&mut self, here: &Situation, action: Action, then: &[&[Action]]) -> Worth {
        self.worth_within(here, action, then, f64::INFINITY)
    }

    /// The same, given up as infinite once it is known to cost `limit` or more.
    fn worth_within(
        &mut self,
        here: &Situation,
        action: Action,
        then: &[&[Action]],
        limit: f64,
    ) -> Worth {
        let total = here.total();
        match action {
            Action::Check(check) => self.check(here, check, total, then, limit),
            Action::Fix(fix) => {
                let (cures, after) = here.after_fix(self.network, fix);
                Worth {
                    value: self.network.cost(fix, here.present).counted * total
                        + self.best(&after, then),
                    cures,
                }
            }
            // Nothing follows on giving up, and a stop is cleared before anything is planned.
            Action::GiveUp | Action::ClearStop(_) => Worth {
                value: self.network.give_up * total,
                cures: 0.0,
            },
        }
    }

    fn check(
        &mut self,
        here: &Situation,
        check: CheckId,
        total: f64,
        then: &[&[Action]],
        limit: f64,
    ) -> Worth {
        const BEYOND: Worth = Worth {
            value: f64::INFINITY,
            cures: 0.0,
        };
        let Some(test) = self.network.test(check) else {
            return BEYOND;
        };
        let cost = test.costs[here.present.at()];
        let mut after = here.after_check(check, test);
        let mut worth = Worth {
            value: cost.counted * total,
            cures: 0.0,
        };
        // Whatever is seen, all that is still at fault pays for one fix at least.
        let at_least = if test.ends.is_empty() {
            self.network.least_to_pay(&here.mass, total)
        } else {
            0.0
        };
        if worth.value + at_least >= limit {
            return BEYOND;
        }
        for (state, column) in test.outcomes.iter().enumerate() {
            after.observe(&here.mass, column);
            if test.ends.contains(&state) {
                worth.cures += after.total();
            } else {
                worth.value += self.best(&after, then);
                if worth.value >= limit {
                    return BEYOND;
                }
            }
        }
        worth
    }

    /// What a look is worth that costs so many minutes and may show each of `outcomes`, given as
    /// likelihoods by slot, when fixes follow, or first one step of each level of `then`.
    pub(super) fn value_after(
        &mut self,
        here: &Situation,
        outcomes: &[Vec<f64>],
        minutes: f64,
        then: &[&[Action]],
    ) -> f64 {
        let mut value = minutes * here.total();
        let mut after = here.clone();
        for likelihood in outcomes {
            after.observe(&here.mass, likelihood);
            value += self.best(&after, then);
        }
        value
    }

    /// The least expected cost from a situation: fixes alone, or one step of each level before
    /// them.
    fn best(&mut self, here: &Situation, then: &[&[Action]]) -> f64 {
        let mut best = self.fixes_alone(here);
        let Some((next, later)) = then.split_first() else {
            return best;
        };
        if here.total() < NEXT_TO_NOTHING {
            return best;
        }
        for step in *next {
            if !self.out(*step, here) {
                best = best.min(self.worth_within(here, *step, later, best).value);
            }
        }
        best
    }

    /// A fix that is out, or a check that would try one which is.
    fn out(&self, step: Action, here: &Situation) -> bool {
        match step {
            Action::Fix(fix) => here.fixes[fix.at()],
            Action::Check(check) => {
                here.checks[check.at()]
                    || self
                        .network
                        .test(check)
                        .is_none_or(|t| t.tries.is_some_and(|fix| here.fixes[fix.at()]))
            }
            Action::GiveUp | Action::ClearStop(_) => false,
        }
    }
}

/// Stable, and values that differ by rounding alone are equal, so that ties keep their order.
fn best_first(steps: &mut [Weighed]) {
    let value = |w: &Weighed| (w.worth.value / TIE).round();
    steps.sort_by(|a, b| value(a).total_cmp(&value(b)));
}
