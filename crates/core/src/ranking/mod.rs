//! How likely each suspect is: every cause alone, pairs of causes, and `unlisted`, weighed by the evidence.
//!
//! Weights of evidence are additive (I. J. Good): for each hypothesis the posterior log-odds against `unlisted` are the prior's
//! plus the sum of its ledger, in decibans. See `docs/DESIGN.md` for the reasons of each number.

mod likelihood;
mod line_up;

pub use line_up::{CauseLine, LineUp, PairLine, PullsApart, Surprise, rank, rank_plain};

use crate::evidence::{Evidence, Source};
use crate::knowledge::{CauseId, Knowledge};
use likelihood::Members;
pub(crate) use likelihood::{Column, SOUND_THOUGH_GUILTY, pair_states};

/// Prior probability of `unlisted`: someone we have not met.
pub const P_UNLISTED: f64 = 0.02;
/// Prior probability of all pairs together.
pub const P_PAIRS: f64 = 0.10;

/// Who did it: nobody listed, one cause, or two.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Hypothesis {
    /// Someone we have not met.
    Unlisted,
    /// One cause alone.
    One(CauseId),
    /// Two causes together.
    Two(CauseId, CauseId),
}

impl Hypothesis {
    /// The causes of the hypothesis.
    pub fn causes(&self) -> impl Iterator<Item = CauseId> + use<> {
        let (a, b) = match *self {
            Hypothesis::Unlisted => (None, None),
            Hypothesis::One(c) => (Some(c), None),
            Hypothesis::Two(i, j) => (Some(i), Some(j)),
        };
        a.into_iter().chain(b)
    }
}

/// Weight of evidence of a likelihood ratio, in decibans.
///
/// # Formula
/// 10 · log10(ratio)
pub fn decibans(ratio: f64) -> f64 {
    10.0 * ratio.log10()
}

/// Every hypothesis with prior and posterior. Impossible ones (prior 0) are left out.
#[derive(Debug, Clone)]
pub struct Posterior {
    /// Hypotheses: `unlisted`, causes in knowledge order, pairs in knowledge order.
    pub hypotheses: Vec<Hypothesis>,
    /// Prior probability of each.
    pub prior: Vec<f64>,
    /// Posterior probability of each; they sum to 1.
    pub probability: Vec<f64>,
    /// Per item r_f: how far it agrees with the rest, in decibans; empty unless a line-up was made.
    pub agreement: Vec<f64>,
    causes: usize,
    members: Members,
}

/// Hypotheses with their priors in a context.
pub fn priors(
    knowledge: &Knowledge,
    context: &crate::profile::Context,
    with_pairs: bool,
) -> (Vec<Hypothesis>, Vec<f64>) {
    let weights: Vec<f64> = knowledge
        .cause_ids()
        .map(|c| knowledge.weight(c, context))
        .collect();
    let total: f64 = weights.iter().sum();
    let most = 1 + weights.len() + if with_pairs { knowledge.pairs.len() } else { 0 };
    let (mut hypotheses, mut prior) = (Vec::with_capacity(most), Vec::with_capacity(most));
    hypotheses.push(Hypothesis::Unlisted);
    prior.push(P_UNLISTED);
    for c in knowledge.cause_ids().filter(|c| weights[c.at()] > 0.0) {
        hypotheses.push(Hypothesis::One(c));
        prior.push(weights[c.at()] / total);
    }
    let singles = prior.len();
    let mut pair_total = 0.0;
    if with_pairs {
        for &(i, j) in &knowledge.pairs {
            let product = weights[i.at()] * weights[j.at()];
            if product > 0.0 {
                hypotheses.push(Hypothesis::Two(i, j));
                prior.push(product);
                pair_total += product;
            }
        }
    }
    let share = 1.0 - P_UNLISTED - if pair_total > 0.0 { P_PAIRS } else { 0.0 };
    prior[1..singles].iter_mut().for_each(|p| *p *= share);
    prior[singles..]
        .iter_mut()
        .for_each(|p| *p *= P_PAIRS / pair_total);
    (hypotheses, prior)
}

/// Weighs the evidence for every hypothesis. Without the agreement of each item with the rest, which only a line-up shows.
pub fn posterior(knowledge: &Knowledge, evidence: &Evidence, with_pairs: bool) -> Posterior {
    weigh(
        knowledge,
        evidence,
        &columns(knowledge, evidence),
        with_pairs,
        false,
    )
}

/// Runs of pairs weighed at a time: the ratios of all items for so many stay in the processor's cache.
const RUNS: usize = 8;

/// The same with columns already made. Works with likelihood ratios instead of decibans: no logarithm in the inner loop.
pub(crate) fn weigh(
    knowledge: &Knowledge,
    evidence: &Evidence,
    columns: &[Column],
    with_pairs: bool,
    with_agreement: bool,
) -> Posterior {
    let (hypotheses, prior) = priors(knowledge, &evidence.context, with_pairs);
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
        agreement,
        causes: knowledge.causes.len(),
        members,
    }
}

