//! "I looked: it is sound."

use crate::form::Fields;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use axum::extract::State;
use suspect_core::case::Event;
use suspect_core::evidence::Confidence;

/// `POST /cases/{id}/clear`
pub async fn clear(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::Cleared {
        cause: fields.get("cause").to_string(),
        confidence: Confidence::Sure,
    };
    let form = case.form(&state, &fields, "clear");
    form.record_or_explain(&[event], case.href()).await
}
