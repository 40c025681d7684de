//! Every component in both themes, for whoever changes the look. Served only when asked for.

use crate::drawing::{pictogram, sign};
use crate::pages::Page;
use crate::pages::parts::line_up::{LineUpView, view};
use crate::pages::parts::work::{CautionView, cautions};
use askama::Template;
use axum::extract::State;
use axum::http::header;
use axum::response::{Html, IntoResponse, Response};
use std::collections::BTreeSet;
use std::sync::Arc;
use suspect_core::evidence::{Answer, Confidence, Facts, Sighting};
use suspect_core::knowledge::{CautionLevel, Knowledge};
use suspect_core::ranking::rank;

/// A choice of the example's list.
struct Choice {
    value: &'static str,
    label: &'static str,
    chosen: bool,
}

/// A role of the colours: its name and what it is for.
struct Role {
    name: &'static str,
    use_: &'static str,
}

/// Roles shown as fields of colour.
const ROLES: [Role; 12] = [
    role("paper", "behind everything"),
    role("card", "what can be acted on"),
    role("tint", "the place of the next step"),
    role("ink", "text and drawings"),
    role("soft", "hints"),
    role("rule", "lines between"),
    role("accent", "the one main action"),
    role("for", "speaks for a suspect"),
    role("against", "speaks against"),
    role("amber", "a question"),
    role("stop", "a stop"),
    role("good", "proved, in order"),
];

const fn role(name: &'static str, use_: &'static str) -> Role {
    Role { name, use_ }
}

/// Signs whose drawings use every role of a drawing.
const SIGNS: [&str; 4] = ["layer-step", "strings", "gaps-top-skin", "warping"];

#[derive(Template)]
#[template(path = "patterns.html")]
struct PatternsPage {
    themes: [(&'static str, &'static str); 2],
    roles: &'static [Role],
    cautions: Vec<CautionView>,
    line_up: LineUpView,
    pictograms: Vec<(String, String)>,
    signs: Vec<String>,
    choices: [Choice; 2],
    wrong: Option<&'static str>,
}

/// `GET /patterns`
pub async fn show(State(knowledge): State<Arc<Knowledge>>) -> Page {
    let k = &*knowledge;
    let page = PatternsPage {
        themes: [("in-light", "Light"), ("in-dark", "Dark")],
        roles: &ROLES,
        cautions: cautions(k, &one_of_each_level(k)),
        line_up: view(k, &rank(k, &example(k)), None, None, |_| "#line-up".into()),
        pictograms: pictograms(k),
        signs: SIGNS.iter().filter_map(|id| sign::svg(id, id)).collect(),
        choices: [
            Choice {
                value: "a",
                label: "One of them",
                chosen: true,
            },
            Choice {
                value: "b",
                label: "Another",
                chosen: false,
            },
        ],
        wrong: Some("The layer must be between 0.02 and 2 mm, but 20 mm was given."),
    };
    Ok(Html(page.render()?))
}

/// The first caution of each level.
fn one_of_each_level(k: &Knowledge) -> Vec<usize> {
    let first = |level: &CautionLevel| k.cautions.iter().position(|c| c.level == *level);
    CautionLevel::ALL.iter().filter_map(first).collect()
}

/// The parts under the figures of the line-up, and the places of the rail.
fn pictograms(k: &Knowledge) -> Vec<(String, String)> {
    let rail = ["plate", "someone", "layers", "book", "person"];
    let parts = k.causes.iter().map(|c| c.pictogram.as_str());
    let names: BTreeSet<&str> = parts.chain(rail).collect();
    let drawn = |name: &str| (name.to_string(), pictogram::svg(name));
    names.into_iter().map(drawn).collect()
}

/// A print that steps sideways, of which little else is known.
fn example(k: &Knowledge) -> Facts {
    let mut facts = Facts::default();
    let seen = [("layer-step", "present"), ("onset", "sudden")];
    for (finding, state) in seen {
        let finding = k.finding_id(finding).expect("a finding of the knowledge");
        let state = k.finding(finding).state(state).expect("a state of it");
        let sighting = Sighting {
            answer: Answer::State(state),
            confidence: Confidence::Sure,
        };
        facts.findings.insert(finding, sighting);
    }
    facts
}

/// `GET /patterns/themes.css`: the roles' values of both themes as classes, read from the sheet
/// that gives them to whole pages.
pub async fn themes() -> Response {
    let sheet = themes_of(&crate::assets::roles());
    ([(header::CONTENT_TYPE, "text/css")], sheet).into_response()
}

/// The two blocks of `:root`, the first as `.in-light`, the second as `.in-dark`.
fn themes_of(roles: &str) -> String {
    let block = |part: &str| {
        let inner = part.split_once('{').map_or("", |(_, rest)| rest);
        inner
            .split_once('}')
            .map_or("", |(inner, _)| inner)
            .to_string()
    };
    let mut roots = roles.split(":root").skip(1).map(block);
    let mut class = |name: &str| format!("{name} {{{}}}\n", roots.next().unwrap_or_default());
    class(".in-light") + &class(".in-dark")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn both_themes_name_the_same_roles() {
        let sheet = themes_of(&crate::assets::roles());
        let names = |block: &str| -> Vec<String> {
            let lines = block.lines().filter_map(|l| l.trim().split_once(':'));
            lines.map(|(name, _)| name.to_string()).collect()
        };
        let (light, dark) = sheet.split_once(".in-dark").unwrap();
        assert_eq!(names(light), names(dark));
        for role in &ROLES {
            assert!(
                light.contains(&format!("--{}:", role.name)),
                "{}",
                role.name
            );
        }
    }
}
