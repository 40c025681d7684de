//! What was answered for a finding: one state, one of several, several together, a reading.

use crate::knowledge::{FindingId, Knowledge, MOST_STATES};
use crate::nearest::{did_you_mean, nearest, short};
use std::borrow::Cow;

/// What was answered for a finding.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Answer {
    /// One state.
    State(usize),
    /// One of several states, by its place in [`crate::knowledge::Finding::one_of`].
    OneOf(usize),
    /// Several states seen at one look, a bit each: a cracked arm and a worn gear.
    All(u16),
    /// A measured number: P(reading | state) for each state, summing to 1; unused places are 0.
    Read([f64; MOST_STATES]),
}

/// A reading is said to fit an outcome as well from this share on.
const FITS_TOO: f64 = 0.1;

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
    if let Some(all) = several(knowledge, finding, state) {
        return Ok(Some(all));
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

/// Several states at one look, joined by `+`, where the check allows it. The sound state stands
/// beside no other.
fn several(knowledge: &Knowledge, finding: FindingId, text: &str) -> Option<Answer> {
    let f = knowledge.finding(finding);
    if !f.several || !text.contains('+') {
        return None;
    }
    let mut all = 0u16;
    for id in text.split('+') {
        let state = f.state(id)?;
        if f.is_sound(state) || all & (1 << state) != 0 {
            return None;
        }
        all |= 1 << state;
    }
    Some(Answer::All(all))
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
    /// Whether it names this state for certain.
    pub fn says(self, state: usize) -> bool {
        self.states().contains(&state)
    }

    /// The states it names for certain.
    pub fn states(self) -> Vec<usize> {
        match self {
            Answer::State(s) => vec![s],
            Answer::All(all) => (0..MOST_STATES).filter(|s| all & (1 << s) != 0).collect(),
            Answer::OneOf(_) | Answer::Read(_) => Vec::new(),
        }
    }

    /// Whether it says that there is nothing: `absent`, or `none` of several.
    pub fn is_denial(self, knowledge: &Knowledge, finding: FindingId) -> bool {
        ["absent", "none"].contains(&&*self.id(knowledge, finding))
    }

    /// The state answered, the first of those seen together, or the one a reading fits best;
    /// nothing when it is one of several.
    pub fn state(self) -> Option<usize> {
        match self {
            Answer::State(s) => Some(s),
            Answer::OneOf(_) => None,
            Answer::All(all) => Some(all.trailing_zeros() as usize),
            Answer::Read(weights) => (0..weights.len())
                .rev()
                .max_by(|a, b| weights[*a].total_cmp(&weights[*b])),
        }
    }

    /// The identifier of the state answered; of several seen together, all joined by `+`; of a
    /// reading, the state it fits best.
    pub fn id(self, knowledge: &Knowledge, finding: FindingId) -> Cow<'_, str> {
        let f = knowledge.finding(finding);
        match self {
            Answer::State(s) => Cow::from(&f.states[s].id),
            Answer::OneOf(o) => Cow::from(&f.one_of[o].0),
            Answer::Read(_) => Cow::from(&f.states[self.state().unwrap_or(0)].id),
            Answer::All(_) => {
                let ids = self.states().into_iter().map(|s| f.states[s].id.as_str());
                Cow::from(ids.collect::<Vec<_>>().join("+"))
            }
        }
    }

    /// The phrase a person reads.
    pub fn phrase(self, knowledge: &Knowledge, finding: FindingId) -> String {
        let f = knowledge.finding(finding);
        match self {
            Answer::State(s) => f.states[s].phrase.clone(),
            Answer::All(_) => {
                let all = self
                    .states()
                    .into_iter()
                    .map(|s| f.states[s].phrase.as_str());
                all.collect::<Vec<_>>().join(", and ")
            }
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
