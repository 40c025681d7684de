//! A case on the wrong machine goes to the right one.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::link::Choice;
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::case::Event;

#[derive(Template)]
#[template(path = "case/move_case.html")]
struct MovePage {
    head: CaseHead,
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
    case: &OpenCase,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let machines = state.store.machines().await?;
    let others = machines.into_iter().filter(|m| m.id != case.machine.id);
    let page = MovePage {
        head: case.head_again(fields),
        machine: case.machine.name.clone(),
        machines: others
            .map(|m| Choice {
                chosen: fields.get("machine") == m.id.to_string(),
                value: m.id.to_string(),
                label: match m.model.as_str() {
                    "" => m.name.clone(),
                    model => format!("{}, {model}", m.name),
                },
            })
            .collect(),
        stopped: !case.state.stops.is_empty(),
        by: crate::screen::shown(&fields.by()),
        reason: fields.get("reason").into(),
        errors,
    };
    Ok(page.render()?)
}

/// `GET /cases/{id}/move`
pub async fn form(State(state): State<AppState>, case: OpenCase) -> Page {
    Ok(Html(
        page(&state, &case, &Fields::default(), Errors::new()).await?,
    ))
}

/// `POST /cases/{id}/move`
pub async fn to(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
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
                by: fields.by(),
                reason: fields.get("reason").into(),
            };
            let form = case.form(&state, &fields, "move");
            match form.record(&[event], case.href()).await? {
                Recorded::Done(response) => return Ok(response),
                Recorded::Invalid { field, message } => {
                    errors.insert(field, message);
                }
            }
        }
    }
    let html = page(&state, &case, &fields, errors).await?;
    Ok(again(html))
}
