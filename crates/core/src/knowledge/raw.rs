//! The TOML format of the knowledge, as written: nothing is checked here but the shape.

mod machines;

pub use machines::{CommissionStep, Interval, MachineKind, Quirk, UpkeepTask, Wrong};

use super::strength::Strength;
use serde::Deserialize;
use std::collections::BTreeMap;

/// A link: chances by state, or the chance of `present`.
#[derive(Debug, Deserialize)]
#[serde(untagged)]
pub enum Link {
    Present(Strength),
    States(BTreeMap<String, Strength>),
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Cause {
    pub name: String,
    pub plain: String,
    pub weight: String,
    pub mechanism: String,
    pub clears: String,
    #[serde(default)]
    pub pictogram: String,
    #[serde(default)]
    pub context: BTreeMap<String, f64>,
    #[serde(default)]
    pub exclusive: Vec<String>,
    #[serde(default)]
    pub consequence_of: BTreeMap<String, Strength>,
    pub fixes: Vec<(String, Strength)>,
    pub links: BTreeMap<String, Link>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Finding {
    #[serde(default)]
    pub region: String,
    #[serde(default)]
    pub question: String,
    pub plain: String,
    #[serde(default)]
    pub term: String,
    /// Two-state findings: phrase for `absent`.
    pub absent: Option<String>,
    /// Two-state findings: background of `present`.
    pub background: Option<f64>,
    /// Findings of more states: identifier, background, phrase.
    #[serde(default)]
    pub states: Vec<(String, f64, String)>,
    /// Several states may hold at once.
    #[serde(default)]
    pub several: bool,
    #[serde(default)]
    pub one_of: BTreeMap<String, Vec<String>>,
    pub group: Option<String>,
    #[serde(default)]
    pub needs: Vec<String>,
    /// Signs that hardly stand beside it.
    #[serde(default)]
    pub against: Vec<String>,
}

/// A step: plain words, or words with what belongs to them.
#[derive(Debug, Deserialize)]
#[serde(untagged)]
pub enum Step {
    Words(String),
    Full(FullStep),
}

#[derive(Debug, Default, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct FullStep {
    #[serde(rename = "do")]
    pub words: String,
    /// Minutes to wait before the next step.
    pub wait: f64,
    /// Name of a drawing, where a hand needs one.
    pub drawing: String,
    /// Parts that come off here and must come back at the end.
    pub keep: Vec<String>,
    /// How the machine stands while it is done: "hot unplugged".
    pub state: String,
    /// What it does: "heat unload".
    pub act: String,
    /// Tools in hand.
    pub tools: Vec<String>,
    /// Cautions beside those that its state and acts call for.
    pub caution: Vec<String>,
    /// What may go wrong, with the fix that leads on.
    pub otherwise: Vec<(String, String)>,
}

#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub struct Work {
    pub name: String,
    pub steps: Vec<Step>,
    pub tools: Vec<String>,
    pub minutes: f64,
    pub waiting: f64,
    pub grams: f64,
    pub money: f64,
    pub dismantling: String,
    pub risk: String,
    pub state: Vec<String>,
    pub prints: bool,
    pub raises_nozzle_c: f64,
    pub cautions: Vec<String>,
    /// `mains`, `motor-current`, `firmware`: work for somebody who knows that trade.
    pub trade: String,
}

