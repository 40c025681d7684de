//! Likelihood of one piece of evidence under each hypothesis, against `unlisted`.

use super::members::{Members, Run};
use super::pair::{both_absent, pair_states, tried_of};
use super::{Hypothesis, Seen};
use crate::evidence::{Item, Source, Tried};
use crate::knowledge::{CauseId, FLOOR, FindingId, Knowledge, MOST_STATES, tried_likelihoods};

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
    /// What else was seen, as far as a try hangs on it.
    seen: Seen,
    one_of_several: bool,
}

#[derive(Debug, Clone, Copy)]
enum Kind {
    Finding(FindingId),
    /// A check that is also a try of a fix.
    TryingCheck(FindingId),
    /// A try of a fix or of several.
    Tried(Tried),
    /// Likelihood when the cause that was cleared or spoken of acts.
    Cleared(f64),
    /// What a trial series says: a likelihood ratio of each cause.
    Trials,
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
        /// 1 / (share of the one + share of the other), by the other, beside a linked one.
        beside_linked: Vec<f64>,
        /// The same beside an unlinked one.
        beside_unlinked: Vec<f64>,
    },
    OneByOne,
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
        Source::Tried(_, t) => {
            let untouched = tried_likelihoods(&[], knowledge.fix(t.fix).by_chance);
            (Kind::Tried(t), weigh(&t.fits(), &untouched))
        }
        Source::Cleared(_, confidence) => {
            let gamma = confidence.gamma();
            let blur = |p: f64| gamma * p + (1.0 - gamma) / 2.0;
            (
                Kind::Cleared(blur(SOUND_THOUGH_GUILTY)),
                blur(1.0 - SOUND_THOUGH_GUILTY),
            )
        }
        Source::Own(_, cause, decibans) => own_likelihoods(cause, decibans),
        Source::Trials(_) => (Kind::Trials, 1.0),
    }
}

/// What a word of the workshop's own is worth under whom it speaks of, and under `unlisted`. Where
/// it speaks of whoever is not listed, every listed cause is the other side.
fn own_likelihoods(cause: Option<CauseId>, decibans: f64) -> (Kind, f64) {
    let weak = 10f64.powf(-decibans.abs() / 10.0);
    let (spoken_of, others) = match decibans >= 0.0 {
        true => (1.0, weak),
        false => (weak, 1.0),
    };
    match cause {
        Some(_) => (Kind::Cleared(spoken_of), others),
        None => (Kind::Cleared(others), spoken_of),
    }
}

impl Column {
    pub fn new(knowledge: &Knowledge, item: &Item, seen: &Seen) -> Self {
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
            seen: Seen::default(),
            one_of_several: item.one_of_several,
        };
        if column.tries() {
            column.seen = seen.clone();
        }
        if let Kind::Finding(f) = kind
            && knowledge.finding(f).presence()
        {
            let absent = knowledge
                .cause_ids()
                .map(|c| seen.states(knowledge, c, f)[0])
                .collect();
            column.absent = Some((absent, knowledge.finding(f).states[0].background));
        }
        if let (true, Kind::Finding(f)) = (item.one_of_several, kind) {
            column.as_presence(knowledge, seen, f);
        }
        for c in knowledge.cause_ids() {
            let (l, linked) = match kind {
                _ if item.silent.contains(&c) => (unlisted, false),
                Kind::Trials => (item.weights[c.at()], item.weights[c.at()] != 1.0),
                Kind::Finding(f) | Kind::TryingCheck(f) => (
                    weigh(&column.weights, seen.states(knowledge, c, f)),
                    knowledge.table.linked(c, f),
                ),
                Kind::Tried(tried) => {
                    let k = tried.cure(knowledge, c);
                    let table = tried_likelihoods(&[k], knowledge.fix(tried.fix).by_chance);
                    (weigh(&tried.fits(), &table), k > 0.0)
                }
                Kind::Cleared(guilty) => {
                    let hit = match item.source {
                        Source::Cleared(cause, _) | Source::Own(_, Some(cause), _) => cause == c,
                        _ => true,
                    };
                    (if hit { guilty } else { unlisted }, hit)
                }
            };
            column.single.push(l / unlisted);
            column.linked.push(linked);
        }
        column
    }

    /// One of several states seen at one look combines by noisy-or, as a sign does: each of two
    /// causes may bring its own.
    fn as_presence(&mut self, knowledge: &Knowledge, seen: &Seen, f: FindingId) {
        let on = |states: &[f64]| weigh(&self.weights, states);
        let absent = knowledge
            .cause_ids()
            .map(|c| 1.0 - on(seen.states(knowledge, c, f)))
            .collect();
        let states = &knowledge.finding(f).states;
        let background: Vec<f64> = states.iter().map(|s| s.background).collect();
        self.absent = Some((absent, 1.0 - on(&background)));
    }

    /// What the loop over pairs reads: small tables by cause, so that it takes no decision. An
    /// unlinked cause enters with the background, which leaves the other alone.
    pub fn pair_table(&self) -> PairTable<'_> {
        if let Some((absent, background)) = &self.absent {
            let (gone, there) = self.presence_weights();
            PairTable::Presence {
                base: there / self.unlisted,
                slope: (gone - there) / self.unlisted,
                inverse: 1.0 / background,
                absent,
            }
        } else if self.tries() || matches!(self.kind, Kind::Cleared(_) | Kind::Trials) {
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
                beside_linked: share.iter().map(|s| 1.0 / (1.0 + s)).collect(),
                beside_unlinked: share.iter().map(|s| 1.0 / (UNHEARD + s)).collect(),
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
                PairTable::Mean {
                    part,
                    beside_linked,
                    beside_unlinked,
                } => {
                    let beside = match self.linked[i] {
                        true => beside_linked,
                        false => beside_unlinked,
                    };
                    let second = part[js.clone()].iter().zip(&beside[js]);
                    out.extend(second.map(|(p, b)| (part[i] + p) * b));
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

    /// λ of absent and of present, for what combines by noisy-or.
    fn presence_weights(&self) -> (f64, f64) {
        match self.one_of_several {
            true => (0.0, 1.0),
            false => (self.weights[0], self.weights[1]),
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
                    let (gone, there) = self.presence_weights();
                    gone * a + there * (1.0 - a)
                }
            },
            Kind::TryingCheck(f) => {
                let mut states = [0.0; MOST_STATES];
                pair_states(knowledge, &self.seen, f, i, j, &mut states);
                weigh(&self.weights, &states)
            }
            Kind::Tried(tried) => {
                let chance = |c| tried.cure(knowledge, c);
                let pair = Hypothesis::Two(i, j);
                let table = tried_of(knowledge, &self.seen, pair, tried.fix, chance);
                weigh(&tried.fits(), &table)
            }
            Kind::Cleared(guilty) => guilty,
            // Either of the two explains what the pieces showed.
            Kind::Trials => return self.single[i.at()].max(self.single[j.at()]),
        };
        l / self.unlisted
    }
}

fn weigh(weights: &[f64], likelihoods: &[f64]) -> f64 {
    weights.iter().zip(likelihoods).map(|(w, l)| w * l).sum()
}
