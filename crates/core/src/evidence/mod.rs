//! What is known of one case, and how it weighs.
//!
//! [`Facts`] is what people and programs told; [`Evidence`] is what the ranking uses of it: numbers
//! turned into findings, superseded impressions left out, everything in knowledge order.

mod answer;
mod groups;
mod numbers;
mod tried;

pub use answer::{Answer, NoState, answer};
pub use numbers::{
    LINED_HOTTEST, bed_window, demand, findings_from_numbers, hottest_nozzle, melt_limit,
    nozzle_window, window_for,
};
pub use tried::{Together, Tried};

use crate::identified::identified;
use crate::knowledge::{CauseId, FindingId, Knowledge};
use crate::learning::Learned;
use crate::profile::Context;
use crate::settings::Settings;
use groups::{Group, group_of, groups, repeat};
use std::collections::BTreeMap;
use std::sync::Arc;

identified! {
    /// How sure the observer is, surest first.
    #[derive(Default)]
    pub enum Confidence {
        /// Seen without doubt: 1.
        #[default]
        Sure = "sure",
        /// Rather so: 0.75.
        Likely = "likely",
        /// A guess: 0.4.
        Hunch = "hunch",
    }
}

impl Confidence {
    /// γ of the model.
    pub fn gamma(self) -> f64 {
        match self {
            Confidence::Sure => 1.0,
            Confidence::Likely => 0.75,
            Confidence::Hunch => 0.4,
        }
    }
}

/// An answered finding.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sighting {
    /// What was answered.
    pub answer: Answer,
    /// How surely.
    pub confidence: Confidence,
}

/// What a check or fix of the workshop's own said, in its own words.
#[derive(Debug, Clone, PartialEq)]
pub struct OwnWord {
    /// What was done.
    pub name: String,
    /// What came of it.
    pub outcome: String,
    /// Whom it speaks of, a cause or whoever is not listed, and how strongly: decibans for it,
    /// below 0 against it. Nothing where nobody said so: it then weighs nothing.
    pub speaks: Option<(Option<CauseId>, f64)>,
}

/// What a trial series says of causes.
#[derive(Debug, Clone, PartialEq)]
pub struct TrialWord {
    /// Identifier of the series.
    pub series: String,
    /// What it is called.
    pub name: String,
    /// Looks it rests on.
    pub looks: u32,
    /// Decibans of each cause that it names, against whoever is not listed.
    pub causes: Vec<(CauseId, f64)>,
}

/// Everything known of a case, each part checked against the knowledge.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Facts {
    /// Machine and material.
    pub context: Context,
    /// Numbers.
    pub settings: Settings,
    /// Findings with the one value that counts.
    pub findings: BTreeMap<FindingId, Sighting>,
    /// Fixes tried, in order.
    pub tried: Vec<Tried>,
    /// Parts found sound without a listed check.
    pub cleared: Vec<(CauseId, Confidence)>,
    /// What checks and fixes of the workshop's own said.
    pub own: Vec<OwnWord>,
    /// What trial series said.
    pub trials: Vec<TrialWord>,
    /// What outcomes taught of this machine. Not of the case: whoever ranks puts it in.
    pub learned: Option<Arc<Learned>>,
}

/// Where a piece of evidence comes from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Source {
    /// A finding, answered or drawn from numbers.
    Finding(FindingId, Sighting),
    /// The n-th tried fix.
    Tried(usize, Tried),
    /// A part found sound.
    Cleared(CauseId, Confidence),
    /// The n-th word of the workshop's own: whom it speaks of, with how many decibans.
    Own(usize, Option<CauseId>, f64),
    /// What the n-th trial series says.
    Trials(usize),
}

/// One piece of evidence.
#[derive(Debug, Clone)]
pub struct Item {
    /// Where it comes from.
    pub source: Source,
    /// λ(s) for findings, one per state; for a trial series the likelihood ratio of each cause;
    /// empty otherwise.
    pub weights: Vec<f64>,
    /// Causes of which something else speaks in its place.
    pub silent: Vec<CauseId>,
    /// One of several states seen at one look, which stands for itself.
    pub one_of_several: bool,
    /// Items of the same group say the same thing twice.
    group: Option<Group>,
}

/// What the ranking works on: items in knowledge order, then tries, then cleared parts.
#[derive(Debug, Clone)]
pub struct Evidence {
    /// Machine and material.
    pub context: Context,
    /// What outcomes taught of this machine; none where the book alone speaks.
    pub learned: Option<Arc<Learned>>,
    /// The items.
    pub items: Vec<Item>,
    /// Groups of two items or more, by index into `items`.
    pub groups: Vec<Vec<usize>>,
}

impl Evidence {
    /// The full evidence of a case: superseded findings left out, groups respected.
    pub fn of(knowledge: &Knowledge, facts: &Facts) -> Self {
        Self::gather(knowledge, facts, false)
    }

    /// The evidence for `--plain`: no groups, nothing superseded.
    pub fn plain(knowledge: &Knowledge, facts: &Facts) -> Self {
        Self::gather(knowledge, facts, true)
    }

