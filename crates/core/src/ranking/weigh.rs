//! The weighing itself: every hypothesis by every item, in runs that stay in the processor's cache.

use super::groups::{group_of_two, group_ratio};
use super::likelihood::Column;
use super::members::Members;
use super::{Posterior, Seen, decibans, priors};
use crate::evidence::{Evidence, Source};
use crate::knowledge::Knowledge;

/// Runs of pairs weighed at a time: the ratios of all items for so many stay in the processor's
/// cache.
pub(super) const RUNS: usize = 12;

/// The same with columns already made. Works with likelihood ratios instead of decibans: no
/// logarithm in the inner loop.
pub(crate) fn weigh(
    knowledge: &Knowledge,
    evidence: &Evidence,
    columns: &[Column],
    with_pairs: bool,
    with_agreement: bool,
) -> Posterior {
    let learned = evidence.learned.as_deref();
    let (hypotheses, prior) = priors(knowledge, &evidence.context, learned, with_pairs);
    let members = Members::of(&hypotheses);
    let alone = prior.len() - members.pairs;
    let mut probability = prior.clone();
    let mut block = Block::new(evidence, with_agreement);
    block.fill(|i, out| columns[i].ratios_alone(&members, out));
    block.scale(&prior[..alone]);
    block.weigh(&mut probability[..alone]);
    let tables: Vec<_> = columns.iter().map(Column::pair_table).collect();
    let mut rest = &mut probability[alone..];
    for runs in members.runs.chunks(RUNS) {
        let (mass, behind) = rest.split_at_mut(runs.iter().map(|r| r.many as usize).sum());
        block.fill(|i, out| columns[i].ratios_of_pairs(knowledge, &tables[i], runs, out));
        block.weigh(mass);
        rest = behind;
    }
    let total = normalise(&mut probability);
    let without = block
        .first_like
        .iter()
        .filter_map(|first| block.without.get(*first));
    let agreement = without.map(|w| -decibans(w / total)).collect();
    Posterior {
        hypotheses,
        prior,
        probability,
        seen: Seen::of(knowledge, evidence),
        agreement,
        learned: evidence.learned.clone(),
        causes: knowledge.causes.len(),
        members,
    }
}

/// For each item the first one that says exactly the same: a try of a fix with the same result.
pub(super) fn first_like(evidence: &Evidence) -> Vec<usize> {
    let same = |a: &Source, b: &Source| match (a, b) {
        (Source::Tried(_, a), Source::Tried(_, b)) => a == b,
        _ => false,
    };
    let items = &evidence.items;
    let first = |i: usize| {
        let before = items[..i].iter();
        let mut like = before
            .enumerate()
            .filter(|(_, other)| same(&other.source, &items[i].source));
        like.next().map_or(i, |(first, _)| first)
    };
    (0..items.len()).map(first).collect()
}

/// Weighs some hypotheses at a time.
pub(super) struct Block<'e> {
    groups: &'e [Vec<usize>],
    /// Items that stand in no group.
    alone: Vec<usize>,
    /// Likelihood ratios by item.
    ratios: Vec<Vec<f64>>,
    /// By item in no group, and by group: the same factor for every hypothesis, so that products
    /// stay in the number range.
    scales: Vec<f64>,
    group_scales: Vec<f64>,
    /// Likelihood ratios by group.
    wholes: Vec<Vec<f64>>,
    /// Mass that would be there without each item, summed over the blocks; empty unless asked for.
    without: Vec<f64>,
    /// The first item equal to each, mostly itself: the same fix may have been tried a hundred
    /// times.
    first_like: Vec<usize>,
    order: Vec<f64>,
}

impl<'e> Block<'e> {
    fn new(evidence: &'e Evidence, with_agreement: bool) -> Self {
        let items = evidence.items.len();
        Self {
            groups: &evidence.groups,
            alone: (0..items)
                .filter(|i| !evidence.groups.iter().any(|g| g.contains(i)))
                .collect(),
            ratios: vec![Vec::new(); items],
            scales: vec![1.0; items],
            group_scales: vec![1.0; evidence.groups.len()],
            wholes: vec![Vec::new(); evidence.groups.len()],
            without: if with_agreement {
                vec![0.0; items]
            } else {
                Vec::new()
            },
            first_like: first_like(evidence),
            order: Vec::new(),
        }
    }

    fn fill(&mut self, of: impl Fn(usize, &mut Vec<f64>)) {
        self.ratios
            .iter_mut()
            .enumerate()
            .for_each(|(i, out)| of(i, out));
    }

