//! What would be left to do after a piece, for each grade it may get.

use super::belief::{Belief, Goal, plogp};
use super::candidates::PAIRS;
use super::grade::{GRADES, Likelihood};
use super::masses::{Masses, Teller};
use super::pairs::{Pairs, Split};
use super::plan::Plan;
use super::proofs::Proofs;
use super::set::Set;
use super::verdict::SURE;

/// After one grade of a piece.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct After {
    /// The chance of the grade.
    pub chance: f64,
    /// The uncertainty left, bits of the repair classes.
    pub bits_left: f64,
    /// Counted minutes still to spend if that ends the plan, else infinite.
    pub end: f64,
}

/// What a belief says of pieces: the matrices that all outlooks share.
pub(super) struct Outlooks<'a> {
    plan: &'a Plan,
    belief: &'a Belief,
    proofs: &'a Proofs,
    goal: Goal,
    teller: Teller<'a>,
    cures: Vec<f64>,
    rows: Vec<f64>,
    logs: [Kind<'a>; 3],
    separate: Vec<(usize, usize)>,
    named: Vec<(usize, usize)>,
}

/// A kind of pair: its masses and their `p·log p`, with their sums.
struct Kind<'a> {
    masses: &'a Pairs,
    total: f64,
    logs: Pairs,
    log_total: f64,
}

impl<'a> Kind<'a> {
    fn new(masses: &'a Pairs) -> Kind<'a> {
        let logs = masses.map(plogp);
        Kind {
            masses,
            total: masses.sum(),
            log_total: logs.sum(),
            logs,
        }
    }

    fn split(&self, set: Set) -> (Split, Split) {
        let masses = self.masses.split(set, self.total);
        (masses, self.logs.split(set, self.log_total))
    }
}

/// A sum of `p·log p` over hypotheses that a grade turns into `p·t/z`.
fn turned(mass: f64, log: f64, by: f64, chance: f64) -> f64 {
    (log + mass * (by.log2() - chance.log2())) * by / chance
}

impl<'a> Outlooks<'a> {
    pub(super) fn new(
        plan: &'a Plan,
        belief: &'a Belief,
        proofs: &'a Proofs,
        goal: Goal,
    ) -> Outlooks<'a> {
        Outlooks {
            plan,
            belief,
            proofs,
            goal,
            teller: Teller::new(plan, belief),
            cures: belief.cures(),
            rows: belief.together.row_sums(),
            logs: [&belief.together, &belief.seen, &belief.hidden].map(Kind::new),
            separate: belief.seen.plus(&belief.hidden).top(PAIRS),
            named: match goal {
                Goal::Name => belief.together.top(PAIRS),
                Goal::Repair => Vec::new(),
            },
        }
    }

    /// For each grade of a piece with this set old.
    pub(super) fn of(&self, set: Set) -> [After; GRADES] {
        let chances = self.teller.chances(&Masses::of(self.belief, set));
        let along = self.belief.together.along(set);
        let splits = self.logs.each_ref().map(|kind| kind.split(set));
        let grades = self.plan.tables().grades();
        std::array::from_fn(|g| {
            let (said, chance) = (grades[g], chances[g]);
            let units = self.units_after(set, &along, said, chance);
            let pairs = self.pairs_after(&splits, said, chance);
            let elsewhere = self.belief.elsewhere * said.fault / chance;
            let fickle = self.belief.comes_and_goes * said.fickle() / chance;
            After {
                chance,
                bits_left: (-(units + pairs + plogp(elsewhere) + plogp(fickle))).max(0.0),
                end: self.end(set, &along, said, chance),
            }
        })
    }

    /// `p·log p` of the units' own classes after a grade.
    fn units_after(&self, set: Set, along: &[f64], said: Likelihood, chance: f64) -> f64 {
        let belief = self.belief;
        (0..self.plan.n())
            .map(|i| {
                let (own, row, with) = (belief.alone[i], self.rows[i], along[i]);
                let (clean, fault) = match (self.goal, set.has(i)) {
                    (Goal::Repair, true) => (own + row / 2.0, 0.0),
                    (Goal::Repair, false) => (with / 2.0, own + (row - with) / 2.0),
                    (Goal::Name, true) => (own, 0.0),
                    (Goal::Name, false) => (0.0, own),
                };
                plogp((clean * said.clean + fault * said.fault) / chance)
            })
            .sum()
    }