#[derive(Debug, Deserialize)]
pub struct Check {
    #[serde(flatten)]
    pub work: Work,
    pub plain: String,
    /// Identifier and what is seen.
    pub outcomes: Vec<(String, String)>,
    /// The outcome a healthy machine gives: background 0.9.
    pub sound: Option<String>,
    /// Backgrounds where the default does not fit.
    #[serde(default)]
    pub background: BTreeMap<String, f64>,
    pub group: Option<String>,
    #[serde(default)]
    pub supersedes: Vec<String>,
    /// Signs beside which an outcome cannot stand, by outcome: `sign` or `sign=state`.
    #[serde(default)]
    pub excludes: BTreeMap<String, Vec<String>>,
    /// Signs that say the same as this check: they count as one piece of evidence.
    #[serde(default)]
    pub repeats: Vec<String>,
    pub also_fix: Option<String>,
    #[serde(default)]
    pub ends_case: Vec<String>,
    /// Several outcomes may be seen at one look.
    #[serde(default)]
    pub several: bool,
    /// Signs that make it the first step of all.
    #[serde(default)]
    pub first_when: Vec<String>,
    /// While it is asked for first, nothing is heated.
    #[serde(default)]
    pub before_heat: bool,
    /// Signs that put it among the first three steps.
    #[serde(default)]
    pub early_when: Vec<String>,
    /// Signs beside which it comes before any cure, where it is worth its time.
    #[serde(default)]
    pub before_fixes_when: Vec<String>,
    /// Of a check that is also a fix: its print is no proof, so `cured` does not end the case.
    #[serde(default)]
    pub proves_nothing: bool,
    #[serde(default)]
    pub needs: Vec<String>,
}

/// The usual proof, for fixes that need no other: the same small piece again.
fn same_piece() -> String {
    "Print the same piece with the same settings and lay it beside the kept one.".into()
}
fn hardly_ever() -> f64 {
    super::tried::UNTOUCHED[0]
}
fn one_print() -> u32 {
    1
}
fn a_few_minutes() -> f64 {
    3.0
}
fn a_small_piece_minutes() -> f64 {
    25.0
}
fn a_small_piece_grams() -> f64 {
    6.0
}

#[derive(Debug, Deserialize)]
pub struct Fix {
    #[serde(flatten)]
    pub work: Work,
    pub kind: String,
    #[serde(default = "same_piece")]
    pub verify: String,
    #[serde(default = "one_print")]
    pub verify_prints: u32,
    #[serde(default = "a_few_minutes")]
    pub verify_minutes: f64,
    #[serde(default = "a_small_piece_minutes")]
    pub verify_waiting: f64,
    #[serde(default = "a_small_piece_grams")]
    pub verify_grams: f64,
    #[serde(default)]
    pub may_bring: Vec<String>,
    /// Chance that the fault stays away after it though the fix does not touch the cause.
    #[serde(default = "hardly_ever")]
    pub by_chance: f64,
    /// The setting or value it changes, to be noted before.
    #[serde(default)]
    pub changes: String,
    #[serde(default)]
    pub warranty: String,
    #[serde(default)]
    pub needs: Vec<String>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Caution {
    pub level: String,
    pub text: String,
    #[serde(default)]
    pub when: Vec<String>,
    /// What it belongs to: words of [`super::types::Stands`] and [`super::types::Act`].
    #[serde(default)]
    pub belongs: Vec<String>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Material {
    pub nozzle_c: (f64, f64),
    pub bed_c: (f64, f64),
    pub chamber_c: (f64, f64),
    pub fan_percent: (f64, f64),
    pub closed: bool,
    pub drying: String,
}

#[derive(Debug, Deserialize)]
pub struct Stop {
    #[serde(flatten)]
    pub work: Work,
    pub title: String,
    pub why: String,
    pub holds: Vec<Vec<String>>,
    #[serde(default)]
    pub until: Vec<String>,
    pub check: Option<String>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Precaution {
    pub text: String,
    pub seconds: f64,
    /// Suspects it finds out, and how surely.
    pub catches: BTreeMap<String, Strength>,
    /// Done whatever it saves, for safety's sake.
    #[serde(default)]
    pub always: bool,
    #[serde(default)]
    pub cautions: Vec<String>,
    #[serde(default)]
    pub needs: Vec<String>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Term {
    pub term: String,
    pub plain: String,
    pub text: String,
    #[serde(default)]
    pub forms: Vec<String>,
    #[serde(default)]
    pub see: Vec<String>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Synonyms {
    pub words: Vec<String>,
}

/// Phrases of one finding by state.
pub type Phrases = BTreeMap<String, Vec<String>>;

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct School {
    pub title: String,
    pub why: String,
    pub sides: Vec<Side>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Side {
    pub id: String,
    pub name: String,
    pub when: String,
    pub costs: String,
    pub risks: String,
    #[serde(default)]
    pub fixes: Vec<String>,
    #[serde(default)]
    pub checks: Vec<String>,
}