    /// Hundreds of strong findings must not run out of the number range: everything is measured
    /// against the hypothesis that is best so far, found in logarithms.
    fn scale(&mut self, prior: &[f64]) {
        let mut log: Vec<f64> = prior.iter().map(|p| p.ln()).collect();
        for i in &self.alone {
            log.iter_mut()
                .zip(&self.ratios[*i])
                .for_each(|(l, r)| *l += r.ln());
        }
        for group in self.groups {
            for (h, l) in log.iter_mut().enumerate() {
                *l += group_ratio(group, None, h, &self.ratios, &mut self.order).ln();
            }
        }
        let best = (0..log.len())
            .max_by(|a, b| log[*a].total_cmp(&log[*b]))
            .unwrap_or(0);
        for i in &self.alone {
            self.scales[*i] = 1.0 / self.ratios[*i][best];
        }
        for (scale, group) in self.group_scales.iter_mut().zip(self.groups) {
            *scale = 1.0 / group_ratio(group, None, best, &self.ratios, &mut self.order);
        }
    }

    /// Multiplies the mass by all items, and notes what would be there without each: an ungrouped
    /// item simply leaves; in a group the others may count for more.
    fn weigh(&mut self, mass: &mut [f64]) {
        for i in &self.alone {
            let scale = self.scales[*i];
            mass.iter_mut()
                .zip(&self.ratios[*i])
                .for_each(|(p, r)| *p *= r * scale);
        }
        for ((group, scale), whole) in self
            .groups
            .iter()
            .zip(&self.group_scales)
            .zip(&mut self.wholes)
        {
            whole.clear();
            match group[..] {
                [a, b] => whole.extend(
                    self.ratios[a]
                        .iter()
                        .zip(&self.ratios[b])
                        .map(|(a, b)| group_of_two(*a, *b)),
                ),
                _ => whole.extend(
                    (0..mass.len())
                        .map(|h| group_ratio(group, None, h, &self.ratios, &mut self.order)),
                ),
            }
            mass.iter_mut()
                .zip(whole)
                .for_each(|(p, r)| *p *= *r * scale);
        }
        if self.without.is_empty() {
            return;
        }
        for i in &self.alone {
            self.without[*i] += sum_of_quotients(mass, &self.ratios[*i]);
        }
        for (group, whole) in self.groups.iter().zip(&self.wholes) {
            for i in group.iter().filter(|i| self.first_like[**i] == **i) {
                self.without[*i] += match group[..] {
                    [a, b] => {
                        let other = &self.ratios[if *i == a { b } else { a }];
                        sum(mass.len(), |h| mass[h] * other[h] / whole[h])
                    }
                    _ => sum(mass.len(), |h| {
                        mass[h] * group_ratio(group, Some(*i), h, &self.ratios, &mut self.order)
                            / whole[h]
                    }),
                };
            }
        }
    }
}

/// Σ a / b, in four strands and whole groups of four, so that the processor divides several at
/// once.
pub(super) fn sum_of_quotients(a: &[f64], b: &[f64]) -> f64 {
    let (a, b) = (a.chunks_exact(4), b.chunks_exact(4));
    let rest: f64 = a
        .remainder()
        .iter()
        .zip(b.remainder())
        .map(|(a, b)| a / b)
        .sum();
    let mut strands = [0.0; 4];
    for (a, b) in a.zip(b) {
        for (strand, (a, b)) in strands.iter_mut().zip(a.iter().zip(b)) {
            *strand += a / b;
        }
    }
    strands.iter().sum::<f64>() + rest
}

/// A sum of many terms in four strands, so that no addition waits for the one before.
pub(super) fn sum(terms: usize, mut term: impl FnMut(usize) -> f64) -> f64 {
    let mut strands = [0.0; 4];
    let whole = terms - terms % 4;
    for h in (0..whole).step_by(4) {
        for (k, strand) in strands.iter_mut().enumerate() {
            *strand += term(h + k);
        }
    }
    strands.iter().sum::<f64>() + (whole..terms).map(term).sum::<f64>()
}

/// Scales to a sum of 1 and tells what the sum was.
pub(super) fn normalise(mass: &mut [f64]) -> f64 {
    let total = sum(mass.len(), |h| mass[h]);
    let scale = 1.0 / total;
    mass.iter_mut().for_each(|m| *m *= scale);
    total
}
