//! More in the person's own words.

use super::show::refused;
use crate::form::{Errors, Fields};
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::pages::record::Recorded;
use crate::state::AppState;
use crate::urls;
use axum::extract::State;
use suspect_core::case::Event;

/// `POST /cases/{id}/tell`
pub async fn tell(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::Told {
        text: fields.get("text").to_string(),
    };
    let here = urls::intake(case.id, "words", "");
    let form = case.form(&state, &fields, "tell");
    match form.record(&[event], here).await? {
        Recorded::Done(response) => Ok(response),
        Recorded::Invalid { message, .. } => {
            let errors = Errors::from([("told".to_string(), message)]);
            refused(&state, &case, ("words", ""), &fields, &errors).await
        }
    }
}
