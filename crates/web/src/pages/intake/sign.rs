//! A finding to answer by touch: its picture, its question, one button for each answer.

use super::scene::Scene;
use crate::drawing::finding;
use crate::show;
use std::borrow::Cow;
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::FindingId;

pub struct Button {
    pub value: String,
    pub label: String,
    pub chosen: bool,
    /// What the answer would do to the line-up, where that is told.
    pub then: String,
    /// The key that gives it, where keys answer what is on screen.
    pub key: Option<usize>,
}

pub struct SignCard {
    pub id: String,
    pub question: String,
    pub term: String,
    pub picture: String,
    pub buttons: Vec<Button>,
    /// Several of the answers may hold at once.
    pub several: bool,
    /// `seen`, `not-seen`, `unknown` or nothing: how the card is marked.
    pub mark: &'static str,
    pub part: &'static str,
    pub at: String,
}

impl Button {
    fn new(value: &str, label: impl Into<String>, chosen: bool) -> Self {
        Self {
            value: value.into(),
            label: label.into(),
            chosen,
            then: String::new(),
            key: None,
        }
    }
}

/// The card of a finding as the case answers it now.
pub fn card(scene: &Scene, finding: FindingId) -> SignCard {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let f = k.finding(finding);
    let given = case.facts.findings.get(&finding);
    let unknown = given.is_none() && case.passed.contains(&finding);
    let mark = match given {
        _ if unknown => "unknown",
        Some(sighting) if sighting.answer.is_denial(k, finding) => "not-seen",
        Some(_) => "seen",
        None => "",
    };
    SignCard {
        id: f.id.clone(),
        question: f.question.clone(),
        term: f.term.clone(),
        picture: finding::svg(k, finding),
        buttons: buttons(scene, finding, unknown),
        several: f.several,
        mark,
        part: scene.part,
        at: scene.at.clone(),
    }
}

/// One button for each answer.
fn buttons(scene: &Scene, finding: FindingId, unknown: bool) -> Vec<Button> {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let f = k.finding(finding);
    let given = case.facts.findings.get(&finding);
    let now = given.map_or(Cow::Borrowed(""), |s| s.answer.id(k, finding));
    let hedged = given.is_some_and(|s| s.confidence != Confidence::Sure);
    let yes_or_no = |state: &str, word: &str| {
        let chosen = now == state;
        match chosen && hedged {
            true => Button::new(state, format!("{word} (not sure)"), chosen),
            false => Button::new(state, word, chosen),
        }
    };
    if f.presence() {
        return vec![
            yes_or_no("present", "Yes, this"),
            yes_or_no("absent", "No, not this"),
            Button::new("unknown", "Not sure", unknown),
        ];
    }
    let states = f.states.iter();
    let states = states.map(|s| {
        let chosen = now.split('+').any(|id| id == s.id);
        Button::new(&s.id, show::capital(&s.phrase), chosen)
    });
    let several = f.one_of.iter();
    let several =
        several.map(|(id, _)| Button::new(id, "One of these, not sure which", *id == now));
    let unknown = Button::new("unknown", "I can’t tell", unknown);
    states.chain(several).chain([unknown]).collect()
}
