//! A plan with the pieces printed so far.

use super::belief::{Belief, Goal};
use super::choice::{Printed, Proposal, Weighing};
use super::grade::{Confidence, Grade, Likelihood};
use super::plan::Plan;
use super::proofs::Proofs;
use super::set::Set;
use super::verdict::{State, Verdict};
use std::collections::HashMap;

/// From this many decibels over its prior, "it comes and goes" heads the proposals.
pub const CONTRADICTION_DB: f64 = 3.0;

/// One look at a piece.
#[derive(Debug, Clone, PartialEq)]
pub struct Look {
    /// The piece: looks with the same name are looks at the same piece.
    pub piece: String,
    /// What was old in it.
    pub old: Set,
    /// How it looked.
    pub grade: Grade,
    /// How sure.
    pub confidence: Confidence,
}

/// What is known after the pieces so far. Always reckoned from the list of looks.
#[derive(Debug, Clone)]
pub struct Course<'a> {
    /// The plan.
    pub plan: &'a Plan,
    /// What is believed.
    pub belief: Belief,
    /// What was shown.
    pub proofs: Proofs,
    /// What each look said, in order.
    pub said: Vec<(Set, Likelihood)>,
    now: Set,
    earlier: Vec<Set>,
    looks: HashMap<String, u32>,
}

impl<'a> Course<'a> {
    /// Before any piece.
    pub fn new(plan: &'a Plan) -> Course<'a> {
        Course {
            belief: Belief::prior(plan),
            proofs: Proofs::default(),
            said: Vec::new(),
            now: Set::NONE,
            earlier: Vec::new(),
            looks: HashMap::new(),
            plan,
        }
    }

    /// After looks, in order.
    pub fn of(plan: &'a Plan, looks: &[Look]) -> Course<'a> {
        let mut course = Course::new(plan);
        for look in looks {
            course.add(look);
        }
        course
    }

    /// One look more.
    pub fn add(&mut self, look: &Look) {
        let before = self.looks.entry(look.piece.clone()).or_insert(0);
        let tables = self.plan.tables();
        let said = tables.looked_again(tables.of(look.grade, look.confidence), *before);
        *before += 1;
        self.belief = self.belief.after(look.old, said);
        self.proofs
            .seen(self.plan, look.old, said.clean, said.fault);
        self.said.push((look.old, said));
        self.now = look.old;
        self.earlier.retain(|s| *s != look.old);
        self.earlier.push(look.old);
    }

    /// What leads, and whether it is proven.
    pub fn verdict(&self, goal: Goal) -> Verdict {
        Verdict::of(self.plan, &self.belief, &self.proofs, goal)
    }

    /// What was printed.
    pub fn printed(&self) -> Printed<'_> {
        Printed {
            now: self.now,
            earlier: &self.earlier,
        }
    }

    /// The best piece to print next: none when the verdict is proven, only the piece that is owed
    /// when it is known.
    pub fn next(&self, goal: Goal) -> Option<Proposal> {
        match self.verdict(goal).state {
            State::Proven => None,
            State::Owes(set) => Some(self.owed(goal, set)),
            State::Open => Some(self.best(goal)),
        }
    }

    /// The candidates weighed: for whoever asks of several pieces.
    pub fn weighing(&self, goal: Goal) -> Weighing<'_> {
        Weighing::new(self.plan, &self.belief, &self.proofs, self.printed(), goal)
    }

    /// The best piece by expected minutes, whatever the verdict.
    pub fn best(&self, goal: Goal) -> Proposal {
        self.weighing(goal).best()
    }

    /// A piece chosen by hand, weighed as the best is.
    pub fn by_hand(&self, goal: Goal, set: Set) -> Proposal {
        self.weighing(goal).of(set)
    }

    /// The piece that a verdict owes costs its price, and nothing after it.
    fn owed(&self, goal: Goal, set: Set) -> Proposal {
        let mut piece = self.by_hand(goal, set);
        piece.expected_minutes = piece.price;
        piece
    }

    /// How far "it comes and goes" has risen over what was thought before, dB; from
    /// [`CONTRADICTION_DB`] on the results contradict each other.
    pub fn contradiction_db(&self) -> f64 {
        let prior = self.plan.terms.shares.comes_and_goes;
        if prior > 0.0 {
            10.0 * (self.belief.comes_and_goes / prior).log10()
        } else {
            0.0
        }
    }

    /// The look that the leading hypothesis explains worst, by number: what is worth repeating.
    pub fn worst_explained(&self) -> Option<usize> {
        let leader = self.verdict(Goal::Repair).finding;
        let chance = |(set, said): &(Set, Likelihood)| {
            let whole = said.clean + said.fault;
            super::message::of_finding(leader, *set, *said) / whole
        };
        let worst = self.said.iter().map(chance).enumerate();
        worst
            .reduce(|worst, it| if it.1 < worst.1 { it } else { worst })
            .map(|(k, _)| k)
    }
}
