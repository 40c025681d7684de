//! Which piece to print next: the one with the least expected minutes to the end.

use super::belief::{Belief, Goal};
use super::candidates::candidates;
use super::grade::GRADES;
use super::masses::information;
use super::outlook::{After, Outlooks};
use super::plan::Plan;
use super::proofs::Proofs;
use super::set::Set;

/// Bits that a piece of the best rate is reckoned to give.
const BITS_PER_PIECE: f64 = 0.6;
/// Pieces beyond the reckoning.
const TAIL: f64 = 0.5;
/// A piece that tells less than this share of the best rate is left out,
const LEAST_RATE: f64 = 0.7;
/// unless it may well end the plan.
const MAY_END: f64 = 0.1;

/// A piece that could be printed next.
#[derive(Debug, Clone, PartialEq)]
pub struct Proposal {
    /// What is old in it.
    pub old: Set,
    /// Its own price, counted minutes.
    pub price: f64,
    /// Expected minutes to the end of the plan with it, itself included.
    pub expected_minutes: f64,
    /// Bits about the hypotheses.
    pub bits: f64,
    /// What each grade would leave.
    pub after: [After; GRADES],
}

/// What was printed before: the piece on the plate last, and every set so far, the latest last.
#[derive(Debug, Clone, Copy)]
pub struct Printed<'a> {
    /// What was old in the piece before (nothing at the start: the bad piece).
    pub now: Set,
    /// Sets printed so far, each once.
    pub earlier: &'a [Set],
}

/// Price of a piece with change-overs, by where the suspicion lies.
fn typical(plan: &Plan, belief: &Belief) -> f64 {
    let together = belief.together.row_sums();
    let involved = belief.involved();
    let weight: Vec<f64> = involved
        .iter()
        .zip(together)
        .map(|(m, t)| m - t / 2.0)
        .collect();
    let swaps: f64 = weight
        .iter()
        .zip(&plan.units)
        .map(|(m, u)| m * u.swap)
        .sum();
    let in_group = |set: Set| set.iter().map(|i| weight[i]).sum::<f64>().min(1.0);
    let once: f64 = plan.groups.iter().map(|g| g.once * in_group(g.units)).sum();
    plan.terms.piece_minutes + swaps + once
}

/// A set as weighed: its price, what it tells of the repair classes, what each grade would leave.
struct Weight {
    old: Set,
    price: f64,
    gain: f64,
    after: [After; GRADES],
}

impl Weight {
    fn rate(&self) -> f64 {
        self.gain / self.price
    }
}

/// The candidates weighed against each other: asked as often as a page likes, reckoned once.
pub struct Weighing<'a> {
    outlooks: Outlooks<'a>,
    plan: &'a Plan,
    belief: &'a Belief,
    now: Set,
    weights: Vec<Weight>,
    top_rate: f64,
    per_bit: f64,
    tail: f64,
}

impl<'a> Weighing<'a> {
    pub(super) fn new(
        plan: &'a Plan,
        belief: &'a Belief,
        proofs: &'a Proofs,
        printed: Printed,
        goal: Goal,
    ) -> Weighing<'a> {
        let mut weighing = Weighing {
            outlooks: Outlooks::new(plan, belief, proofs, goal),
            plan,
            belief,
            now: printed.now,
            weights: Vec::new(),
            top_rate: 0.0,
            per_bit: plan.terms.piece_minutes / BITS_PER_PIECE,
            tail: TAIL * typical(plan, belief),
        };
        let sets = candidates(plan, belief, printed.now, printed.earlier);
        weighing.weights = sets.into_iter().map(|s| weighing.weigh(s)).collect();
        let top = weighing
            .weights
            .iter()
            .reduce(|best, it| if it.rate() > best.rate() { it } else { best });
        if let Some(top) = top {
            weighing.top_rate = top.rate();
            if top.rate() > 0.0 {
                weighing.per_bit = top.price / BITS_PER_PIECE;
            }
        }
        weighing
    }

    /// The best piece to print next.
    pub fn best(&self) -> Proposal {
        let best = self
            .weights
            .iter()
            .filter(|w| self.worth_it(w))
            .map(|w| (w, self.order(w)))
            .reduce(|best, it| if it.1 < best.1 { it } else { best });
        match best {
            Some((weight, _)) => self.proposal(weight),
            // Only where no piece tells anything at all: everything old is the plainest.
            None => self.of(self.plan.all()),
        }
    }

    /// A piece chosen by hand, weighed as the candidates are and never left out for telling little.
    pub fn of(&self, set: Set) -> Proposal {
        self.proposal(&self.weigh(self.plan.close(set)))
    }

    fn weigh(&self, old: Set) -> Weight {
        let after = self.outlooks.of(old);
        let left: f64 = after.iter().map(|a| a.chance * a.bits_left).sum();
        Weight {
            old,
            price: self.plan.price(old, self.now),
            gain: self.outlooks.bits() - left,
            after,
        }
    }

    /// Whether it tells enough for its price, or may well end the plan.
    fn worth_it(&self, weight: &Weight) -> bool {
        let ends = weight
            .after
            .iter()
            .filter(|a| a.end <= 0.0)
            .map(|a| a.chance)
            .sum::<f64>();
        weight.rate() >= LEAST_RATE * self.top_rate || ends >= MAY_END
    }

    /// Expected minutes to the end.
    fn minutes(&self, weight: &Weight) -> f64 {
        let left = |a: &After| a.chance * a.end.min(self.tail + a.bits_left * self.per_bit);
        weight.price + weight.after.iter().map(left).sum::<f64>()
    }

    /// Least is best: minutes; of equals fewest old, fewest changes, the list's order.
    fn order(&self, weight: &Weight) -> f64 {
        let changes = weight.old.differs(self.now).count() as f64;
        self.minutes(weight) + 1e-6 * weight.old.count() as f64 + 1e-9 * changes
    }

    fn proposal(&self, weight: &Weight) -> Proposal {
        Proposal {
            old: weight.old,
            price: weight.price,
            expected_minutes: self.minutes(weight),
            bits: information(self.plan, self.belief, weight.old),
            after: weight.after,
        }
    }
}
