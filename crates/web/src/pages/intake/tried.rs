//! What was tried before the case was opened.

use super::scene::touch;
use super::show::refused;
use crate::form::{Errors, Fields};
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use axum::extract::State;
use suspect_core::case::Event;
use suspect_core::knowledge::TryResult;

/// `POST /cases/{id}/tried`
pub async fn tried(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let fix = fields.get("t.0.fix");
    let known = state.knowledge.fix_id(fix);
    match (known, TryResult::from_id(fields.get("t.0.result"))) {
        (Some(_), Some(result)) => {
            let fix = fix.to_string();
            touch(
                &state,
                &case,
                &fields,
                "tried",
                &[Event::Tried { fix, result }],
            )
            .await
        }
        _ => {
            let message = "Choose both what was tried and what came of it.";
            let errors = Errors::from([("tried".to_string(), message.to_string())]);
            refused(&state, &case, ("numbers", ""), &fields, &errors).await
        }
    }
}
