//! A case on the wrong machine goes to the right one; what changed in the build of its machine is
//! taken over.

use super::recording::{Recorded, record, record_or_explain};
use super::{Choice, Opened, Page, opened};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{screen, show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use suspect_core::case::Event;
use suspect_core::machine::news_for;

#[derive(Template)]
#[template(path = "move_case.html")]
struct MovePage {
    place: &'static str,
    label: String,
    title: String,
    case_href: String,
    close_href: String,
    action: String,
    seq: u32,
    machine: String,
    machines: Vec<Choice>,
    /// A stop goes along: whoever moves it answers by name.
    stopped: bool,
    by: String,
    reason: String,
    errors: Errors,
}

async fn page(
    state: &AppState,
    case: &Opened,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let machines = state.store.machines().await?;
    let others = machines.into_iter().filter(|m| m.id != case.machine.id);
    let page = MovePage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        close_href: urls::in_case(case.id, "close"),
        action: urls::in_case(case.id, "move"),
        seq: if fields.is_empty() {
            case.state.last_seq
        } else {
            fields.seq()
        },
        machine: case.machine.name.clone(),
        machines: others
            .map(|m| Choice {
                chosen: fields.get("machine") == m.id.to_string(),
                value: m.id.to_string(),
                label: format!("{}, {}", m.name, m.model),
            })
            .collect(),
        stopped: !case.state.stops.is_empty(),
        by: fields
            .sent("by")
            .map_or_else(|| screen::who().unwrap_or_default(), str::to_string),
        reason: fields.get("reason").into(),
        errors,
    };
    Ok(page.render()?)
}

/// `GET /cases/{id}/move`
pub async fn form(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let case = opened(&state, &id).await?;
    Ok(Html(
        page(&state, &case, &Fields::default(), Errors::new()).await?,
    ))
}

/// `POST /cases/{id}/move`
pub async fn to(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let machines = state.store.machines().await?;
    let to = machines
        .into_iter()
        .find(|m| m.id.to_string() == fields.get("machine"));
    let mut errors = Errors::new();
    match to {
        None => {
            errors.insert("machine".into(), "Choose the machine it belongs to.".into());
        }
        Some(to) => {
            let event = Event::Moved {
                machine: to.id.to_string(),
                machine_name: to.name,
                profile: to.profile,
                by: fields.get("by").into(),
                reason: fields.get("reason").into(),
            };
            let (action, then) = (urls::in_case(case.id, "move"), urls::case(case.id));
            match record(&state, &case, &fields, &action, &[event], then).await? {
                Recorded::Done(response) => return Ok(response),
                Recorded::Invalid { field, message } => {
                    errors.insert(field, message);
                }
            }
        }
    }
    let html = page(&state, &case, &fields, errors).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
}

/// `POST /cases/{id}/build`: the case takes over how its machine is built now.
pub async fn take_over_build(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let machine = news_for(&case.state.facts.context, &case.machine.profile);
    let then = urls::case(case.id);
    if machine.is_empty() {
        return Ok(Redirect::to(&then).into_response());
    }
    let event = Event::Described {
        title: case.state.title.clone(),
        material: case.state.facts.context.id("material").map(str::to_string),
        spool: case.state.spool.clone(),
        machine,
    };
    let action = urls::in_case(case.id, "build");
    record_or_explain(&state, &case, &fields, &action, &[event], then).await
}
