//! Likelihood of one piece of evidence under each hypothesis, against `unlisted`.

use super::Hypothesis;
use crate::evidence::{Item, Source};
use crate::knowledge::{
    CauseId, FLOOR, FindingId, FixId, Knowledge, MOST_STATES, TryResult, fold, results_of,
    tried_likelihoods,
};

/// Weights of one item for all causes alone, and what is needed to reckon pairs.
#[derive(Debug)]
pub(crate) struct Column {
    kind: Kind,
    /// λ per state for findings.
    weights: Vec<f64>,
    /// Likelihood under `unlisted`.
    unlisted: f64,
    /// Likelihood ratio against `unlisted`, per cause alone.
    single: Vec<f64>,
    /// Whether the cause says anything of the item.
    linked: Vec<bool>,
    /// For findings that are present or absent: P(absent) per cause, and in the background.
    absent: Option<(Vec<f64>, f64)>,
}

#[derive(Debug, Clone, Copy)]
enum Kind {
    Finding(FindingId),
    /// A check that is also a try of a fix.
    TryingCheck(FindingId),
    Tried(FixId, Option<CauseId>, TryResult),
    /// Likelihood when the cleared cause acts.
    Cleared(f64),
}

/// Weight of a cause that says nothing of a finding beside one that does: lost in rounding.
const UNHEARD: f64 = 1e-20;

/// What a column needs to weigh pairs, by the kind of its finding.
pub(crate) enum PairTable<'c> {
    Presence {
        base: f64,
        slope: f64,
        inverse: f64,
        absent: &'c [f64],
    },
    Mean {
        part: Vec<f64>,
        share: Vec<f64>,
    },
    OneByOne,
}

/// Pairs of one cause with many that follow one another: (i, j), (i, j + 1), … Nearly all pairs are
/// possible, so runs are long and the tables are read in a row.
#[derive(Debug, Clone)]
pub(crate) struct Run {
    pub first: u16,
    pub from: u16,
    pub many: u16,
}

/// The causes of each hypothesis in the order of [`super::priors`]: `unlisted`, causes alone,
/// pairs.
#[derive(Debug, Clone)]
pub(crate) struct Members {
    pub ones: Vec<u16>,
    pub runs: Vec<Run>,
    /// How many pairs the runs hold.
    pub pairs: usize,
}

impl Members {
    pub fn of(hypotheses: &[Hypothesis]) -> Self {
        let mut members = Self {
            ones: Vec::new(),
            runs: Vec::new(),
            pairs: 0,
        };
        for h in hypotheses {
            match *h {
                Hypothesis::Unlisted => {}
                Hypothesis::One(c) => members.ones.push(c.0),
                Hypothesis::Two(i, j) => {
                    members.pairs += 1;
                    match members.runs.last_mut() {
                        Some(run) if run.first == i.0 && run.from + run.many == j.0 => {
                            run.many += 1;
                        }
                        _ => members.runs.push(Run {
                            first: i.0,
                            from: j.0,
                            many: 1,
                        }),
                    }
                }
            }
        }
        members
    }
}

/// P that a part is found sound although it acts; otherwise 1 minus it.
pub const SOUND_THOUGH_GUILTY: f64 = 0.1;

/// What a column is about, and how likely its item is under `unlisted`.
fn kind_of(knowledge: &Knowledge, item: &Item) -> (Kind, f64) {
    match item.source {
        Source::Finding(f, _) => {
            let kind = match knowledge.finding(f).also_fix {
                Some(_) => Kind::TryingCheck(f),
                None => Kind::Finding(f),
            };
            (kind, weigh(&item.weights, knowledge.table.unlisted(f)))
        }
        Source::Tried(_, t) => (
            Kind::Tried(t.fix, t.aimed_at, t.result),
            tried_likelihoods(&[0.0])[t.result as usize],
        ),
        Source::Cleared(_, confidence) => {
            let gamma = confidence.gamma();
            let blur = |p: f64| gamma * p + (1.0 - gamma) / 2.0;
            (
                Kind::Cleared(blur(SOUND_THOUGH_GUILTY)),
                blur(1.0 - SOUND_THOUGH_GUILTY),
            )
        }
    }
}