    fn gather(knowledge: &Knowledge, facts: &Facts, plain: bool) -> Self {
        let mut findings = facts.findings.clone();
        findings.extend(findings_from_numbers(
            knowledge,
            &facts.context,
            &facts.settings,
        ));
        if !plain {
            for gone in superseded(knowledge, &findings) {
                findings.remove(&gone);
            }
        }
        let mut items: Vec<Item> = Vec::new();
        for (f, sighting) in findings {
            match sighting.answer {
                Answer::All(_) => items.extend(Item::several(knowledge, f, sighting)),
                _ => items.push(Item::finding(knowledge, f, sighting)),
            }
        }
        items.extend(facts.tried.iter().enumerate().map(|(n, t)| Item {
            source: Source::Tried(n, *t),
            weights: Vec::new(),
            silent: Vec::new(),
            one_of_several: false,
            group: Some(Group::Fix(t.fix)),
        }));
        items.extend(facts.cleared.iter().map(|(c, confidence)| Item {
            source: Source::Cleared(*c, *confidence),
            weights: Vec::new(),
            silent: Vec::new(),
            one_of_several: false,
            group: None,
        }));
        let own = facts.own.iter().enumerate();
        items.extend(own.map(|(n, word)| {
            let (cause, decibans) = word.speaks.unwrap_or((None, 0.0));
            Item {
                source: Source::Own(n, cause, decibans),
                weights: Vec::new(),
                silent: Vec::new(),
                one_of_several: false,
                group: None,
            }
        }));
        trials(knowledge, facts, plain, &mut items);
        let groups = match plain {
            true => Vec::new(),
            false => groups(knowledge, &items),
        };
        Self {
            context: facts.context,
            learned: facts.learned.clone().filter(|_| !plain),
            items,
            groups,
        }
    }

    /// Whether a new answer to `finding` would share a group with something known.
    pub fn shares_group(&self, knowledge: &Knowledge, finding: FindingId) -> bool {
        let group = group_of(knowledge, finding);
        self.items.iter().any(|i| {
            group.is_some() && i.group == group
                || matches!(i.source, Source::Finding(f, _) if repeat(knowledge, f, finding))
        })
    }
}

impl Item {
    /// Several states seen at one look: each a piece of evidence of its own.
    fn several(knowledge: &Knowledge, f: FindingId, sighting: Sighting) -> Vec<Self> {
        let one = |state: usize| Self {
            one_of_several: true,
            ..Self::finding(
                knowledge,
                f,
                Sighting {
                    answer: Answer::State(state),
                    confidence: sighting.confidence,
                },
            )
        };
        sighting.answer.states().into_iter().map(one).collect()
    }

    /// An answered finding as evidence.
    pub fn finding(knowledge: &Knowledge, f: FindingId, sighting: Sighting) -> Self {
        let finding = knowledge.finding(f);
        let k = finding.states.len();
        let weights = match sighting.answer {
            Answer::State(state) => {
                let gamma = sighting.confidence.gamma();
                let other = (1.0 - gamma) / k as f64;
                (0..k)
                    .map(|s| if s == state { gamma + other } else { other })
                    .collect()
            }
            Answer::OneOf(o) => (0..k)
                .map(|s| {
                    if finding.one_of[o].1.contains(&s) {
                        1.0
                    } else {
                        0.0
                    }
                })
                .collect(),
            Answer::Read(weights) => weights[..k].to_vec(),
            Answer::All(all) => (0..k).map(|s| f64::from((all >> s) & 1)).collect(),
        };
        Self {
            source: Source::Finding(f, sighting),
            weights,
            silent: Vec::new(),
            one_of_several: false,
            group: group_of(knowledge, f),
        }
    }
}

/// One item a series; it speaks in the place of looser checks of the causes that it names.
fn trials(knowledge: &Knowledge, facts: &Facts, plain: bool, items: &mut Vec<Item>) {
    for (n, word) in facts.trials.iter().enumerate() {
        let mut weights = vec![1.0; knowledge.causes.len()];
        for (cause, decibans) in &word.causes {
            weights[cause.at()] = 10_f64.powf(decibans / 10.0);
        }
        for item in items
            .iter_mut()
            .filter(|i| !plain && looser(knowledge, i.source))
        {
            item.silent.extend(word.causes.iter().map(|(c, _)| *c));
        }
        items.push(Item {
            source: Source::Trials(n),
            weights,
            silent: Vec::new(),
            one_of_several: false,
            group: None,
        });
    }
}

/// Checks that a trial series supersedes for the causes it names.
const SUPERSEDED: [&str; 3] = ["toggle-motion-feature", "firmware-back", "settings-review"];

/// Whether a trial series says better what this says.
fn looser(knowledge: &Knowledge, source: Source) -> bool {
    let Source::Finding(f, _) = source else {
        return false;
    };
    let finding = knowledge.finding(f);
    finding.check.is_some() && SUPERSEDED.contains(&finding.id.as_str())
}

/// Findings that count nothing because a check settled the matter.
pub fn superseded(
    knowledge: &Knowledge,
    findings: &BTreeMap<FindingId, Sighting>,
) -> Vec<FindingId> {
    let checks = findings.keys().filter_map(|f| knowledge.finding(*f).check);
    checks
        .flat_map(|c| knowledge.check(c).supersedes.iter().copied())
        .filter(|f| findings.contains_key(f))
        .collect()
}

/// Signs told of one case that hardly stand beside each other: one of each two may be a slip.
pub fn clashes(knowledge: &Knowledge, facts: &Facts) -> Vec<(FindingId, FindingId)> {
    let told = |(finding, state): (FindingId, usize)| {
        let seen = facts.findings.get(&finding);
        seen.is_some_and(|s| s.answer.says(state))
    };
    let both = knowledge
        .clashes
        .iter()
        .filter(|(a, b)| told(*a) && told(*b));
    both.map(|(a, b)| (a.0, b.0)).collect()
}
