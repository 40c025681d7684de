//! What is noted while a step is under way: waits, parts that came off, a step not done now or
//! broken off, one taken up again.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::pages::parts::timers::step_href;
use crate::state::AppState;
use crate::words::refusal;
use axum::extract::State;
use suspect_core::case::{Event, PutOff, WorkId};

/// Minutes that may be left out.
fn minutes(fields: &Fields, back: &str) -> Result<f64, PageError> {
    let read = fields.number("minutes", 0.0);
    read.map_err(|problem| PageError::Refused {
        message: refusal::number(&problem),
        back: back.to_string(),
    })
}

/// The piece of work a form is about.
fn work(fields: &Fields, case: &OpenCase) -> Result<WorkId, PageError> {
    let work = fields.get("work").parse::<WorkId>();
    work.map_err(|problem| PageError::Refused {
        message: refusal::problem("step", &problem.into()),
        back: case.href(),
    })
}

fn step(fields: &Fields) -> u32 {
    fields.get("step").parse().unwrap_or(0)
}

/// `POST /cases/{id}/timer`
pub async fn timer(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let (work, step) = (work(&fields, &case)?, step(&fields));
    let then = step_href(&case, &work, step as usize);
    let event = Event::TimerSet {
        work,
        step,
        minutes: minutes(&fields, &then)?,
    };
    let form = case.form(&state, &fields, "timer");
    form.record_or_explain(&[event], then).await
}

/// `POST /cases/{id}/parts`
pub async fn parts(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let work = work(&fields, &case)?;
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
    let form = case.form(&state, &fields, "parts");
    form.record_or_explain(&[event], then).await
}

/// `POST /cases/{id}/aside`
pub async fn put_off(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let back = case.href();
    let why = PutOff::from_id(fields.get("why")).ok_or_else(|| PageError::Refused {
        message: "Say why the step is not done now.".into(),
        back: back.clone(),
    })?;
    let event = Event::SetAside {
        step: work(&fields, &case)?,
        why,
        minutes: match why {
            PutOff::NotNow => 0.0,
            _ => minutes(&fields, &back)?,
        },
    };
    let form = case.form(&state, &fields, "aside");
    form.record_or_explain(&[event], back).await
}

/// `POST /cases/{id}/take-up`
pub async fn take_up(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::TakenUp {
        step: work(&fields, &case)?,
    };
    let form = case.form(&state, &fields, "take-up");
    form.record_or_explain(&[event], case.href()).await
}

/// `POST /cases/{id}/put-back`
pub async fn put_back(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::PutBack {
        fixed: fields.get("fixed").parse().unwrap_or(0),
    };
    let then = match fields.get("from") {
        "case" => case.href(),
        _ => case.below("stuck"),
    };
    let form = case.form(&state, &fields, "put-back");
    form.record_or_explain(&[event], then).await
}

/// `POST /cases/{id}/leave`
pub async fn leave(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::LeftForLater {
        note: fields.get("note").to_string(),
    };
    let form = case.form(&state, &fields, "leave");
    form.record_or_explain(&[event], case.href()).await
}