impl Column {
    pub fn new(knowledge: &Knowledge, item: &Item) -> Self {
        let causes = knowledge.causes.len();
        let weights = item.weights.clone();
        let (kind, unlisted) = kind_of(knowledge, item);
        let mut column = Self {
            kind,
            weights,
            unlisted,
            single: Vec::with_capacity(causes),
            linked: Vec::with_capacity(causes),
            absent: None,
        };
        if let Kind::Finding(f) = kind
            && knowledge.finding(f).presence()
        {
            let absent = knowledge
                .cause_ids()
                .map(|c| knowledge.table.states(c, f)[0])
                .collect();
            column.absent = Some((absent, knowledge.finding(f).states[0].background));
        }
        for c in knowledge.cause_ids() {
            let (l, linked) = match kind {
                Kind::Finding(f) | Kind::TryingCheck(f) => (
                    weigh(&column.weights, knowledge.table.states(c, f)),
                    knowledge.table.linked(c, f),
                ),
                Kind::Tried(fix, only, result) => {
                    let k = chance(knowledge, fix, only, c);
                    (tried_likelihoods(&[k])[result as usize], k > 0.0)
                }
                Kind::Cleared(guilty) => {
                    let hit = matches!(item.source, Source::Cleared(cleared, _) if cleared == c);
                    (if hit { guilty } else { unlisted }, hit)
                }
            };
            column.single.push(l / unlisted);
            column.linked.push(linked);
        }
        column
    }

    /// What the loop over pairs reads: small tables by cause, so that it takes no decision. An
    /// unlinked cause enters with the background, which leaves the other alone.
    pub fn pair_table(&self) -> PairTable<'_> {
        if let Some((absent, background)) = &self.absent {
            PairTable::Presence {
                base: self.weights[1] / self.unlisted,
                slope: (self.weights[0] - self.weights[1]) / self.unlisted,
                inverse: 1.0 / background,
                absent,
            }
        } else if self.tries() || matches!(self.kind, Kind::Cleared(_)) {
            PairTable::OneByOne
        } else {
            // Mean of the linked: an unlinked cause weighs next to nothing, and only counts beside
            // another unlinked one.
            let share: Vec<f64> = self
                .linked
                .iter()
                .map(|l| if *l { 1.0 } else { UNHEARD })
                .collect();
            PairTable::Mean {
                part: self.single.iter().zip(&share).map(|(s, w)| s * w).collect(),
                share,
            }
        }
    }

    /// Likelihood ratios of `unlisted` and the causes alone.
    pub fn ratios_alone(&self, members: &Members, out: &mut Vec<f64>) {
        out.clear();
        out.push(1.0);
        out.extend(members.ones.iter().map(|c| self.single[*c as usize]));
    }

    /// Likelihood ratios of some runs of pairs.
    pub fn ratios_of_pairs(
        &self,
        knowledge: &Knowledge,
        table: &PairTable,
        runs: &[Run],
        out: &mut Vec<f64>,
    ) {
        out.clear();
        for run in runs {
            let (i, js) = (
                run.first as usize,
                run.from as usize..run.from as usize + run.many as usize,
            );
            match table {
                PairTable::Presence {
                    base,
                    slope,
                    inverse,
                    absent,
                } => {
                    let first = absent[i] * inverse;
                    out.extend(
                        absent[js].iter().map(|second| {
                            base + slope * (first * second).clamp(FLOOR, 1.0 - FLOOR)
                        }),
                    );
                }
                PairTable::Mean { part, share } => {
                    out.extend(
                        part[js.clone()]
                            .iter()
                            .zip(&share[js])
                            .map(|(p, s)| (part[i] + p) / (share[i] + s)),
                    );
                }
                PairTable::OneByOne => {
                    let pair = |j: usize| Hypothesis::Two(CauseId(i as u16), CauseId(j as u16));
                    let ratio = |j: usize| {
                        if self.linked[i] || self.linked[j] {
                            self.ratio(knowledge, pair(j))
                        } else {
                            1.0
                        }
                    };
                    out.extend(js.map(ratio));
                }
            }
        }
    }

    /// Likelihood ratio of the item for a hypothesis, against `unlisted`.
    pub fn ratio(&self, knowledge: &Knowledge, h: Hypothesis) -> f64 {
        match h {
            Hypothesis::Unlisted => 1.0,
            Hypothesis::One(c) => self.single[c.at()],
            Hypothesis::Two(i, j) => match (self.linked[i.at()], self.linked[j.at()]) {
                (true, true) => self.both(knowledge, i, j),
                (false, false) => self.single[i.at()],
                _ if self.tries() => self.both(knowledge, i, j),
                (true, false) => self.single[i.at()],
                (false, true) => self.single[j.at()],
            },
        }
    }

    /// For a try, a pair of which one cause is touched is neither the one nor the other alone.
    fn tries(&self) -> bool {
        matches!(self.kind, Kind::TryingCheck(..) | Kind::Tried(..))
    }

    fn both(&self, knowledge: &Knowledge, i: CauseId, j: CauseId) -> f64 {
        let l = match self.kind {
            // The weight is linear in the states' chances, so the mean of two distributions weighs
            // the mean of their weights.
            Kind::Finding(_) => match &self.absent {
                None => return (self.single[i.at()] + self.single[j.at()]) / 2.0,
                Some((absent, background)) => {
                    let a = both_absent(absent[i.at()], absent[j.at()], *background);
                    self.weights[0] * a + self.weights[1] * (1.0 - a)
                }
            },
            Kind::TryingCheck(f) => {
                let mut states = [0.0; MOST_STATES];
                pair_states(knowledge, f, i, j, &mut states);
                weigh(&self.weights, &states)
            }
            Kind::Tried(fix, only, result) => tried_likelihoods(&[
                chance(knowledge, fix, only, i),
                chance(knowledge, fix, only, j),
            ])[result as usize],
            Kind::Cleared(guilty) => guilty,
        };
        l / self.unlisted
    }
}

