//! Sets worth weighing as the next piece: along the order of suspicion, each unit alone, all but
//! each, groups, pairs, what was printed before; the best of them climbed by one-unit moves.

use super::belief::Belief;
use super::masses::{Masses, Rows, Teller, Walk};
use super::plan::Plan;
use super::set::Set;
use std::collections::{HashMap, HashSet};

/// Sets from which is climbed.
const CLIMBERS: usize = 8;
/// Steps of a climb.
const STEPS: usize = 16;
/// Sets on the short list by bits per minute.
const SHORT: usize = 24;
/// Pairs looked at.
pub(super) const PAIRS: usize = 3;
/// A separate pair this probable is always weighed.
const PAIR_WORTH: f64 = 0.15;
/// Interleavings along the order of suspicion.
const PATTERNS: [&[u8]; 5] = [b"10", b"1001", b"110", b"0110", b"100"];

/// The numbers 0.. sorted by falling value, of equal ones the first in the list.
pub(super) fn falling(values: &[f64]) -> Vec<usize> {
    let mut order: Vec<usize> = (0..values.len()).collect();
    order.sort_by(|&i, &j| values[j].total_cmp(&values[i]));
    order
}

fn unique(sets: impl IntoIterator<Item = Set>) -> Vec<Set> {
    let mut seen = HashSet::new();
    sets.into_iter().filter(|s| seen.insert(*s)).collect()
}

fn starts(plan: &Plan, belief: &Belief, earlier: &[Set]) -> Vec<Set> {
    let (n, all) = (plan.n(), plan.all());
    let order = falling(&belief.involved());
    let mut sets: Vec<Set> = (0..=n)
        .map(|k| order[..k].iter().copied().collect())
        .collect();
    sets.extend((0..n).map(Set::one));
    sets.extend((0..n).map(|i| all.minus(Set::one(i))));
    sets.extend(PATTERNS.iter().map(|pattern| {
        let held = |k: &usize| pattern[k % pattern.len()] == b'1';
        (0..n).filter(held).map(|k| order[k]).collect::<Set>()
    }));
    for group in &plan.groups {
        sets.extend([group.units, all.minus(group.units)]);
    }
    let separate = belief.seen.plus(&belief.hidden);
    sets.extend(
        separate
            .top(PAIRS)
            .into_iter()
            .map(|(i, j)| Set::from_iter([i, j])),
    );
    sets.extend(earlier);
    sets.into_iter().map(|s| plan.close(s)).collect()
}

/// The sets worth weighing, closed under needs.
pub(super) fn candidates(plan: &Plan, belief: &Belief, now: Set, earlier: &[Set]) -> Vec<Set> {
    let teller = Teller::new(plan, belief);
    let rate = |set: Set, masses: &Masses| teller.bits(masses) / plan.price(set, now);
    let fresh = |set: Set| rate(set, &Masses::of(belief, set));
    let starts = starts(plan, belief, earlier);
    let rates: Vec<f64> = starts.iter().map(|&s| fresh(s)).collect();
    let rows = Rows::of(belief);
    let climbed = falling(&rates).into_iter().take(CLIMBERS).map(|k| {
        let mut walk = Walk::new(belief, &rows, starts[k]);
        let (mut set, mut best) = (starts[k], rates[k]);
        for _ in 0..STEPS {
            let near = (0..plan.n()).map(|i| plan.turned(set, i));
            let (to, value) = first_best(near.map(|s| (s, rate(s, &walk.at(s)))));
            if value <= best * (1.0 + 1e-9) {
                break;
            }
            walk.go(to);
            (set, best) = (to, value);
        }
        set
    });
    let climbed: Vec<Set> = climbed.collect();
    let sets = unique(climbed.into_iter().chain(starts.iter().copied()));
    let known: HashMap<Set, f64> = starts.iter().copied().zip(rates.iter().copied()).collect();
    let rate_of = |s: &Set| known.get(s).copied().unwrap_or_else(|| fresh(*s));
    let rates: Vec<f64> = sets.iter().map(rate_of).collect();
    let short = falling(&rates).into_iter().take(SHORT).map(|k| sets[k]);
    unique(short.chain(musts(plan, belief, earlier)))
}

/// The first of the largest.
fn first_best(all: impl Iterator<Item = (Set, f64)>) -> (Set, f64) {
    let worst = (Set::NONE, f64::NEG_INFINITY);
    all.fold(worst, |best, it| if it.1 > best.1 { it } else { best })
}

/// What is weighed whatever it tells: the likeliest units alone and all but them, everything old,
/// probable pairs, earlier pieces.
fn musts(plan: &Plan, belief: &Belief, earlier: &[Set]) -> Vec<Set> {
    let mut sets = Vec::new();
    for i in falling(&belief.cures()).into_iter().take(4) {
        sets.extend([plan.up[i], plan.all().minus(plan.down[i])]);
    }
    sets.push(plan.all());
    sets.extend(earlier);
    let separate = belief.seen.plus(&belief.hidden);
    for (i, j) in separate.top(PAIRS) {
        if separate.get(i, j) > PAIR_WORTH {
            sets.push(plan.up[i].and(plan.up[j]));
        }
    }
    sets.into_iter().map(|s| plan.close(s)).collect()
}
