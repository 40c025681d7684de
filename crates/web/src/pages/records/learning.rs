//! A case left out of what the workshop learns, or taken in again.

use crate::form::Fields;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use axum::extract::State;
use suspect_core::case::Event;

/// `POST /cases/{id}/learning`
pub async fn record(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::LeftOut {
        reason: match &case.state.left_out {
            Some(_) => None,
            None => Some(fields.get("reason").to_string()),
        },
    };
    let form = case.form(&state, &fields, "learning");
    let answer = form.record_or_explain(&[event], case.href()).await;
    state.ask_to_rebuild();
    answer
}
