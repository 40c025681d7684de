//! When living with old values is cheaper than finding out.

use super::belief::Belief;
use super::choice::Proposal;
use super::course::Course;
use super::masses::Masses;
use super::pairs::all;
use super::plan::Plan;
use super::set::Set;

/// Leaving a set old for good, against going on.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WorkAround {
    /// What is left old.
    pub old: Set,
    /// Its price, counted minutes: of the old values, and of the fault where it stays.
    pub price: f64,
    /// What going on costs: the pieces still to come and what will then be left old.
    pub going_on: f64,
}

impl WorkAround {
    /// Whether living with it is cheaper.
    pub fn stop(&self) -> bool {
        self.price < self.going_on
    }
}

/// The price of leaving a set old for good, counted minutes.
fn living(plan: &Plan, belief: &Belief, set: Set) -> f64 {
    let live: f64 = set.iter().map(|i| plan.units[i].live).sum();
    let clean = Masses::of(belief, set).clean + belief.comes_and_goes / 2.0;
    live + (1.0 - clean) * plan.terms.give_up_minutes
}

/// The cheapest set to leave old for good: single moves from "each whose suspicion outweighs its
/// price", exact while pairs are negligible.
fn cheapest(plan: &Plan, belief: &Belief) -> (Set, f64) {
    let outweighs = |&i: &usize| belief.alone[i] * plan.terms.give_up_minutes > plan.units[i].live;
    let mut set = plan.close((0..plan.n()).filter(outweighs).collect());
    let mut price = living(plan, belief, set);
    loop {
        let near = (0..plan.n()).map(|i| plan.turned(set, i));
        let best = near
            .map(|s| (s, living(plan, belief, s)))
            .reduce(|best, it| if it.1 < best.1 { it } else { best });
        match best {
            Some((to, least)) if least < price - 1e-9 => (set, price) = (to, least),
            _ => return (set, price),
        }
    }
}

/// The cheapest work-around, beside what going on with the best piece costs.
pub fn work_around(course: &Course, best: &Proposal) -> WorkAround {
    let (plan, belief) = (course.plan, &course.belief);
    let (old, price) = cheapest(plan, belief);
    let live = |i: usize| plan.units[i].live;
    let alone: f64 = (0..plan.n()).map(|i| belief.alone[i] * live(i)).sum();
    let pairs: f64 = all(plan.n())
        .map(|(i, j)| {
            belief.together(i, j) * live(i).min(live(j))
                + belief.separate(i, j) * (live(i) + live(j))
        })
        .sum();
    let rest = (belief.elsewhere + belief.comes_and_goes) * plan.terms.give_up_minutes;
    WorkAround {
        old,
        price,
        going_on: best.expected_minutes + alone + pairs + rest,
    }
}
