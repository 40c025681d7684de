//! Facts of an open case: add or correct, note, take back, clear a part.

use super::picker::{self, Picker};
use super::recording::{self, Recorded, record_or_explain};
use super::{Opened, Page, opened};
use crate::form::{Errors, Fields, not_shown};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use suspect_core::case::{Event, LONGEST_TEXT};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{FindingId, Knowledge, Section};
use suspect_core::settings::position;

#[derive(Template)]
#[template(path = "facts.html")]
struct FactsPage {
    place: &'static str,
    label: String,
    title: String,
    case_href: String,
    action: String,
    seq: u32,
    error: Option<String>,
    tried_error: Option<String>,
    picker: Picker,
}

fn page(
    state: &AppState,
    case: &Opened,
    fields: &Fields,
    errors: &Errors,
    seq: u32,
) -> Result<String, PageError> {
    let page = FactsPage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        action: urls::in_case(case.id, "facts"),
        seq,
        error: not_shown(errors, |f| f == "tried" || on_the_list(&state.knowledge, f))
            .into_iter()
            .next(),
        tried_error: errors.get("tried").cloned(),
        picker: picker::picker(&state.knowledge, fields, errors),
    };
    Ok(page.render()?)
}

/// Whether the list asks for a field.
fn on_the_list(knowledge: &Knowledge, field: &str) -> bool {
    let number = field
        .strip_prefix("n.")
        .is_some_and(|id| position(id).is_ok());
    let asked = |f: FindingId| {
        let section = knowledge.finding(f).section;
        !matches!(section, Section::Number | Section::Check)
    };
    number
        || field
            .strip_prefix("f.")
            .and_then(|id| knowledge.finding_id(id))
            .is_some_and(asked)
}

/// `GET /cases/{id}/facts`
pub async fn form(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let case = opened(&state, &id).await?;
    let filled = picker::filled(&state.knowledge, &case.state);
    Ok(Html(page(
        &state,
        &case,
        &filled,
        &Errors::new(),
        case.state.last_seq,
    )?))
}

/// `POST /cases/{id}/facts`
pub async fn record(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let mut errors = Errors::new();
    // What the form changes is reckoned against the case as the form knew it, so that a late form still conflicts.
    let known: Vec<_> = case
        .log
        .iter()
        .filter(|e| e.seq <= fields.seq())
        .cloned()
        .collect();
    let then = suspect_core::case::replay(&state.knowledge, &known);
    let events = picker::events(&state.knowledge, &fields, &then, &mut errors);
    if errors.is_empty() && events.is_empty() {
        return Ok(Redirect::to(&urls::case(case.id)).into_response());
    }
    if errors.is_empty() {
        match recording::record(
            &state,
            &case,
            &fields,
            &urls::in_case(case.id, "facts"),
            &events,
            urls::case(case.id),
        )
        .await?
        {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(format!("f.{field}"), message.clone());
                errors.insert("form".into(), message);
            }
        }
    }
    let html = page(&state, &case, &fields, &errors, fields.seq())?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
}

#[derive(Template)]
#[template(path = "note.html")]
struct NotePage {
    place: &'static str,
    case_href: String,
    action: String,
    seq: u32,
    text: String,
    error: String,
}

/// `POST /cases/{id}/note`
pub async fn note(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let action = urls::in_case(case.id, "note");
    let event = Event::Noted {
        text: fields.get("text").to_string(),
    };
    match recording::record(
        &state,
        &case,
        &fields,
        &action,
        &[event],
        urls::case(case.id),
    )
    .await?
    {
        Recorded::Done(response) => Ok(response),
        Recorded::Invalid { message, .. } => {
            let length = fields.get("text").chars().count();
            let error = match length {
                0 => "The note is empty: write a word.".to_string(),
                _ if length > LONGEST_TEXT => {
                    format!(
                        "The note has {length} characters: at most {LONGEST_TEXT} fit. Shorten it or send it in parts."
                    )
                }
                _ => message,
            };
            let page = NotePage {
                place: "case",
                case_href: urls::case(case.id),
                action,
                seq: fields.seq(),
                text: fields.get("text").into(),
                error,
            };
            Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(page.render()?)).into_response())
        }
    }
}

/// `POST /cases/{id}/retract`
pub async fn retract(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let target = fields.get("entry").parse().unwrap_or(0);
    // The intake takes back too, and goes on where it was.
    let then = fields.given("part").map_or_else(
        || urls::case(case.id),
        |part| urls::intake(case.id, part, fields.get("at")),
    );
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "retract"),
        &[Event::Retracted { seq: target }],
        then,
    )
    .await
}

/// `POST /cases/{id}/clear`
pub async fn clear_part(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let event = Event::Cleared {
        cause: fields.get("cause").to_string(),
        confidence: Confidence::Sure,
    };
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "clear"),
        &[event],
        urls::case(case.id),
    )
    .await
}
