//! A stop: why the machine is locked, the step that clears it, and who clears it.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::open_case::{CaseHead, Known, OpenCase, StopAt};
use crate::pages::parts::link::Link;
use crate::pages::parts::work::{self, Tick, WorkView, ticks};
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::case::Event;
use suspect_core::knowledge::CheckId;

#[derive(Template)]
#[template(path = "doing/stop.html")]
struct StopPage {
    head: CaseHead,
    machine: String,
    action: String,
    name: String,
    why: String,
    holds: bool,
    work: WorkView,
    check: Option<Link>,
    steps: Vec<Tick>,
    by: String,
    reason: String,
    errors: Errors,
}

fn page(
    state: &AppState,
    case: &OpenCase,
    StopAt(at): StopAt,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let stop = &k.stops[at];
    let check = |c: CheckId| Link {
        href: case.below(&format!("check/{}", k.check_name(c))),
        name: k.check(c).work.name.clone(),
    };
    let page = StopPage {
        head: case.head_again(fields),
        machine: case.machine.name.clone(),
        action: case.below(&format!("stop/{}", stop.id)),
        name: stop.name.clone(),
        why: stop.why.clone(),
        holds: case.state.stops.contains(&at),
        work: work::view(k, &case.state.facts, &stop.work),
        check: stop.check.map(check),
        steps: ticks(&stop.work, &fields.ticked()),
        by: crate::screen::shown(&fields.by()),
        reason: fields.get("reason").into(),
        errors,
    };
    Ok(page.render()?)
}

/// `GET /cases/{id}/stop/{stop}`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Known(stop): Known<StopAt>,
) -> Page {
    let html = page(&state, &case, stop, &Fields::default(), Errors::new())?;
    Ok(Html(html))
}

/// `POST /cases/{id}/stop/{stop}`
pub async fn clear(
    State(state): State<AppState>,
    case: OpenCase,
    Known(stop): Known<StopAt>,
    fields: Fields,
) -> Answer {
    let id = &state.knowledge.stops[stop.0].id;
    let event = Event::StopCleared {
        stop: id.clone(),
        by: fields.by(),
        reason: fields.get("reason").into(),
        seen: fields.ticked(),
    };
    let form = case.form(&state, &fields, &format!("stop/{id}"));
    match form.record(&[event], case.href()).await? {
        Recorded::Done(response) => Ok(response),
        Recorded::Invalid { field, message } => {
            let errors = Errors::from([(field, message)]);
            Ok(again(page(&state, &case, stop, &fields, errors)?))
        }
    }
}
