//! All questions of a case as one list: add or correct.

use super::picker::{self, Picker};
use super::picker_events::{events, filled};
use crate::form::{Errors, Fields, not_shown};
use crate::page_error::PageError;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use askama::Template;
use axum::extract::State;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::case::replay;
use suspect_core::knowledge::{FindingId, Knowledge, Section};
use suspect_core::settings::NumberId;

#[derive(Template)]
#[template(path = "intake/list.html")]
struct FactsPage {
    head: CaseHead,
    error: Option<String>,
    tried_error: Option<String>,
    /// Closed: it is read only.
    closed: bool,
    picker: Picker,
}

fn page(
    k: &Knowledge,
    head: CaseHead,
    closed: bool,
    fields: &Fields,
    errors: &Errors,
) -> Result<String, PageError> {
    let shown = |field: &str| field == "tried" || on_the_list(k, field);
    let page = FactsPage {
        head,
        error: not_shown(errors, shown).into_iter().next(),
        tried_error: errors.get("tried").cloned(),
        closed,
        picker: picker::picker(k, fields, errors),
    };
    Ok(page.render()?)
}

/// Whether the list asks for a field.
fn on_the_list(k: &Knowledge, field: &str) -> bool {
    let number = field.strip_prefix("n.").and_then(NumberId::from_id);
    let finding = field.strip_prefix("f.").and_then(|id| k.finding_id(id));
    let asked = |f: FindingId| !matches!(k.finding(f).section, Section::Number | Section::Check);
    number.is_some() || finding.is_some_and(asked)
}

/// `GET /cases/{id}/facts`
pub async fn form(State(state): State<AppState>, case: OpenCase) -> Page {
    let k = &state.knowledge;
    let filled = filled(k, &case.state);
    let closed = case.state.resolved();
    Ok(Html(page(k, case.head(), closed, &filled, &Errors::new())?))
}

/// `POST /cases/{id}/facts`
pub async fn record(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let k = &state.knowledge;
    let mut errors = Errors::new();
    // Saved as it is given, the list goes on; sent as a whole it is done.
    let then = match fields.get("stay") {
        "yes" => case.below("facts"),
        _ => case.href(),
    };
    // What the form changes is reckoned against the case as the form knew it, so that a late form
    // still conflicts.
    let known = case.log.iter().filter(|e| e.seq <= fields.seq());
    let known: Vec<_> = known.cloned().collect();
    let events = events(k, &fields, &replay(k, &known), &mut errors);
    if errors.is_empty() && events.is_empty() {
        return Ok(Redirect::to(&then).into_response());
    }
    if errors.is_empty() {
        let form = case.form(&state, &fields, "facts");
        match form.record(&events, then).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(format!("f.{field}"), message.clone());
                errors.insert("form".into(), message);
            }
        }
    }
    let closed = case.state.resolved();
    Ok(again(page(
        k,
        case.head_again(&fields),
        closed,
        &fields,
        &errors,
    )?))
}