/// P(absent) when two linked causes act: noisy-or over the background.
fn both_absent(a: f64, b: f64, background: f64) -> f64 {
    (a * b / background).clamp(FLOOR, 1.0 - FLOOR)
}

/// P(state | pair) for every state of a finding: the one linked cause speaks alone; two speak by
/// noisy-or, or by the mean.
pub(crate) fn pair_states(
    knowledge: &Knowledge,
    f: FindingId,
    i: CauseId,
    j: CauseId,
    out: &mut [f64; MOST_STATES],
) {
    let finding = knowledge.finding(f);
    if let Some(fix) = finding.also_fix {
        let table = tried_likelihoods(&[knowledge.cure(fix, i), knowledge.cure(fix, j)]);
        let folded = fold(table, &results_of(finding));
        out[..folded.len()].copy_from_slice(&folded);
        return;
    }
    let (a, b) = (knowledge.table.states(i, f), knowledge.table.states(j, f));
    match (knowledge.table.linked(i, f), knowledge.table.linked(j, f)) {
        (true, true) if finding.presence() => {
            let absent = both_absent(a[0], b[0], finding.states[0].background);
            out[0] = absent;
            out[1] = 1.0 - absent;
        }
        (true, true) => {
            for s in 0..a.len() {
                out[s] = (a[s] + b[s]) / 2.0;
            }
        }
        (true, false) => out[..a.len()].copy_from_slice(a),
        _ => out[..b.len()].copy_from_slice(b),
    }
}

fn chance(knowledge: &Knowledge, fix: FixId, only: Option<CauseId>, cause: CauseId) -> f64 {
    if only.is_none_or(|c| c == cause) {
        knowledge.cure(fix, cause)
    } else {
        0.0
    }
}

fn weigh(weights: &[f64], likelihoods: &[f64]) -> f64 {
    weights.iter().zip(likelihoods).map(|(w, l)| w * l).sum()
}
