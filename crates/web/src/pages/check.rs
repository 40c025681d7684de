//! A check: what to do, what to mind, and the outcome.

use super::recording::{Recorded, record as append};
use super::work::{self, OutcomeRow, WorkView};
use super::{Opened, Page, opened};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use suspect_core::case::Event;
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::CheckId;
use suspect_core::planning::preview;
use suspect_core::ranking::rank;

#[derive(Template)]
#[template(path = "check.html")]
struct CheckPage {
    place: &'static str,
    label: String,
    title: String,
    case_href: String,
    action: String,
    seq: u32,
    work: WorkView,
    plain: String,
    outcomes: Vec<OutcomeRow>,
    minutes: String,
    likely: bool,
    error: Option<String>,
    minutes_error: Option<String>,
    done: Option<String>,
}

fn find(state: &AppState, id: &str) -> Result<CheckId, PageError> {
    state.knowledge.check_id(id).ok_or(PageError::NotFound("check"))
}

/// Under a stop only the step that clears it may be done.
fn locked(state: &AppState, case: &Opened, check: Option<CheckId>) -> Option<PageError> {
    let stops: Vec<_> = case.state.stops.iter().map(|s| &state.knowledge.stops[*s]).collect();
    let first = stops.first()?;
    if check.is_some_and(|c| suspect_core::safety::allowed_under(&stops, c)) {
        return None;
    }
    Some(stop_error(case, &first.id, &first.name))
}

fn stop_error(case: &Opened, stop: &str, name: &str) -> PageError {
    PageError::Refused {
        message: format!("The machine is locked: {}. Clear the stop before anything else.", name.to_lowercase()),
        back: urls::in_case(case.id, &format!("stop/{stop}")),
    }
}

/// A page for a fix under a stop.
pub fn locked_for_fixes(state: &AppState, case: &Opened) -> Option<PageError> {
    locked(state, case, None)
}

fn page(state: &AppState, case: &Opened, check: CheckId, fields: &Fields, errors: &Errors) -> Result<String, PageError> {
    let k = &state.knowledge;
    let c = k.check(check);
    let finding = k.finding(c.finding);
    let line_up = rank(k, &case.state.facts);
    let outcomes = work::outcome_rows(state, c.finding, &preview(k, &case.state.facts, &line_up, check));
    let work = work::view(state, &case.state.facts, &c.work);
    let page = CheckPage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        action: urls::in_case(case.id, &format!("check/{}", finding.id)),
        seq: if fields.0.is_empty() { case.state.last_seq } else { fields.seq() },
        minutes: fields.given("minutes").map_or_else(|| show::number(work.minutes), str::to_string),
        likely: fields.get("likely") == "yes",
        plain: show::sentence(&finding.plain),
        outcomes,
        work,
        error: errors.get("outcome").cloned(),
        minutes_error: errors.get("minutes").cloned(),
        done: case.state.facts.findings.get(&c.finding).map(|s| s.answer.phrase(k, c.finding)),
    };
    Ok(page.render()?)
}

/// `GET /cases/{id}/check/{check}`
pub async fn show(State(state): State<AppState>, Path((id, check)): Path<(String, String)>) -> Page {
    let case = opened(&state, &id).await?;
    let check = find(&state, &check)?;
    if let Some(stop) = locked(&state, &case, Some(check)) {
        return Err(stop);
    }
    Ok(Html(page(&state, &case, check, &Fields::default(), &Errors::new())?))
}

/// `POST /cases/{id}/check/{check}`
pub async fn record(
    State(state): State<AppState>,
    Path((id, check)): Path<(String, String)>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let check = find(&state, &check)?;
    let finding = state.knowledge.finding(state.knowledge.check(check).finding).id.clone();
    let mut errors = Errors::new();
    let outcome = fields.get("outcome").to_string();
    if outcome.is_empty() {
        errors.insert("outcome".into(), "Choose what you saw.".into());
    }
    let usual = state.knowledge.check(check).work.minutes;
    let minutes = fields.number("minutes", usual).unwrap_or_else(|e| {
        errors.insert("minutes".into(), show::sentence(&e));
        usual
    });
    if errors.is_empty() {
        let confidence = if fields.get("likely") == "yes" { Confidence::Likely } else { Confidence::Sure };
        let event = Event::Checked { check: finding.clone(), outcome, confidence, minutes };
        let action = urls::in_case(case.id, &format!("check/{finding}"));
        match append(&state, &case, &fields, &action, &[event], urls::case(case.id)).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(if field == "minutes" { field } else { "outcome".into() }, message);
            }
        }
    }
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(page(&state, &case, check, &fields, &errors)?)).into_response())
}
