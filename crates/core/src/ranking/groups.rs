//! Facts that say the same thing twice: within a group weights of one sign count 1, ½, ¼ …

use super::likelihood::Column;
use super::{Hypothesis, Seen, decibans};
use crate::evidence::Evidence;
use crate::knowledge::Knowledge;
use std::cmp::Ordering;

/// Likelihood ratio of a whole group, one item left out if asked: same-signed weights count 1, ½, ¼
/// …, which are the ratio itself, its square root, the root of that.
pub(super) fn group_ratio(
    group: &[usize],
    left_out: Option<usize>,
    h: usize,
    ratios: &[Vec<f64>],
    order: &mut Vec<f64>,
) -> f64 {
    let mut product = 1.0;
    for positive in [true, false] {
        order.clear();
        let signed = group
            .iter()
            .filter(|i| Some(**i) != left_out)
            .map(|i| ratios[*i][h]);
        order.extend(signed.filter(|r| if positive { *r > 1.0 } else { *r < 1.0 }));
        order.sort_by(|a, b| {
            if positive {
                b.total_cmp(a)
            } else {
                a.total_cmp(b)
            }
        });
        // a · √(b · √(c · …)): each further weight counts half as much, in one root a weight.
        if let Some((first, rest)) = order.split_first() {
            product *= first * rest.iter().rev().fold(1.0, |inner, r| (r * inner).sqrt());
        }
    }
    product
}

/// The same for a group of two, as nearly all are: of two weights with the same sign the stronger
/// counts whole, the weaker by its root.
///
/// # Formula
/// a · √b = √(a · b · a), a being the stronger: one root where two would be taken.
pub(super) fn group_of_two(a: f64, b: f64) -> f64 {
    let both = a * b;
    match (a > 1.0, b > 1.0) {
        (true, true) => (both * a.max(b)).sqrt(),
        (false, false) => (both * a.min(b)).sqrt(),
        _ => both,
    }
}

/// One column of weights per item of evidence.
pub(crate) fn columns(knowledge: &Knowledge, evidence: &Evidence) -> Vec<Column> {
    let seen = Seen::of(knowledge, evidence);
    evidence
        .items
        .iter()
        .map(|item| Column::new(knowledge, item, &seen))
        .collect()
}

/// Ledger of one hypothesis: decibans per item, groups discounted. They sum to its evidence total.
pub(crate) fn ledger(
    knowledge: &Knowledge,
    evidence: &Evidence,
    columns: &[Column],
    h: Hypothesis,
) -> Vec<f64> {
    let raw: Vec<f64> = columns
        .iter()
        .map(|c| c.ratio(knowledge, h))
        // Most causes say nothing of most facts: no logarithm for these.
        .map(|ratio| if ratio == 1.0 { 0.0 } else { decibans(ratio) })
        .collect();
    let mut counted = raw.clone();
    discount(&evidence.groups, &raw, &mut counted);
    counted
}

/// Weights of one group with the same sign count 1, ½, ¼ … from the largest; ties go by knowledge
/// order.
pub(super) fn discount(groups: &[Vec<usize>], raw: &[f64], counted: &mut [f64]) {
    for group in groups {
        // Nearly all are groups of two, and every cause has a ledger: nothing is sorted for them.
        if let [a, b] = group[..] {
            if raw[a] * raw[b] > 0.0 {
                let weaker = match raw[a].abs().total_cmp(&raw[b].abs()).then(b.cmp(&a)) {
                    Ordering::Less => a,
                    _ => b,
                };
                counted[weaker] = raw[weaker] * 0.5;
            }
            continue;
        }
        for positive in [true, false] {
            let mut order: Vec<usize> = group
                .iter()
                .copied()
                .filter(|i| {
                    if positive {
                        raw[*i] > 0.0
                    } else {
                        raw[*i] < 0.0
                    }
                })
                .collect();
            order.sort_by(|a, b| raw[*b].abs().total_cmp(&raw[*a].abs()).then(a.cmp(b)));
            let mut factor = 1.0;
            for i in order {
                counted[i] = raw[i] * factor;
                factor *= 0.5;
            }
        }
    }
}
