//! Taking a case in: words, print map, machine map, questions worth asking, numbers, pictures. Every touch is an entry of the case.

mod answers;
mod aside;
mod machine;
mod numbers;
mod print;
mod questions;
mod sign;
mod words;

pub use answers::{carry, height, observe, pass, rest, same, tell, tried};
pub use machine::{fitted, hours};
pub use numbers::record as record_numbers;

use super::pictures::{self, PicturesView};
use super::{Opened, Page, opened};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use aside::Aside;
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::response::Html;
use machine::MachineView;
use numbers::NumbersView;
use print::PrintView;
use questions::QuestionsView;
use std::collections::BTreeMap;
use suspect_core::case::Analysis;
use suspect_store::{Uuid, think};
use words::WordsView;

/// Parts of the intake in the order they are offered: identifier and name.
const PARTS: [(&str, &str); 6] = [
    ("words", "Words"),
    ("print", "Print"),
    ("machine", "Machine"),
    ("questions", "Questions"),
    ("numbers", "Numbers"),
    ("pictures", "Pictures"),
];

enum Part {
    Words(WordsView),
    Print(PrintView),
    Machine(MachineView),
    Questions(QuestionsView),
    Numbers(NumbersView),
    Pictures(PicturesView),
}

struct Stage {
    name: &'static str,
    href: String,
    current: bool,
    count: usize,
}

#[derive(Template)]
#[template(path = "intake/intake.html")]
struct IntakePage {
    place: &'static str,
    label: String,
    title: String,
    machine: String,
    case_href: String,
    case_id: Uuid,
    seq: u32,
    closed: bool,
    stages: Vec<Stage>,
    part: Part,
    next_stage: Option<Stage>,
    list_href: String,
    aside: Aside,
}

/// What every part needs to draw itself.
pub struct Scene<'a> {
    pub state: &'a AppState,
    pub case: &'a Opened,
    pub analysis: &'a Analysis,
    pub part: &'static str,
    pub at: String,
}

/// `GET /cases/{id}/intake?part=…&at=…`
pub async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let case = opened(&state, &id).await?;
    let wanted = query.get("part").map_or("", String::as_str);
    let at = query.get("at").cloned().unwrap_or_default();
    Ok(Html(
        page(
            &state,
            &case,
            wanted,
            at,
            &Fields::default(),
            &Errors::new(),
        )
        .await?,
    ))
}

/// The page of one part, with fields and messages of a form that was refused.
pub async fn page(
    state: &AppState,
    case: &Opened,
    wanted: &str,
    at: String,
    fields: &Fields,
    errors: &Errors,
) -> Result<String, PageError> {
    let analysis = case.analysis(state).await;
    let part = PARTS
        .iter()
        .position(|(id, _)| *id == wanted)
        .unwrap_or_else(|| first_part(state, case));
    let scene = Scene {
        state,
        case,
        analysis: &analysis,
        part: PARTS[part].0,
        at,
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
    let stage = |n: usize| Stage {
        name: PARTS[n].1,
        href: urls::intake(case.id, PARTS[n].0, ""),
        current: n == part,
        count: counts[n],
    };
    let page = IntakePage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        machine: case.machine.name.clone(),
        case_href: urls::case(case.id),
        case_id: case.id,
        seq: case.state.last_seq,
        closed: case.state.resolved(),
        stages: (0..PARTS.len()).map(stage).collect(),
        part: view,
        next_stage: (part + 1 < PARTS.len()).then(|| stage(part + 1)),
        list_href: urls::in_case(case.id, "facts"),
        aside: aside::view(&scene).await?,
    };
    Ok(page.render()?)
}

/// Words while something read from them waits to be confirmed, else the drawing of the print.
fn first_part(state: &AppState, case: &Opened) -> usize {
    usize::from(words::open_proposals(state, case).is_empty())
}

/// Facts known by part, for the numbers beside their names.
fn counts(state: &AppState, case: &Opened) -> [usize; 6] {
    use suspect_core::knowledge::Section;
    let facts = &case.state.facts;
    let of = |section: Section| {
        facts
            .findings
            .keys()
            .filter(|f| state.knowledge.finding(**f).section == section)
            .count()
    };
    let numbers = facts
        .settings
        .known()
        .filter(|(n, _)| !n.id.ends_with("_height_mm"))
        .count();
    [
        case.state.told.len(),
        of(Section::Print),
        of(Section::Machine),
        of(Section::History),
        numbers,
        case.state.pictures.len(),
    ]
}
