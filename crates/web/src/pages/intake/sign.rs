//! A finding to answer by touch: its picture, its question, one button for each answer.

use super::Scene;
use crate::{show, urls};
use suspect_core::evidence::{Confidence, answer};
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
    /// `seen`, `not-seen`, `unknown` or nothing: how the card is marked.
    pub mark: &'static str,
    pub action: String,
    pub seq: u32,
    pub part: &'static str,
    pub at: String,
}

/// The card of a finding as the case answers it now.
pub fn card(scene: &Scene, finding: FindingId) -> SignCard {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let f = k.finding(finding);
    let given = case.facts.findings.get(&finding);
    let now = given.map(|s| s.answer.id(k, finding)).unwrap_or("");
    let unknown = given.is_none() && case.passed.contains(&finding);
    let button = |value: &str, label: String, chosen: bool| Button {
        value: value.into(),
        label,
        chosen,
        then: String::new(),
        key: None,
    };
    let mut buttons = Vec::new();
    if f.presence() {
        let hedged = given.is_some_and(|s| s.confidence != Confidence::Sure);
        let sure = |word: &str| {
            if hedged {
                format!("{word} (not sure)")
            } else {
                word.to_string()
            }
        };
        buttons.push(button(
            "present",
            if now == "present" {
                sure("Yes, this")
            } else {
                "Yes, this".into()
            },
            now == "present",
        ));
        buttons.push(button(
            "absent",
            if now == "absent" {
                sure("No, not this")
            } else {
                "No, not this".into()
            },
            now == "absent",
        ));
    } else {
        buttons.extend(
            f.states
                .iter()
                .map(|s| button(&s.id, show::capital(&s.phrase), s.id == now)),
        );
        let several = |(id, _): &(String, Vec<usize>)| {
            button(id, "One of these, not sure which".into(), id == now)
        };
        buttons.extend(f.one_of.iter().map(several));
    }
    buttons.push(button(
        "unknown",
        if f.presence() {
            "Not sure".into()
        } else {
            "I can’t tell".into()
        },
        unknown,
    ));
    let nothing = given.is_some_and(|_| ["absent", "none"].contains(&now));
    SignCard {
        id: f.id.clone(),
        question: f.question.clone(),
        term: f.term.clone(),
        picture: super::super::handbook::picture(k, finding),
        buttons,
        mark: if unknown {
            "unknown"
        } else if nothing {
            "not-seen"
        } else if given.is_some() {
            "seen"
        } else {
            ""
        },
        action: urls::in_case(scene.case.id, "observe"),
        seq: case.last_seq,
        part: scene.part,
        at: scene.at.clone(),
    }
}

/// An answer's words, for a proposal or a copied fact.
pub fn phrase(scene: &Scene, finding: FindingId, state: &str) -> String {
    let k = &scene.state.knowledge;
    match answer(k, finding, state) {
        Ok(Some(answer)) => show::capital(&answer.phrase(k, finding)),
        _ => show::capital(&k.finding(finding).plain),
    }
}
