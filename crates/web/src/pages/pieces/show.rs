//! A test piece: its drawing, its view that turns, its files, its reading sheet.

use super::files::{known, settings};
use super::over_time::{Column, columns};
use crate::drawing::{finding, piece as drawing};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::parts::link::{Choice, Link};
use crate::pages::{Page, again};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, RawQuery, State};
use axum::response::{Html, Response};
use suspect_core::knowledge::Knowledge;
use suspect_pieces::sheets::{Feature, Reading, Sheet, sheet};
use suspect_pieces::{Piece, Settings};
use suspect_store::Uuid;
use suspect_store::lists::CaseRow;

struct ReadingView {
    id: String,
    plain: String,
    sign: String,
    speaks_for: Vec<Link>,
    chosen: bool,
}

struct FeatureView {
    id: String,
    letter: char,
    place: String,
    look: String,
    good: String,
    normal: bool,
    grade: String,
    readings: Vec<ReadingView>,
}

#[derive(Template)]
#[template(path = "pieces/show.html")]
struct PiecePage {
    id: &'static str,
    name: &'static str,
    tests: String,
    price: String,
    size: String,
    stop: Option<String>,
    not_for: String,
    drawing: String,
    query: String,
    nozzle: String,
    layer: String,
    first: String,
    gaps: String,
    has_gaps: bool,
    problem: Option<String>,
    features: Vec<FeatureView>,
    machines: Vec<Choice>,
    machine: String,
    case: Option<(String, String, String)>,
    spool: String,
    columns: Vec<Column>,
}

/// `GET /pieces/{piece}?machine=&case=&nozzle=…`
pub async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
    RawQuery(query): RawQuery,
) -> Page {
    let piece = known(&id)?;
    let fields = Fields::of_query(query);
    Ok(Html(page(&state, piece, &fields, None).await?))
}

/// The page again with what was sent.
///
/// # Errors
/// When the database cannot be reached.
pub(super) async fn refused(
    state: &AppState,
    piece: &'static Piece,
    fields: &Fields,
    why: String,
) -> Result<Response, PageError> {
    Ok(again(page(state, piece, fields, Some(why)).await?))
}

async fn page(
    state: &AppState,
    piece: &'static Piece,
    fields: &Fields,
    problem: Option<String>,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let sheet = sheet(piece.id).ok_or(PageError::NotFound("reading sheet"))?;
    let (settings, mut problem) = match settings(fields) {
        Ok(settings) => (settings, problem),
        Err(why) => (Settings::default(), problem.or(Some(why))),
    };
    let case = match fields.given("case").and_then(|id| id.parse::<Uuid>().ok()) {
        Some(id) => Some(state.store.case_row(id).await?),
        None => None,
    };
    let machine = match &case {
        Some(row) => Some(row.machine_id),
        None => fields.given("machine").and_then(|id| id.parse().ok()),
    };
    let log = match machine {
        Some(id) => state.store.machine_log(id).await?,
        None => Vec::new(),
    };
    let mesh = piece.mesh(&settings);
    if let Err(e) = &mesh {
        problem.get_or_insert(show::sentence(&show::capital(&e.to_string())));
    }
    let size = mesh.map(|m| m.size()).unwrap_or_default();
    let gaps = settings.clearances.iter().map(|g| show::exact(*g));
    let page = PiecePage {
        id: piece.id,
        name: piece.name,
        tests: show::capital(&sheet.tests),
        price: format!(
            "{} · {}",
            show::minutes(sheet.minutes),
            show::grams(sheet.grams)
        ),
        size: size.map(show::tenths).join(" × "),
        stop: sheet.stop.clone(),
        not_for: sheet.not_for.join(", "),
        drawing: drawing::large(piece, &settings),
        query: query_of(&settings),
        nozzle: show::exact(settings.nozzle),
        layer: show::exact(settings.layer),
        first: show::exact(settings.first),
        gaps: gaps.collect::<Vec<_>>().join(" "),
        has_gaps: piece.id == "pins",
        problem,
        features: features(k, sheet, fields),
        machines: machines(state, machine).await?,
        machine: machine.map_or_else(String::new, |m| m.to_string()),
        case: case.map(|c| case_of(&c)),
        spool: fields.get("spool").to_owned(),
        columns: columns(sheet, &log),
    };
    Ok(page.render()?)
}

/// Identifier, number and title, address of a case.
fn case_of(row: &CaseRow) -> (String, String, String) {
    let label = format!("{} {}", show::case_label(row.number), row.title);
    (row.id.to_string(), label, urls::case(row.id))
}

async fn machines(state: &AppState, chosen: Option<Uuid>) -> Result<Vec<Choice>, PageError> {
    let all = state.store.machines().await?.into_iter();
    let choice = |m: suspect_store::machines::Machine| Choice {
        chosen: Some(m.id) == chosen,
        value: m.id.to_string(),
        label: m.name,
    };
    Ok(all.map(choice).collect())
}

/// The settings as an address says them.
fn query_of(s: &Settings) -> String {
    let gaps = s
        .clearances
        .iter()
        .map(|g| show::exact(*g))
        .collect::<Vec<_>>()
        .join("+");
    let [nozzle, line, layer, first] = [s.nozzle, s.line, s.layer, s.first].map(show::exact);
    format!("nozzle={nozzle}&line={line}&layer={layer}&first={first}&gaps={gaps}")
}

fn features(k: &Knowledge, sheet: &Sheet, fields: &Fields) -> Vec<FeatureView> {
    let view = |(n, f): (usize, &Feature)| {
        let sent = fields.get(&format!("f.{}", f.id));
        FeatureView {
            id: f.id.clone(),
            letter: char::from(b'A' + n as u8),
            place: f.place.clone(),
            look: f.look.clone(),
            good: f.good.clone(),
            normal: sent == "normal",
            grade: fields.get(&format!("g.{}", f.id)).to_owned(),
            readings: f.readings.iter().map(|r| reading(k, r, sent)).collect(),
        }
    };
    sheet.features.iter().enumerate().map(view).collect()
}

fn reading(k: &Knowledge, reading: &Reading, sent: &str) -> ReadingView {
    let sign = reading.finding.as_deref().and_then(|id| k.finding_id(id));
    let link = |id: &String| {
        let cause = k.cause(k.cause_id(id)?);
        Some(Link {
            href: format!("{}/{id}", urls::SUSPECTS),
            name: cause.name.clone(),
        })
    };
    ReadingView {
        plain: reading.plain.clone(),
        sign: sign.map_or_else(String::new, |f| finding::svg(k, f)),
        speaks_for: reading.causes.iter().filter_map(link).collect(),
        chosen: reading.id() == sent,
        id: reading.id(),
    }
}
