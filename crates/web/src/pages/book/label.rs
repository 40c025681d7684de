//! Labels of a machine and of its parts: the name, and a code that leads to its page.

use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::open_case::OpenMachine;
use crate::pages::parts::label::{Label, render};
use crate::state::AppState;
use crate::{show, urls};
use axum::extract::{Path, State};
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

/// `GET /machines/{id}/parts/{part}/label`: what a part is, tied to it or to the bag it came in.
pub async fn part(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Path((_, part)): Path<(String, String)>,
    headers: HeaderMap,
) -> Page {
    let books = state.store.books(&state.knowledge).await?;
    let states = books.states(machine.id, state.now());
    let of = states.iter().map(|s| s.hours).find(|h| h.part.id == part);
    let of = of.ok_or(PageError::NotFound("part"))?;
    let mut lines = vec![format!("{}, {}", machine.name, machine.model)];
    lines.push(match (of.fitted, of.since) {
        (Some(at), Some(since)) => format!(
            "Fitted {} at {}\u{a0}h",
            show::date(at),
            show::number(since.round())
        ),
        (Some(at), None) => format!("Fitted {}", show::date(at)),
        (None, _) => "As old as the machine's records".to_string(),
    });
    lines.extend(of.hours.map(|h| {
        let (hours, today) = (show::number(h.round()), show::date(state.now()));
        format!("Ran {hours}\u{a0}h by {today}")
    }));
    let href = format!("{}#parts", urls::machine(machine.id));
    render(
        &headers,
        Label {
            title: of.part.name.to_string(),
            lines,
            back: href.clone(),
            href,
        },
    )
}