    /// `p·log p` of the pairs' classes after a grade, without a logarithm per pair.
    fn pairs_after(&self, splits: &[(Split, Split); 3], said: Likelihood, chance: f64) -> f64 {
        let part = |mass: f64, log: f64, by: f64| turned(mass, log, by, chance);
        let [(t, lt), (s, ls), (h, lh)] = splits;
        let seen = part(s.two, ls.two, said.clean)
            + part(s.one, ls.one, said.half)
            + part(s.none, ls.none, said.fault);
        let hidden =
            part(h.two, lh.two, said.clean) + part(h.one + h.none, lh.one + lh.none, said.fault);
        let together = match self.goal {
            Goal::Repair => 0.0,
            Goal::Name => {
                part(t.two + t.one, lt.two + lt.one, said.clean) + part(t.none, lt.none, said.fault)
            }
        };
        seen + hidden + together
    }

    /// Minutes still to spend if a grade ends the plan, else infinite.
    fn end(&self, set: Set, along: &[f64], said: Likelihood, chance: f64) -> f64 {
        let (plan, belief) = (self.plan, self.belief);
        let shown = said.good().then_some(set);
        let mut end = f64::INFINITY;
        if let Some((unit, p)) = self.surest(set, along, said)
            && p / chance >= SURE
        {
            end = self.owing(plan.up[unit], shown);
        }
        for &(i, j) in &self.separate {
            let (seen, hidden) = (belief.seen.get(i, j), belief.hidden.get(i, j));
            let p = match (set.has(i), set.has(j)) {
                (true, true) => (seen + hidden) * said.clean,
                (false, false) => (seen + hidden) * said.fault,
                _ => seen * said.half + hidden * said.fault,
            };
            if p / chance >= SURE {
                end = self.owing(plan.up[i].and(plan.up[j]), shown);
            }
        }
        for &(i, j) in &self.named {
            let either = set.has(i) || set.has(j);
            let by = if either { said.clean } else { said.fault };
            if belief.together.get(i, j) * by / chance >= SURE {
                end = 0.0;
            }
        }
        if belief.elsewhere * said.fault / chance >= SURE {
            let seen = self.proofs.all_old_bad() || (set == plan.all() && !said.good());
            end = if seen {
                0.0
            } else {
                plan.price(plan.all(), Set::NONE)
            };
        }
        if belief.comes_and_goes * said.fickle() / chance >= SURE {
            end = 0.0;
        }
        end
    }

    /// The unit most probably curing after a grade, with its weight before it is normalised.
    fn surest(&self, set: Set, along: &[f64], said: Likelihood) -> Option<(usize, f64)> {
        let cures = (0..self.plan.n()).map(|i| {
            let cure = self.cures[i];
            let (clean, fault) = match (self.goal, set.has(i)) {
                (Goal::Repair, true) => (cure, 0.0),
                (Goal::Repair, false) => (along[i], cure - along[i]),
                (Goal::Name, true) => (self.belief.alone[i], 0.0),
                (Goal::Name, false) => (0.0, self.belief.alone[i]),
            };
            (i, clean * said.clean + fault * said.fault)
        });
        cures.reduce(|best, it| if it.1 > best.1 { it } else { best })
    }

    /// A verdict needs its own piece, seen good: what is still to be paid for it.
    fn owing(&self, set: Set, shown: Option<Set>) -> f64 {
        if self.proofs.good(set) || shown == Some(set) {
            0.0
        } else {
            self.plan.price(set, Set::NONE)
        }
    }

    /// The uncertainty before the piece.
    pub(super) fn bits(&self) -> f64 {
        self.belief.entropy(self.goal)
    }
}
