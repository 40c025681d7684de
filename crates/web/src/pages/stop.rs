//! A stop: why the machine is locked, the step that clears it, and who clears it.

use super::recording::{Recorded, record};
use super::work::{self, WorkView};
use super::{Opened, Page, opened};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{screen, show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use suspect_core::case::Event;

#[derive(Template)]
#[template(path = "stop.html")]
struct StopPage {
    place: &'static str,
    label: String,
    machine: String,
    case_href: String,
    facts_href: String,
    action: String,
    seq: u32,
    name: String,
    why: String,
    holds: bool,
    work: WorkView,
    check: Option<(String, String)>,
    tag_href: String,
    /// Steps with whether each is ticked.
    steps: Vec<(usize, String, bool)>,
    by: String,
    reason: String,
    errors: Errors,
}

fn page(
    state: &AppState,
    case: &Opened,
    stop: &str,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let at = k
        .stops
        .iter()
        .position(|s| s.id == stop)
        .ok_or(PageError::NotFound("stop"))?;
    let stop = &k.stops[at];
    let ticked = fields.ticked();
    let page = StopPage {
        place: "case",
        label: show::case_label(case.row.number),
        machine: case.machine.name.clone(),
        case_href: urls::case(case.id),
        facts_href: urls::in_case(case.id, "facts"),
        action: urls::in_case(case.id, &format!("stop/{}", stop.id)),
        seq: if fields.is_empty() {
            case.state.last_seq
        } else {
            fields.seq()
        },
        name: stop.name.clone(),
        why: stop.why.clone(),
        holds: case.state.stops.contains(&at),
        work: work::view(state, &case.state.facts, &stop.work),
        check: stop.check.map(|c| {
            (
                urls::in_case(case.id, &format!("check/{}", k.check_name(c))),
                k.check(c).work.name.clone(),
            )
        }),
        tag_href: urls::in_case(case.id, &format!("stop/{}/tag", stop.id)),
        steps: stop
            .work
            .steps
            .iter()
            .zip(1u32..)
            .map(|(s, n)| (n as usize, show::keep_units(&s.text), ticked.contains(&n)))
            .collect(),
        by: fields
            .sent("by")
            .map_or_else(|| screen::who().unwrap_or_default(), str::to_string),
        reason: fields.get("reason").into(),
        errors,
    };
    Ok(page.render()?)
}

/// `GET /cases/{id}/stop/{stop}`
pub async fn show(State(state): State<AppState>, Path((id, stop)): Path<(String, String)>) -> Page {
    let case = opened(&state, &id).await?;
    Ok(Html(page(
        &state,
        &case,
        &stop,
        &Fields::default(),
        Errors::new(),
    )?))
}

/// `POST /cases/{id}/stop/{stop}`
pub async fn clear(
    State(state): State<AppState>,
    Path((id, stop)): Path<(String, String)>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let event = Event::StopCleared {
        stop: stop.clone(),
        by: fields.get("by").into(),
        reason: fields.get("reason").into(),
        seen: fields.ticked(),
    };
    let action = urls::in_case(case.id, &format!("stop/{stop}"));
    let mut errors = Errors::new();
    match record(
        &state,
        &case,
        &fields,
        &action,
        &[event],
        urls::case(case.id),
    )
    .await?
    {
        Recorded::Done(response) => return Ok(response),
        Recorded::Invalid { field, message } => {
            let message = match field.as_str() {
                "by" if fields.get("by").is_empty() => {
                    "Give your name: a stop is cleared by a person.".to_string()
                }
                "reason" if fields.get("reason").is_empty() => {
                    "Say why the machine is safe again.".to_string()
                }
                _ => message,
            };
            errors.insert(field, message);
        }
    }
    Ok((
        StatusCode::UNPROCESSABLE_ENTITY,
        Html(page(&state, &case, &stop, &fields, errors)?),
    )
        .into_response())
}
