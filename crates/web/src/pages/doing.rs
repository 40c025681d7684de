//! What is noted while a step is under way: waits, parts that came off, a step not done now or broken off, one taken up again.

use super::guide::step_href;
use super::opened;
use super::recording::record_or_explain;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use axum::extract::{Path, State};
use axum::response::Response;
use suspect_core::case::{Aside, Event};

fn number(fields: &Fields, name: &str, otherwise: f64, back: &str) -> Result<f64, PageError> {
    fields
        .number(name, otherwise)
        .map_err(|e| PageError::Refused {
            message: show::sentence(&e),
            back: back.to_string(),
        })
}

fn step(fields: &Fields) -> u32 {
    fields.get("step").parse().unwrap_or(0)
}

/// `POST /cases/{id}/timer`
pub async fn timer(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let (work, step) = (fields.get("work").to_string(), step(&fields));
    let then = step_href(
        &case,
        &work,
        if work == "verify" { 0 } else { step as usize },
    );
    let minutes = number(&fields, "minutes", 0.0, &then)?;
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "timer"),
        &[Event::TimerSet {
            work,
            step,
            minutes,
        }],
        then,
    )
    .await
}

/// `POST /cases/{id}/parts`
pub async fn parts(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let work = fields.get("work").to_string();
    let (part, back) = match fields.given("back") {
        Some(part) => (part, true),
        None => (fields.get("out"), false),
    };
    let then = step_href(&case, &work, step(&fields) as usize);
    let event = Event::PartKept {
        work,
        part: part.to_string(),
        back,
    };
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "parts"),
        &[event],
        then,
    )
    .await
}

/// `POST /cases/{id}/aside`
pub async fn aside(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let step = fields.get("work").to_string();
    let back = urls::case(case.id);
    let why = Aside::from_id(fields.get("why")).ok_or_else(|| PageError::Refused {
        message: "Say why the step is not done now.".into(),
        back: back.clone(),
    })?;
    let minutes = if why == Aside::NotNow {
        0.0
    } else {
        number(&fields, "minutes", 0.0, &back)?
    };
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "aside"),
        &[Event::SetAside { step, why, minutes }],
        back,
    )
    .await
}

/// `POST /cases/{id}/take-up`
pub async fn take_up(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let event = Event::TakenUp {
        step: fields.get("work").to_string(),
    };
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "take-up"),
        &[event],
        urls::case(case.id),
    )
    .await
}

/// `POST /cases/{id}/put-back`
pub async fn put_back(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let event = Event::PutBack {
        fixed: fields.get("fixed").parse().unwrap_or(0),
    };
    let then = if fields.get("from") == "case" {
        urls::case(case.id)
    } else {
        urls::in_case(case.id, "stuck")
    };
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "put-back"),
        &[event],
        then,
    )
    .await
}

/// `POST /cases/{id}/leave`
pub async fn leave(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let event = Event::LeftForLater {
        note: fields.get("note").to_string(),
    };
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "leave"),
        &[event],
        urls::case(case.id),
    )
    .await
}

/// Why a step is not done now, in words.
pub fn aside_words(why: Aside) -> &'static str {
    [
        "not now",
        "could not be finished",
        "broke off half-way",
        "done, result unclear",
    ][why as usize]
}
