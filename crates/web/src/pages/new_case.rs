//! New case: which machine, what happened, what is still as it was last time. Everything else is asked on the case itself.

use super::Page;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use std::collections::BTreeMap;
use suspect_core::case::{self, Event, LONGEST_TEXT, replay};
use suspect_core::intake::{Carried, carried, title};
use suspect_core::text;
use suspect_store::machines::Machine;
use suspect_store::{Stamp, StoreError, Uuid};

struct Tile {
    n: usize,
    href: String,
    name: String,
    model: String,
}

/// What can be carried over, in words, with the case it comes from.
pub struct CarriedView {
    pub from: String,
    pub from_href: String,
    pub parts: Vec<String>,
}

#[derive(Template)]
#[template(path = "new_case.html")]
struct NewCasePage {
    place: &'static str,
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
pub async fn open(State(state): State<AppState>, fields: Fields) -> Result<Response, PageError> {
    let machines = state.store.machines().await?;
    let told = fields.get("told");
    let mut errors = Errors::new();
    let machine = machines
        .iter()
        .find(|m| m.id.to_string() == fields.get("machine"));
    if machine.is_none() {
        let message = if fields.get("machine").is_empty() {
            "Choose the machine."
        } else {
            "There is no such machine on the floor: choose one."
        };
        errors.insert("machine".into(), message.into());
    }
    let length = told.chars().count();
    if length > LONGEST_TEXT {
        errors.insert("told".into(), format!("This has {length} characters: at most {LONGEST_TEXT} fit. Put the rest into a note later."));
    } else if let Err(message) = text::optional("what you wrote", told, LONGEST_TEXT) {
        errors.insert("told".into(), show::sentence(&message));
    }
    let (Some(machine), true) = (machine, errors.is_empty()) else {
        return refused(&state, &fields, errors).await;
    };
    let kept = match fields.get("still_so") {
        "yes" => last_case(&state, machine.id, None)
            .await?
            .map(|(_, _, carried)| carried)
            .unwrap_or_default(),
        _ => Carried::default(),
    };
    let mut events = vec![Event::Opened {
        title: title(told).unwrap_or_else(|| format!("Trouble on {}", machine.name)),
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
        events.push(Event::Told {
            text: told.to_string(),
        });
    }
    // The page made this identifier, so that the same form sent twice opens one case.
    let id: Uuid = fields
        .get("case_id")
        .parse()
        .unwrap_or_else(|_| Uuid::now_v7());
    let k = &state.knowledge;
    let stamp = fields.stamp(state.now());
    let opened = match state
        .store
        .open_case(k, id, machine.id, &events, stamp.clone())
        .await
    {
        Ok(_) => id,
        // The form was sent before with other words: that case stands, and this one is opened
        // beside it.
        Err(StoreError::Conflict { .. } | StoreError::OtherTouch) => {
            let id = Uuid::now_v7();
            let stamp = Stamp {
                touch: None,
                ..stamp
            };
            state
                .store
                .open_case(k, id, machine.id, &events, stamp)
                .await?;
            id
        }
        Err(StoreError::Refused(case::Refusal::Invalid { message, .. })) => {
            errors.insert("told".into(), show::sentence(&message));
            return refused(&state, &fields, errors).await;
        }
        Err(e) => return Err(e.into()),
    };
    Ok(Redirect::to(&urls::intake(opened, "", "")).into_response())
}

async fn refused(state: &AppState, fields: &Fields, errors: Errors) -> Result<Response, PageError> {
    Ok((
        StatusCode::UNPROCESSABLE_ENTITY,
        Html(page(state, fields, errors).await?),
    )
        .into_response())
}

async fn page(state: &AppState, fields: &Fields, errors: Errors) -> Result<String, PageError> {
    let machines = state.store.machines().await?;
    let machine = machines
        .iter()
        .find(|m| m.id.to_string() == fields.get("machine"))
        .cloned();
    let carried = match &machine {
        Some(machine) => last_case(state, machine.id, None)
            .await?
            .and_then(|(id, number, kept)| view(id, number, &kept)),
        None => None,
    };
    let tile = |(n, m): (usize, &Machine)| Tile {
        n: n + 1,
        href: urls::new_case_on(m.id),
        name: m.name.clone(),
        model: m.model.clone(),
    };
    let page = NewCasePage {
        place: "new",
        case_id: fields
            .get("case_id")
            .parse()
            .unwrap_or_else(|_| Uuid::now_v7()),
        tiles: machines.iter().enumerate().map(tile).collect(),
        machine,
        told: fields.get("told").into(),
        still_so: fields.get("still_so") == "yes",
        carried,
        errors,
    };
    Ok(page.render()?)
}

/// The machine's latest case besides one, and what it leaves for the next.
pub async fn last_case(
    state: &AppState,
    machine: Uuid,
    besides: Option<Uuid>,
) -> Result<Option<(Uuid, i64, Carried)>, PageError> {
    let Some(id) = state.store.last_case_of(machine, besides).await? else {
        return Ok(None);
    };
    let (row, log) = (
        state.store.case_row(id).await?,
        state.store.case_log(id).await?,
    );
    Ok(Some((
        id,
        row.number,
        carried(&replay(&state.knowledge, &log)),
    )))
}

/// What can be carried over, in words; nothing when there is nothing.
pub fn view(from: Uuid, number: i64, kept: &Carried) -> Option<CarriedView> {
    if kept.is_empty() {
        return None;
    }
    let material = kept.material.iter().map(|m| m.to_uppercase());
    let spool = Some(kept.spool.clone()).filter(|s| !s.is_empty());
    let number_words = |(id, value): &(&str, f64)| {
        let n = suspect_core::settings::position(id)
            .map(|at| &suspect_core::settings::NUMBERS[at])
            .ok()?;
        Some(
            format!("{} {}\u{a0}{}", n.plain, show::number(*value), n.unit)
                .trim_end()
                .to_string(),
        )
    };
    Some(CarriedView {
        from: show::case_label(number),
        from_href: urls::case(from),
        parts: material
            .chain(spool)
            .chain(kept.numbers.iter().filter_map(number_words))
            .collect(),
    })
}
