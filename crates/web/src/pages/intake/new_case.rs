//! New case: which machine, what happened, what is still as it was last time. Everything else is
//! asked on the case itself.

use super::carried::{self, CarriedView, last_case};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::urls;
use crate::words::refusal;
use askama::Template;
use axum::extract::{Query, State};
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::case::{Event, LONGEST_TEXT};
use suspect_core::intake::{Carried, title};
use suspect_core::text;
use suspect_store::machines::Machine;
use suspect_store::{Stamp, StoreError, Uuid};

struct Tile {
    n: usize,
    href: String,
    name: String,
    model: String,
}

#[derive(Template)]
#[template(path = "intake/new_case.html")]
struct NewCasePage {
    case_id: Uuid,
    tiles: Vec<Tile>,
    machine: Option<Machine>,
    told: String,
    still_so: bool,
    carried: Option<CarriedView>,
    errors: Errors,
}

/// `GET /cases/new?machine=…`
pub async fn form(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let chosen = query.get("machine").cloned().unwrap_or_default();
    Ok(Html(
        page(
            &state,
            &Fields::of([("machine".into(), chosen)]),
            Errors::new(),
        )
        .await?,
    ))
}

/// `POST /cases`
pub async fn open(State(state): State<AppState>, fields: Fields) -> Answer {
    let machines = state.store.machines().await?;
    let mut errors = problems(&machines, &fields);
    let machine = chosen(&machines, &fields).filter(|_| errors.is_empty());
    let Some(machine) = machine else {
        return refused(&state, &fields, errors).await;
    };
    let kept = match fields.get("still_so") {
        "yes" => last_case(&state, machine.id, None).await?,
        _ => None,
    };
    let kept = kept.map(|last| last.kept).unwrap_or_default();
    let events = events(machine, fields.get("told"), &kept);
    match store(&state, machine, &events, &fields).await {
        Ok(case) => Ok(Redirect::to(&urls::intake(case, "", "")).into_response()),
        Err(StoreError::Refused(refused_by)) => {
            let message = refusal::refusal(&state.knowledge, &refused_by);
            errors.insert("told".into(), message);
            refused(&state, &fields, errors).await
        }
        Err(e) => Err(e.into()),
    }
}

/// The machine a form names.
fn chosen<'a>(machines: &'a [Machine], fields: &Fields) -> Option<&'a Machine> {
    let id = fields.get("machine");
    machines.iter().find(|m| m.id.to_string() == id)
}

/// What makes no sense in a form.
fn problems(machines: &[Machine], fields: &Fields) -> Errors {
    let mut errors = Errors::new();
    if chosen(machines, fields).is_none() {
        let message = match fields.get("machine") {
            "" => "Choose the machine.",
            _ => "There is no such machine on the floor: choose one.",
        };
        errors.insert("machine".into(), message.into());
    }
    if let Err(problem) = text::optional(fields.get("told"), LONGEST_TEXT) {
        errors.insert("told".into(), refusal::words_of("told", &problem));
    }
    errors
}

/// What opens a case: the machine, what is still as it was, what happened.
fn events(machine: &Machine, told: &str, kept: &Carried) -> Vec<Event> {
    let mut events = vec![Event::Opened {
        title: title(told).unwrap_or_default(),
        machine_name: machine.name.clone(),
        machine: machine.profile.clone(),
        material: kept.material.clone(),
        spool: kept.spool.clone(),
    }];
    events.extend(kept.numbers.iter().map(|(id, value)| Event::Measured {
        number: id.to_string(),
        value: *value,
        note: None,
    }));
    if !told.is_empty() {
        let text = told.to_string();
        events.push(Event::Told { text });
    }
    events
}

/// Stores a case. The page made its identifier, so that the same form sent twice opens one case.
async fn store(
    state: &AppState,
    machine: &Machine,
    events: &[Event],
    fields: &Fields,
) -> Result<Uuid, StoreError> {
    let k = &state.knowledge;
    let stamp = fields.stamp(state.now());
    let given = fields.get("case_id").parse();
    let id = given.unwrap_or_else(|_| Uuid::now_v7());
    let opened = state
        .store
        .open_case(k, id, machine.id, events, stamp.clone());
    match opened.await {
        Ok(_) => Ok(id),
        // The form was sent before with other words: that case stands, and this one is opened
        // beside it.
        Err(StoreError::Conflict { .. } | StoreError::OtherTouch) => {
            let id = Uuid::now_v7();
            let touch = None;
            let stamp = Stamp { touch, ..stamp };
            let opened = state.store.open_case(k, id, machine.id, events, stamp);
            opened.await.map(|_| id)
        }
        Err(e) => Err(e),
    }
}

async fn refused(state: &AppState, fields: &Fields, errors: Errors) -> Answer {
    Ok(again(page(state, fields, errors).await?))
}

async fn page(state: &AppState, fields: &Fields, errors: Errors) -> Result<String, PageError> {
    let machines = state.store.machines().await?;
    let machine = chosen(&machines, fields).cloned();
    let last = match &machine {
        Some(machine) => last_case(state, machine.id, None).await?,
        None => None,
    };
    let tile = |(n, m): (usize, &Machine)| Tile {
        n: n + 1,
        href: urls::new_case_on(m.id),
        name: m.name.clone(),
        model: m.model.clone(),
    };
    let page = NewCasePage {
        case_id: fields
            .get("case_id")
            .parse()
            .unwrap_or_else(|_| Uuid::now_v7()),
        tiles: machines.iter().enumerate().map(tile).collect(),
        machine,
        told: fields.get("told").into(),
        still_so: fields.get("still_so") == "yes",
        carried: last.and_then(|last| carried::view(&last, &last.kept)),
        errors,
    };
    Ok(page.render()?)
}
