//! The page of the intake: one part at a time, what stands beside it, and how far one has come.

use super::aside::{self, Aside};
use super::machine::{self, MachineView};
use super::numbers::{self, NumbersView};
use super::pictures::{self, PicturesView};
use super::print::{self, PrintView};
use super::proposals::open_proposals;
use super::questions::{self, QuestionsView};
use super::scene::Scene;
use super::words::{self, WordsView};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::urls;
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::knowledge::Section;
use suspect_store::think;

/// Parts of the intake in the order they are offered: identifier and name.
const PARTS: [(&str, &str); 6] = [
    ("words", "Words"),
    ("print", "Print"),
    ("machine", "Machine"),
    ("questions", "Questions"),
    ("numbers", "Numbers"),
    ("pictures", "Pictures"),
];

/// The part on show.
enum Part {
    Words(WordsView),
    Print(PrintView),
    Machine(MachineView),
    Questions(QuestionsView),
    Numbers(NumbersView),
    Pictures(PicturesView),
}

/// A part among those to choose from.
struct Tab {
    name: &'static str,
    href: String,
    current: bool,
    count: usize,
}

#[derive(Template)]
#[template(path = "intake/show.html")]
struct IntakePage {
    head: CaseHead,
    machine: String,
    closed: bool,
    tabs: Vec<Tab>,
    part: Part,
    next_tab: Option<Tab>,
    list_href: String,
    aside: Aside,
}

/// `GET /cases/{id}/intake?part=…&at=…`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let wanted = query.get("part").map_or("", String::as_str);
    let at = query.get("at").map_or("", String::as_str);
    let (fields, errors) = (Fields::default(), Errors::new());
    let html = page(&state, &case, (wanted, at), &fields, &errors).await?;
    Ok(Html(html))
}

/// A part again with what was sent and what is wrong with it.
pub async fn refused(
    state: &AppState,
    case: &OpenCase,
    place: (&str, &str),
    fields: &Fields,
    errors: &Errors,
) -> Answer {
    Ok(again(page(state, case, place, fields, errors).await?))
}

async fn page(
    state: &AppState,
    case: &OpenCase,
    (wanted, at): (&str, &str),
    fields: &Fields,
    errors: &Errors,
) -> Result<String, PageError> {
    let analysis = case.analysis(state).await;
    let known = PARTS.iter().position(|(id, _)| *id == wanted);
    let part = known.unwrap_or_else(|| first_part(state, case));
    let scene = Scene {
        state,
        case,
        analysis: &analysis,
        part: PARTS[part].0,
        at: at.to_string(),
    };
    let view = match scene.part {
        "words" => Part::Words(think(|| words::view(&scene, fields, errors)).await),
        "print" => Part::Print(print::view(&scene, fields, errors)),
        "machine" => Part::Machine(machine::view(&scene, fields, errors).await?),
        "questions" => Part::Questions(think(|| questions::view(&scene)).await),
        "numbers" => Part::Numbers(numbers::view(&scene, fields, errors).await?),
        _ => Part::Pictures(pictures::view(&scene, errors)),
    };
    let counts = counts(state, case);
    let tab = |n: usize| Tab {
        name: PARTS[n].1,
        href: urls::intake(case.id, PARTS[n].0, ""),
        current: n == part,
        count: counts[n],
    };
    let page = IntakePage {
        head: case.head(),
        machine: case.machine.name.clone(),
        closed: case.state.resolved(),
        tabs: (0..PARTS.len()).map(tab).collect(),
        part: view,
        next_tab: (part + 1 < PARTS.len()).then(|| tab(part + 1)),
        list_href: case.below("facts"),
        aside: aside::view(&scene).await?,
    };
    Ok(page.render()?)
}

/// Words while something read from them waits to be confirmed or nothing of them was understood,
/// else the drawing of the print.
fn first_part(state: &AppState, case: &OpenCase) -> usize {
    let waits = !open_proposals(state, case).is_empty();
    let new = case.state.facts.findings.is_empty() && !case.state.told.is_empty();
    usize::from(!waits && !new)
}

/// Facts known by part, for the numbers beside their names.
fn counts(state: &AppState, case: &OpenCase) -> [usize; 6] {
    let facts = &case.state.facts;
    let of = |section: Section| {
        let findings = facts.findings.keys();
        findings
            .filter(|f| state.knowledge.finding(**f).section == section)
            .count()
    };
    let settings = facts.settings.known().filter(|(n, _)| !n.is_height());
    [
        case.state.told.len(),
        of(Section::Print),
        of(Section::Machine),
        of(Section::History),
        settings.count(),
        case.state.pictures.len(),
    ]
}
