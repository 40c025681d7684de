//! What is known of one case, and how it weighs.
//!
//! [`Facts`] is what people and programs told; [`Evidence`] is what the ranking uses of it: numbers
//! turned into findings, superseded impressions left out, everything in knowledge order.

mod numbers;

pub use numbers::{
    LINED_HOTTEST, findings_from_numbers, hottest_nozzle, nozzle_window, window_for,
};

use crate::identified::identified;
use crate::knowledge::{CauseId, FindingId, FixId, Knowledge, MOST_STATES, TryResult};
use crate::nearest::{did_you_mean, nearest, short};
use crate::profile::Context;
use crate::settings::Settings;
use std::collections::BTreeMap;

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

/// What was answered for a finding.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Answer {
    /// One state.
    State(usize),
    /// One of several states, by its place in [`crate::knowledge::Finding::one_of`].
    OneOf(usize),
    /// A measured number: P(reading | state) for each state, summing to 1; unused places are 0.
    Read([f64; MOST_STATES]),
}

/// A reading is said to fit an outcome as well from this share on.
const FITS_TOO: f64 = 0.1;

/// An answered finding.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sighting {
    /// What was answered.
    pub answer: Answer,
    /// How surely.
    pub confidence: Confidence,
}

/// A fix that was tried.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Tried {
    /// The fix.
    pub fix: FixId,
    /// Only this cause was aimed at, by its first fix.
    pub aimed_at: Option<CauseId>,
    /// What happened.
    pub result: TryResult,
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
}

/// Reads a state as answered. `unknown` is no evidence and gives `None`.
///
/// # Errors
/// Says which states the finding has, and the nearest.
pub fn answer(
    knowledge: &Knowledge,
    finding: FindingId,
    state: &str,
) -> Result<Option<Answer>, NoState> {
    let f = knowledge.finding(finding);
    if let Some(s) = f.state(state) {
        return Ok(Some(Answer::State(s)));
    }
    if let Some(o) = f.one_of.iter().position(|(id, _)| id == state) {
        return Ok(Some(Answer::OneOf(o)));
    }
    if state == "unknown" {
        return Ok(None);
    }
    let mut allowed: Vec<&str> = f
        .states
        .iter()
        .map(|s| s.id.as_str())
        .chain(f.one_of.iter().map(|(id, _)| id.as_str()))
        .collect();
    allowed.push("unknown");
    let near = nearest(state, allowed.iter().copied());
    Err(NoState {
        finding: f.id.clone(),
        given: short(state),
        near: near.map(str::to_string),
        allowed: allowed.into_iter().map(str::to_string).collect(),
    })
}

/// An answer that a finding does not have.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error(
    "`{given}` is no state of `{finding}`: allowed are {}{}",
    allowed.join(", "),
    near.as_deref().map(did_you_mean).unwrap_or_default()
)]
pub struct NoState {
    /// The finding, by identifier.
    pub finding: String,
    /// What was given, cut short.
    pub given: String,
    /// What would do.
    pub allowed: Vec<String>,
    /// The most alike.
    pub near: Option<String>,
}

impl Answer {
    /// Whether it says that there is nothing: `absent`, or `none` of several.
    pub fn is_denial(self, knowledge: &Knowledge, finding: FindingId) -> bool {
        ["absent", "none"].contains(&self.id(knowledge, finding))
    }

    /// The state answered, or the one a reading fits best; nothing when several were named.
    pub fn state(self) -> Option<usize> {
        match self {
            Answer::State(s) => Some(s),
            Answer::OneOf(_) => None,
            Answer::Read(weights) => (0..weights.len())
                .rev()
                .max_by(|a, b| weights[*a].total_cmp(&weights[*b])),
        }
    }

    /// The identifier of the state answered; of a reading, the state it fits best.
    pub fn id(self, knowledge: &Knowledge, finding: FindingId) -> &str {
        let f = knowledge.finding(finding);
        match self {
            Answer::State(s) => &f.states[s].id,
            Answer::OneOf(o) => &f.one_of[o].0,
            Answer::Read(_) => &f.states[self.state().unwrap_or(0)].id,
        }
    }

    /// The phrase a person reads.
    pub fn phrase(self, knowledge: &Knowledge, finding: FindingId) -> String {
        let f = knowledge.finding(finding);
        match self {
            Answer::State(s) => f.states[s].phrase.clone(),
            Answer::OneOf(o) => f.one_of[o]
                .1
                .iter()
                .map(|s| f.states[*s].phrase.as_str())
                .collect::<Vec<_>>()
                .join(", or "),
            Answer::Read(weights) => {
                let mut fits: Vec<(f64, &str)> = weights
                    .iter()
                    .zip(&f.states)
                    .map(|(w, s)| (*w, s.phrase.as_str()))
                    .collect();
                fits.sort_by(|a, b| b.0.total_cmp(&a.0));
                let told = fits
                    .iter()
                    .enumerate()
                    .filter(|(n, (w, _))| *n == 0 || *w >= FITS_TOO);
                told.map(|(_, (w, phrase))| format!("{phrase} ({:.0} %)", w * 100.0))
                    .collect::<Vec<_>>()
                    .join(", or ")
            }
        }
    }
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
}

/// One piece of evidence.
#[derive(Debug, Clone)]
pub struct Item {
    /// Where it comes from.
    pub source: Source,
    /// λ(s) for findings, one per state; empty otherwise.
    pub weights: Vec<f64>,
    /// Items of the same group say the same thing twice.
    group: Option<Group>,
}

#[derive(Debug, Clone, PartialEq, Eq)]
enum Group {
    Named(String),
    Fix(FixId),
}

/// What the ranking works on: items in knowledge order, then tries, then cleared parts.
#[derive(Debug, Clone)]
pub struct Evidence {
    /// Machine and material.
    pub context: Context,
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
        let mut items: Vec<Item> = findings
            .into_iter()
            .map(|(f, sighting)| Item::finding(knowledge, f, sighting))
            .collect();
        items.extend(facts.tried.iter().enumerate().map(|(n, t)| Item {
            source: Source::Tried(n, *t),
            weights: Vec::new(),
            group: Some(Group::Fix(t.fix)),
        }));
        items.extend(facts.cleared.iter().map(|(c, confidence)| Item {
            source: Source::Cleared(*c, *confidence),
            weights: Vec::new(),
            group: None,
        }));
        let groups = if plain { Vec::new() } else { groups(&items) };
        Self {
            context: facts.context,
            items,
            groups,
        }
    }

    /// Whether a new answer to `finding` would share a group with something known.
    pub fn shares_group(&self, knowledge: &Knowledge, finding: FindingId) -> bool {
        group_of(knowledge, finding)
            .is_some_and(|g| self.items.iter().any(|i| i.group.as_ref() == Some(&g)))
    }
}

impl Item {
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
        };
        Self {
            source: Source::Finding(f, sighting),
            weights,
            group: group_of(knowledge, f),
        }
    }
}

fn group_of(knowledge: &Knowledge, f: FindingId) -> Option<Group> {
    let finding = knowledge.finding(f);
    finding
        .also_fix
        .map(Group::Fix)
        .or_else(|| finding.group.clone().map(Group::Named))
}

fn groups(items: &[Item]) -> Vec<Vec<usize>> {
    let mut out: Vec<Vec<usize>> = Vec::new();
    for (i, item) in items.iter().enumerate().filter(|(_, i)| i.group.is_some()) {
        match out.iter_mut().find(|g| items[g[0]].group == item.group) {
            Some(group) => group.push(i),
            None => out.push(vec![i]),
        }
    }
    out.retain(|g| g.len() > 1);
    out
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
