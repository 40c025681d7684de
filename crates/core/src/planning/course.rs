//! Where the advice leads: the plan followed to its end, as a tree, and how likely the fault is
//! gone after so many minutes.

use super::look_ahead::{LookAhead, Situation};
use super::network::Network;
use super::workshop::Workshop;
use super::{Action, Plan, Present, stand};
use crate::evidence::Facts;
use crate::knowledge::{CheckId, FixId, Knowledge};
use crate::ranking::Posterior;

/// Branches less likely than this are not followed: their mass counts as unsolved.
const LEAST: f64 = 0.01;
/// The advice is followed this long; later cures do not count.
const HORIZON: f64 = 180.0;
/// Checks and fixes thought of at each turn below the first.
const CHECKS: usize = 12;
const FIXES: usize = 6;

/// A step of the course with what may follow on it.
#[derive(Debug, Clone)]
pub struct Node {
    /// What is done.
    pub action: Action,
    /// Minutes by the clock, the change of the machine's state included.
    pub minutes: f64,
    /// What may come of it, likeliest first.
    pub branches: Vec<Branch>,
}

/// What came of a step.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Turn {
    /// A check showed a state.
    Outcome(usize),
    /// The fault is gone.
    Cured,
    /// The fix did not cure.
    NotCured,
}

/// One way on.
#[derive(Debug, Clone)]
pub struct Branch {
    /// What came of the step.
    pub turn: Turn,
    /// How likely, given that one got here.
    pub probability: f64,
    /// What is done then; nothing when the case ends there or the tree is cut.
    pub next: Option<Box<Node>>,
}

/// The advice followed to its end.
#[derive(Debug, Clone)]
pub struct Course {
    /// The first step; nothing under a stop.
    pub first: Option<Node>,
    /// Expected counted minutes to the end.
    pub expected_minutes: f64,
    /// Minutes by the clock at which a share of the probability is cured.
    cures: Vec<(f64, f64)>,
}

impl Course {
    /// Chance that the fault is gone within so many minutes by the clock. A lower bound: unlikely
    /// branches count as unsolved.
    pub fn within(&self, minutes: f64) -> f64 {
        self.cures
            .iter()
            .filter(|(at, _)| *at <= minutes + 1e-9)
            .map(|(_, p)| p)
            .sum::<f64>()
            .min(1.0)
    }
}

/// Follows the advice of a plan from a ranked case. The tree is kept `depth` steps deep; the
/// chances look further.
pub fn course(
    knowledge: &Knowledge,
    facts: &Facts,
    posterior: &Posterior,
    workshop: &Workshop,
    present: Present,
    plan: &Plan,
    depth: usize,
) -> Course {
    let none = Course {
        first: None,
        expected_minutes: plan.expected_minutes,
        cures: Vec::new(),
    };
    let Some(first) = plan.steps.first().filter(|_| plan.stops.is_empty()) else {
        return none;
    };
    let (network, here) = stand(knowledge, facts, posterior, workshop, present);
    let mut ahead = LookAhead::new(&network);
    let mut checks: Vec<(f64, CheckId)> = network
        .checks()
        .map(|c| (ahead.worth(&here, Action::Check(c), &[]).value, c))
        .collect();
    checks.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
    let checks = checks.into_iter().take(CHECKS).map(|(_, c)| c).collect();
    let mut follow = Follow {
        network: &network,
        ahead,
        checks,
        cures: Vec::new(),
    };
    let node = follow.step(&here, first.action, 0.0, depth);
    Course {
        first: Some(node),
        expected_minutes: plan.expected_minutes,
        cures: follow.cures,
    }
}

struct Follow<'a> {
    network: &'a Network,
    ahead: LookAhead<'a>,
    checks: Vec<CheckId>,
    cures: Vec<(f64, f64)>,
}

impl Follow<'_> {
    /// Does a step and follows each way on. `depth` counts the steps still to be shown.
    fn step(&mut self, here: &Situation, action: Action, at: f64, depth: usize) -> Node {
        match action {
            Action::Check(check) => self.check(here, check, at, depth),
            Action::Fix(fix) => self.fix(here, fix, at, depth),
            Action::GiveUp | Action::ClearStop(_) => Node {
                action,
                minutes: 0.0,
                branches: Vec::new(),
            },
        }
    }

    fn fix(&mut self, here: &Situation, fix: FixId, at: f64, depth: usize) -> Node {
        let minutes = self.network.cost(fix, here.present).clock;
        let (cured, after) = here.after_fix(self.network, fix);
        self.cures.push((at + minutes, cured));
        let total = here.total();
        let gone = Branch {
            turn: Turn::Cured,
            probability: cured / total,
            next: None,
        };
        let still = Branch {
            turn: Turn::NotCured,
            probability: 1.0 - cured / total,
            next: self.then(&after, at + minutes, depth),
        };
        Node {
            action: Action::Fix(fix),
            minutes,
            branches: likeliest_first(vec![gone, still]),
        }
    }

    fn check(&mut self, here: &Situation, check: CheckId, at: f64, depth: usize) -> Node {
        let network = self.network;
        let Some(test) = network.test(check) else {
            return Node {
                action: Action::GiveUp,
                minutes: 0.0,
                branches: Vec::new(),
            };
        };
        let minutes = test.costs[here.present.at()].clock;
        let total = here.total();
        let mut after = here.after_check(check, test);
        let mut branches = Vec::new();
        for (state, column) in test.outcomes.iter().enumerate() {
            after.observe(&here.mass, column);
            let mass = after.total();
            let next = if test.ends.contains(&state) {
                self.cures.push((at + minutes, mass));
                None
            } else {
                self.then(&after, at + minutes, depth)
            };
            branches.push(Branch {
                turn: Turn::Outcome(state),
                probability: mass / total,
                next,
            });
        }
        Node {
            action: Action::Check(check),
            minutes,
            branches: likeliest_first(branches),
        }
    }

    fn then(&mut self, here: &Situation, at: f64, depth: usize) -> Option<Box<Node>> {
        if here.total() < LEAST || at >= HORIZON {
            return None;
        }
        let best = self.ahead.best_of(here, &self.checks, FIXES);
        let node = self.step(here, best, at, depth.saturating_sub(1));
        (depth > 1).then(|| Box::new(node))
    }
}

fn likeliest_first(mut branches: Vec<Branch>) -> Vec<Branch> {
    branches.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    branches
}