/// For each item the first one that says exactly the same: a try of a fix with the same result.
fn first_like(evidence: &Evidence) -> Vec<usize> {
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
struct Block<'e> {
    groups: &'e [Vec<usize>],
    /// Items that stand in no group.
    alone: Vec<usize>,
    /// Likelihood ratios by item.
    ratios: Vec<Vec<f64>>,
    /// By item in no group, and by group: the same factor for every hypothesis, so that products stay in the number range.
    scales: Vec<f64>,
    group_scales: Vec<f64>,
    /// Likelihood ratios by group.
    wholes: Vec<Vec<f64>>,
    /// Mass that would be there without each item, summed over the blocks; empty unless asked for.
    without: Vec<f64>,
    /// The first item equal to each, mostly itself: the same fix may have been tried a hundred times.
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

    /// Hundreds of strong findings must not run out of the number range: everything is measured against the hypothesis that is best
    /// so far, found in logarithms.
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

    /// Multiplies the mass by all items, and notes what would be there without each: an ungrouped item simply leaves; in a group the
    /// others may count for more.
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

/// Σ a / b, in four strands and whole groups of four, so that the processor divides several at once.
fn sum_of_quotients(a: &[f64], b: &[f64]) -> f64 {
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
fn sum(terms: usize, mut term: impl FnMut(usize) -> f64) -> f64 {
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
fn normalise(mass: &mut [f64]) -> f64 {
    let total = sum(mass.len(), |h| mass[h]);
    let scale = 1.0 / total;
    mass.iter_mut().for_each(|m| *m *= scale);
    total
}

/// Likelihood ratio of a whole group, one item left out if asked: same-signed weights count 1, ½, ¼ …, which are the ratio itself,
/// its square root, the root of that.
fn group_ratio(
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

/// The same for a group of two, as nearly all are: of two weights with the same sign the stronger counts whole, the weaker by its root.
fn group_of_two(a: f64, b: f64) -> f64 {
    let (first, second) = (a * b.sqrt(), b * a.sqrt());
    match (a > 1.0, b > 1.0) {
        (true, true) => first.max(second),
        (false, false) => first.min(second),
        _ => a * b,
    }
}

/// One column of weights per item of evidence.
pub(crate) fn columns(knowledge: &Knowledge, evidence: &Evidence) -> Vec<Column> {
    evidence
        .items
        .iter()
        .map(|item| Column::new(knowledge, item))
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
        .map(|c| decibans(c.ratio(knowledge, h)))
        .collect();
    let mut counted = raw.clone();
    discount(&evidence.groups, &raw, &mut counted);
    counted
}

/// Weights of one group with the same sign count 1, ½, ¼ … from the largest; ties go by knowledge order.
fn discount(groups: &[Vec<usize>], raw: &[f64], counted: &mut [f64]) {
    for group in groups {
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

impl Posterior {
    /// Probability that each cause is involved, alone or in a pair, by cause index.
    pub fn involved(&self) -> Vec<f64> {
        self.involvement(&self.probability)
    }

    /// The same before evidence.
    pub fn involved_before(&self) -> Vec<f64> {
        self.involvement(&self.prior)
    }

    fn involvement(&self, mass: &[f64]) -> Vec<f64> {
        let mut out = vec![0.0; self.causes];
        let (ones, mut twos) = mass[1..].split_at(self.members.ones.len());
        self.members
            .ones
            .iter()
            .zip(ones)
            .for_each(|(c, p)| out[*c as usize] += p);
        for run in &self.members.runs {
            let (pairs, behind) = twos.split_at(run.many as usize);
            out[run.first as usize] += pairs.iter().sum::<f64>();
            out[run.from as usize..]
                .iter_mut()
                .zip(pairs)
                .for_each(|(o, p)| *o += p);
            twos = behind;
        }
        out
    }

    /// `unlisted` and the `kept` likeliest other hypotheses, by index, likeliest first.
    pub fn likeliest(&self, kept: usize) -> Vec<usize> {
        let mut order: Vec<usize> = (1..self.hypotheses.len()).collect();
        let by_mass = |a: &usize, b: &usize| {
            self.probability[*b]
                .total_cmp(&self.probability[*a])
                .then(a.cmp(b))
        };
        if order.len() > kept {
            order.select_nth_unstable_by(kept, by_mass);
            order.truncate(kept);
        }
        order.sort_by(by_mass);
        std::iter::once(0).chain(order).collect()
    }

    /// Surprise: how much `unlisted` has risen, in decibans.
    pub fn surprise(&self) -> f64 {
        decibans(self.probability[0] / P_UNLISTED)
    }

    /// What one more, ungrouped piece of evidence would do: its probability as a ratio to that under `unlisted`, and how far each
    /// cause would be involved after it.
    pub(crate) fn after(&self, knowledge: &Knowledge, column: &Column) -> (f64, Vec<f64>) {
        let (mut mass, mut pairs) = (Vec::with_capacity(self.probability.len()), Vec::new());
        column.ratios_alone(&self.members, &mut mass);
        column.ratios_of_pairs(
            knowledge,
            &column.pair_table(),
            &self.members.runs,
            &mut pairs,
        );
        mass.append(&mut pairs);
        mass.iter_mut()
            .zip(&self.probability)
            .for_each(|(m, p)| *m *= p);
        let ratio = normalise(&mut mass);
        (ratio, self.involvement(&mass))
    }
}
