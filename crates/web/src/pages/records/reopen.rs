//! Opening a closed case again.

use crate::form::Fields;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use axum::extract::State;
use suspect_core::case::Event;

/// `POST /cases/{id}/reopen`
pub async fn reopen(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::Reopened {
        reason: fields.get("reason").to_string(),
        after_days: None,
    };
    let form = case.form(&state, &fields, "reopen");
    let answer = form.record_or_explain(&[event], case.href()).await;
    state.ask_to_rebuild();
    answer
}
