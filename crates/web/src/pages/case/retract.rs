//! Taking an entry back.

use crate::form::Fields;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::urls;
use axum::extract::State;
use suspect_core::case::Event;

/// `POST /cases/{id}/retract`
pub async fn retract(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::Retracted {
        seq: fields.get("entry").parse().unwrap_or(0),
    };
    // The intake takes back too, and goes on where it was.
    let then = match fields.given("part") {
        Some(part) => urls::intake(case.id, part, fields.get("at")),
        None => case.href(),
    };
    let form = case.form(&state, &fields, "retract");
    form.record_or_explain(&[event], then).await
}
