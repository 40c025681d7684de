//! How probable it is that a piece comes out clean, half cured or faulty. Three masses tell all
//! about a set, and turning one unit over changes them in a step.

use super::belief::{Belief, plogp};
use super::grade::{GRADES, Likelihood, Tables};
use super::plan::Plan;
use super::set::Set;

/// What a piece would be, by the listed hypotheses and none of the list; a fault that comes and
/// goes stands apart.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Masses {
    /// The fault is gone.
    pub clean: f64,
    /// Half a cure is seen.
    pub half: f64,
    /// The fault is there.
    pub fault: f64,
}

impl Masses {
    /// Of a set.
    pub fn of(belief: &Belief, set: Set) -> Masses {
        let together = belief.together.split(set, belief.totals.together);
        let seen = belief.seen.split(set, belief.totals.seen);
        let hidden = belief.hidden.split(set, belief.totals.hidden);
        let alone: f64 = belief.alone.iter().sum();
        let back: f64 = set.iter().map(|i| belief.alone[i]).sum();
        Masses {
            clean: back + together.two + together.one + seen.two + hidden.two,
            half: seen.one,
            fault: belief.elsewhere
                + (alone - back)
                + together.none
                + seen.none
                + hidden.one
                + hidden.none,
        }
    }

    /// The chance of a grade, where the fault comes and goes with `fickle`.
    pub(super) fn chance(&self, said: Likelihood, fickle: f64) -> f64 {
        self.clean * said.clean
            + self.half * said.half
            + self.fault * said.fault
            + fickle * said.fickle()
    }
}

/// What tells how many bits a piece gives: the tables' own entropies, taken once.
pub(super) struct Teller<'a> {
    tables: &'a Tables,
    fickle: f64,
    clean: f64,
    half: f64,
    fault: f64,
    /// Of a fault that comes and goes.
    by_itself: f64,
}

impl<'a> Teller<'a> {
    pub(super) fn new(plan: &'a Plan, belief: &Belief) -> Teller<'a> {
        let tables = plan.tables();
        let entropy =
            |of: fn(&Likelihood) -> f64| -tables.grades().iter().map(|l| plogp(of(l))).sum::<f64>();
        Teller {
            tables,
            fickle: belief.comes_and_goes,
            clean: entropy(|l| l.clean),
            half: entropy(|l| l.half),
            fault: entropy(|l| l.fault),
            by_itself: entropy(|l| l.fickle()),
        }
    }

    /// The bits that a piece of these masses tells about the hypotheses.
    pub(super) fn bits(&self, masses: &Masses) -> f64 {
        let said: f64 = self.chances(masses).iter().map(|&p| plogp(p)).sum();
        let known = masses.clean * self.clean
            + masses.half * self.half
            + masses.fault * self.fault
            + self.fickle * self.by_itself;
        -said - known
    }

    /// The chance of each grade.
    pub(super) fn chances(&self, masses: &Masses) -> [f64; GRADES] {
        self.tables.grades().map(|l| masses.chance(l, self.fickle))
    }
}

/// The bits that a piece with this set old tells about the hypotheses.
pub fn information(plan: &Plan, belief: &Belief, set: Set) -> f64 {
    Teller::new(plan, belief).bits(&Masses::of(belief, set))
}

/// A set on its way: the masses after turning one unit over cost a step and not all pairs.
#[derive(Clone)]
pub(super) struct Walk<'a> {
    belief: &'a Belief,
    rows: &'a Rows,
    set: Set,
    masses: Masses,
    together: Vec<f64>,
    seen: Vec<f64>,
    hidden: Vec<f64>,
}

/// The sums of each unit's pairs, taken once for all walks.
pub(super) struct Rows {
    together: Vec<f64>,
    seen: Vec<f64>,
}

impl Rows {
    pub(super) fn of(belief: &Belief) -> Rows {
        Rows {
            together: belief.together.row_sums(),
            seen: belief.seen.row_sums(),
        }
    }
}

impl<'a> Walk<'a> {
    pub(super) fn new(belief: &'a Belief, rows: &'a Rows, set: Set) -> Walk<'a> {
        Walk {
            belief,
            rows,
            set,
            masses: Masses::of(belief, set),
            together: belief.together.along(set),
            seen: belief.seen.along(set),
            hidden: belief.hidden.along(set),
        }
    }

    /// The masses with one unit turned over.
    fn turned(&self, unit: usize) -> Masses {
        let sign = if self.set.has(unit) { -1.0 } else { 1.0 };
        let still = self.rows.together[unit] - self.together[unit];
        let (both, other) = (self.seen[unit], self.rows.seen[unit] - self.seen[unit]);
        let hidden = self.hidden[unit];
        let clean = self.belief.alone[unit] + still + both + hidden;
        let half = other - both;
        Masses {
            clean: self.masses.clean + sign * clean,
            half: self.masses.half + sign * half,
            fault: self.masses.fault - sign * (clean + half),
        }
    }

    /// Turns one unit over for good.
    fn turn(&mut self, unit: usize) {
        self.masses = self.turned(unit);
        let sign = if self.set.has(unit) { -1.0 } else { 1.0 };
        let rows = [
            (&mut self.together, self.belief.together.row(unit)),
            (&mut self.seen, self.belief.seen.row(unit)),
            (&mut self.hidden, self.belief.hidden.row(unit)),
        ];
        for (sums, row) in rows {
            for (sum, value) in sums.iter_mut().zip(row) {
                *sum += sign * value;
            }
        }
        self.set = self.set.differs(Set::one(unit));
    }

    /// The masses at another set near by.
    pub(super) fn at(&self, set: Set) -> Masses {
        let turned: Vec<usize> = set.differs(self.set).iter().collect();
        match turned[..] {
            [] => self.masses,
            [unit] => self.turned(unit),
            _ => {
                let mut there = self.clone();
                there.go(set);
                there.masses
            }
        }
    }

    /// Goes to another set.
    pub(super) fn go(&mut self, set: Set) {
        for unit in set.differs(self.set).iter() {
            self.turn(unit);
        }
    }
}
