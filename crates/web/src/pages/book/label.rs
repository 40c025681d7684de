//! A machine's label: its name, and a code that leads to its page.

use crate::pages::Page;
use crate::pages::open_case::OpenMachine;
use crate::pages::parts::label::{Label, render};
use crate::state::AppState;
use crate::urls;
use axum::extract::State;
use axum::http::HeaderMap;
use suspect_core::machine::retired;

/// `GET /machines/{id}/label`
pub async fn show(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    headers: HeaderMap,
) -> Page {
    let log = state.store.machine_log(machine.id).await?;
    let mut lines = vec![machine.model.clone(), machine.place.clone()];
    if let Some(why) = retired(&log) {
        lines.insert(0, format!("FOR PARTS, NOT WORKING. {why}"));
    }
    lines.retain(|l| !l.is_empty());
    let href = urls::machine(machine.id);
    render(
        &headers,
        Label {
            title: machine.name,
            lines,
            back: href.clone(),
            href,
        },
    )
}
