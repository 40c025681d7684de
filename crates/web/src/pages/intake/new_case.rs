//! New case: "What is wrong with your print?", told in words, shown on a photo or touched on the
//! drawing. Everything else is asked on the case itself.

use super::carried::{self, CarriedView, last_case};
use super::twins::{Twin, open_on};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::begin::{Begin, begin};
use crate::pages::parts::case_line::lock_of;
use crate::pages::parts::loss::{self, LossFields};
use crate::pages::{Page, again};
use crate::show;
use crate::state::AppState;
use askama::Template;
use axum::extract::{Query, State};
use axum::response::{Html, Response};
use std::collections::BTreeMap;
use suspect_core::case::LONGEST_TEXT;
use suspect_core::text;
use suspect_store::Uuid;
use suspect_store::lists::{CaseRow, FloorCases};
use suspect_store::machines::Machine;

/// A machine to choose.
struct Tile {
    value: Uuid,
    name: String,
    /// "Locked: loose heater wires", "2 open cases", or the kind.
    state: String,
    locked: bool,
    chosen: bool,
}

#[derive(Template)]
#[template(path = "intake/new_case.html")]
struct NewCasePage {
    case_id: Uuid,
    tiles: Vec<Tile>,
    /// It is the only one: nothing is asked.
    only: bool,
    told: String,
    /// Nothing is to be chosen before the words.
    words_first: bool,
    still_so: bool,
    carried: Option<CarriedView>,
    /// Open cases of the machine.
    open: Vec<Twin>,
    /// Open cases that seem to be the same trouble: asked about before a twin is made.
    twins: Vec<Twin>,
    begin: Begin,
    /// What the failed print cost.
    loss: LossFields,
    at: String,
    errors: Errors,
}

/// `GET /cases/new?machine=…`
pub async fn form(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let sent = Fields::of(query);
    Ok(Html(page(&state, &sent, Errors::new(), Vec::new()).await?))
}

/// The page again, with what is wrong or to be asked first.
///
/// # Errors
/// When the database cannot be reached.
pub async fn refused(
    state: &AppState,
    fields: &Fields,
    errors: Errors,
    twins: Vec<Twin>,
) -> Result<Response, PageError> {
    Ok(again(page(state, fields, errors, twins).await?))
}

/// The machine a form names; the only one there is needs no naming.
pub fn chosen<'a>(machines: &'a [Machine], fields: &Fields) -> Option<&'a Machine> {
    let id = fields.get("machine");
    match machines {
        [only] if id.is_empty() => Some(only),
        _ => machines.iter().find(|m| m.id.to_string() == id),
    }
}

/// What makes no sense in a form.
pub fn problems(machines: &[Machine], fields: &Fields) -> Errors {
    let mut errors = Errors::new();
    if chosen(machines, fields).is_none() {
        let message = match fields.get("machine") {
            "" => "Choose the machine.",
            _ => "There is no such machine on the floor: choose one.",
        };
        errors.insert("machine".into(), message.into());
    }
    if let Err(problem) = text::optional(fields.get("told"), LONGEST_TEXT) {
        let words = crate::words::refusal::words_of("told", &problem);
        errors.insert("told".into(), words);
    }
    loss::read(fields, &mut errors);
    errors
}

async fn page(
    state: &AppState,
    fields: &Fields,
    errors: Errors,
    twins: Vec<Twin>,
) -> Result<String, PageError> {
    let machines = state.store.machines().await?;
    let machine = chosen(&machines, fields).cloned();
    let (last, open) = match &machine {
        Some(machine) => (
            last_case(state, machine.id, None).await?,
            open_on(state, machine).await?,
        ),
        None => (None, Vec::new()),
    };
    let cases = state.store.floor_cases().await?;
    let tile = |m: &Machine| tile(state, &cases, m, machine.as_ref());
    let page = NewCasePage {
        case_id: fields
            .get("case_id")
            .parse()
            .unwrap_or_else(|_| Uuid::now_v7()),
        tiles: machines.iter().map(tile).collect(),
        only: machines.len() == 1,
        told: fields.get("told").into(),
        words_first: machine.is_some() && twins.is_empty(),
        still_so: fields.get("still_so") == "yes",
        carried: last.and_then(|last| carried::view(&last, &last.kept)),
        open: if twins.is_empty() { open } else { Vec::new() },
        twins,
        begin: begin(),
        loss: LossFields::of(fields, None),
        at: fields.get("at").into(),
        errors,
    };
    Ok(page.render()?)
}

fn tile(state: &AppState, cases: &FloorCases, m: &Machine, chosen: Option<&Machine>) -> Tile {
    let k = &state.knowledge;
    let mine: Vec<&CaseRow> = cases
        .shown
        .iter()
        .filter(|c| c.machine_id == m.id)
        .collect();
    let lock = lock_of(k, m, mine.into_iter());
    let words = match (&lock, &m.out_of_service, cases.of(m.id)) {
        (Some(lock), _, _) => {
            format!("Locked: {}", show::lower_first(&k.stops[lock.stop].name))
        }
        (None, Some(_), _) => "Out of service".to_string(),
        (None, None, 0) => m.model.clone(),
        (None, None, 1) => "1 open case".to_string(),
        (None, None, n) => format!("{n} open cases"),
    };
    Tile {
        value: m.id,
        name: m.name.clone(),
        state: words,
        locked: lock.is_some(),
        chosen: chosen.is_some_and(|c| c.id == m.id),
    }
}
