//! A stop of how a machine is built: why it is locked, the steps, and the change that ends it.

use super::tag::{TagOf, tag_page};
use super::work::{self, WorkView};
use super::{Page, opened_machine};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::HeaderMap;
use axum::response::Html;
use suspect_core::evidence::Facts;
use suspect_core::machine::{MachineEvent, build};
use suspect_core::safety;
use suspect_store::machines::Machine;

#[derive(Template)]
#[template(path = "machine_stop.html")]
struct StopPage {
    place: &'static str,
    machine: String,
    machine_href: String,
    edit_href: String,
    tag_href: String,
    name: String,
    why: String,
    holds: bool,
    work: WorkView,
}

/// The place of a stop, and whether the machine's build holds it.
fn find(state: &AppState, machine: &Machine, stop: &str) -> Result<(usize, bool), PageError> {
    let k = &state.knowledge;
    let at = k.stops.iter().position(|s| s.id == stop);
    let at = at.ok_or(PageError::NotFound("stop"))?;
    let held = safety::stops_of_build(k, &build(&machine.profile));
    Ok((at, held.contains(&at)))
}

/// `GET /machines/{id}/stop/{stop}`
pub async fn show(State(state): State<AppState>, Path((id, stop)): Path<(String, String)>) -> Page {
    let machine = opened_machine(&state, &id).await?;
    let (at, holds) = find(&state, &machine, &stop)?;
    let stop = &state.knowledge.stops[at];
    let facts = Facts {
        context: build(&machine.profile),
        ..Facts::default()
    };
    let page = StopPage {
        place: "floor",
        machine_href: urls::machine(machine.id),
        edit_href: urls::in_machine(machine.id, "edit"),
        tag_href: format!("{}/tag", urls::machine_stop(machine.id, &stop.id)),
        name: stop.name.clone(),
        why: stop.why.clone(),
        work: work::view(&state, &facts, &stop.work),
        holds,
        machine: machine.name,
    };
    Ok(Html(page.render()?))
}

/// `GET /machines/{id}/stop/{stop}/tag`
pub async fn tag(
    State(state): State<AppState>,
    Path((id, stop)): Path<(String, String)>,
    headers: HeaderMap,
) -> Page {
    let machine = opened_machine(&state, &id).await?;
    let (at, holds) = find(&state, &machine, &stop)?;
    let log = state.store.machine_log(machine.id).await?;
    // Since the entry from which on the build has held it without a break.
    let mut since = None;
    for entry in &log {
        if let MachineEvent::Described { machine, .. } = &entry.event {
            let held = safety::stops_of_build(&state.knowledge, &build(&machine.profile));
            since = if held.contains(&at) {
                since.or(Some(entry.at))
            } else {
                None
            };
        }
    }
    let stop = &state.knowledge.stops[at];
    tag_page(
        &headers,
        TagOf {
            label: machine.model.clone(),
            address: urls::machine(machine.id),
            back: urls::machine_stop(machine.id, &stop.id),
            machine: machine.name,
            stop,
            holds,
            since: since.map(show::moment),
        },
    )
}
