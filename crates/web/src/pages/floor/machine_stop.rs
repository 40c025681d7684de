//! A stop of how a machine is built: why it is locked, the steps, and the change that ends it.

use crate::pages::Page;
use crate::pages::open_case::{Known, OpenMachine, StopAt};
use crate::pages::parts::tag::{TagOf, tag_page};
use crate::pages::parts::work::{self, WorkView};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::http::HeaderMap;
use axum::response::Html;
use suspect_core::evidence::Facts;
use suspect_core::machine::{MachineEvent, build};
use suspect_core::safety::stops_of_build;

#[derive(Template)]
#[template(path = "floor/machine_stop.html")]
struct StopPage {
    machine: String,
    machine_href: String,
    edit_href: String,
    tag_href: String,
    name: String,
    why: String,
    holds: bool,
    work: WorkView,
}

/// `GET /machines/{id}/stop/{stop}`
pub async fn show(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Known(StopAt(at)): Known<StopAt>,
) -> Page {
    let k = &state.knowledge;
    let stop = &k.stops[at];
    let facts = Facts {
        context: build(&machine.profile),
        ..Facts::default()
    };
    let page = StopPage {
        machine_href: urls::machine(machine.id),
        edit_href: urls::in_machine(machine.id, "edit"),
        tag_href: format!("{}/tag", urls::machine_stop(machine.id, &stop.id)),
        name: stop.name.clone(),
        why: stop.why.clone(),
        work: work::view(k, &facts, &stop.work),
        holds: stops_of_build(k, &facts.context).contains(&at),
        machine: machine.name,
    };
    Ok(Html(page.render()?))
}

/// `GET /machines/{id}/stop/{stop}/tag`
pub async fn tag(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Known(StopAt(at)): Known<StopAt>,
    headers: HeaderMap,
) -> Page {
    let k = &state.knowledge;
    let log = state.store.machine_log(machine.id).await?;
    // Since the entry from which on the build has held it without a break.
    let mut since = None;
    for entry in &log {
        if let MachineEvent::Described { machine, .. } = &entry.event {
            let held = stops_of_build(k, &build(&machine.profile)).contains(&at);
            since = since.or(Some(entry.at)).filter(|_| held);
        }
    }
    let stop = &k.stops[at];
    let tag = TagOf {
        label: machine.model.clone(),
        address: urls::machine(machine.id),
        back: urls::machine_stop(machine.id, &stop.id),
        holds: stops_of_build(k, &build(&machine.profile)).contains(&at),
        machine: machine.name,
        stop,
        since: since.map(show::moment),
    };
    tag_page(&headers, tag)
}
