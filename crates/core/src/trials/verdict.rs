//! What a plan has found, and whether it is proven.

use super::belief::{Belief, Goal};
use super::candidates::falling;
use super::plan::Plan;
use super::proofs::Proofs;
use super::set::Set;

/// A verdict is known from this probability on.
pub const SURE: f64 = 0.95;

/// What is thought to be guilty.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Finding {
    /// Putting back this set cures: one unit, or two with faults of their own.
    Set(Set),
    /// None of the list.
    Elsewhere,
    /// It comes and goes by itself.
    ComesAndGoes,
    /// These two act together (only where that is asked).
    Together(usize, usize),
}

/// How far it is known.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum State {
    /// Not sure enough.
    Open,
    /// Sure enough, but the piece that shows it is still owed: only this set old.
    Owes(Set),
    /// Sure, and shown.
    Proven,
}

/// The leading verdict.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Verdict {
    /// What is thought.
    pub finding: Finding,
    /// How probable it is.
    pub probability: f64,
    /// How far it is known.
    pub state: State,
}

impl Verdict {
    /// The leader of a belief, given what was printed.
    pub fn of(plan: &Plan, belief: &Belief, proofs: &Proofs, goal: Goal) -> Verdict {
        let (finding, probability) = leader(plan, belief, goal);
        let state = if probability < SURE {
            State::Open
        } else {
            state(plan, proofs, finding)
        };
        Verdict {
            finding,
            probability,
            state,
        }
    }
}

fn leader(plan: &Plan, belief: &Belief, goal: Goal) -> (Finding, f64) {
    let mut all = Vec::new();
    let units = match goal {
        Goal::Repair => belief.cures(),
        Goal::Name => belief.alone.clone(),
    };
    all.extend(
        cheapest_of_the_likeliest(plan, &units).map(|i| (Finding::Set(Set::one(i)), units[i])),
    );
    if let Some(&(i, j)) = belief.seen.plus(&belief.hidden).top(1).first() {
        all.push((
            Finding::Set([i, j].into_iter().collect()),
            belief.separate(i, j),
        ));
    }
    all.push((Finding::Elsewhere, belief.elsewhere));
    all.push((Finding::ComesAndGoes, belief.comes_and_goes));
    if goal == Goal::Name
        && let Some(&(i, j)) = belief.together.top(1).first()
    {
        all.push((Finding::Together(i, j), belief.together.get(i, j)));
    }
    let worst = (Finding::Elsewhere, f64::NEG_INFINITY);
    all.into_iter()
        .fold(worst, |best, it| if it.1 > best.1 { it } else { best })
}

/// The unit that most probably cures; of equals the one that is cheaper to leave old.
fn cheapest_of_the_likeliest(plan: &Plan, cures: &[f64]) -> Option<usize> {
    let most = *cures.get(*falling(cures).first()?)?;
    (0..cures.len())
        .filter(|&i| cures[i] >= most - 1e-9)
        .min_by(|&i, &j| plan.units[i].live.total_cmp(&plan.units[j].live))
}

fn state(plan: &Plan, proofs: &Proofs, finding: Finding) -> State {
    match finding {
        Finding::Set(units) => {
            let set = plan.close(units);
            if proofs.good(set) {
                State::Proven
            } else {
                State::Owes(set)
            }
        }
        Finding::Elsewhere if !proofs.all_old_bad() => State::Owes(plan.all()),
        Finding::Elsewhere | Finding::ComesAndGoes | Finding::Together(..) => State::Proven,
    }
}
