//! The machine's counter, and parts fitted new.

use super::show::refused;
use crate::form::{Errors, Fields};
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::urls;
use crate::words::refusal;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_core::case::Refusal;
use suspect_core::machine::MachineEvent;
use suspect_core::machine::counter;
use suspect_core::settings::read_number;
use suspect_store::StoreError;

/// `POST /cases/{id}/hours`: the machine's counter was read.
pub async fn hours(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    append(&state, &case, &fields, MachineEvent::counter).await
}

/// `POST /cases/{id}/fitted`: a part was fitted new, at what the counter shows.
pub async fn fitted(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let part = fields.get("fitted").to_string();
    append(&state, &case, &fields, |hours| {
        MachineEvent::fitted(&part, hours)
    })
    .await
}

async fn append(
    state: &AppState,
    case: &OpenCase,
    fields: &Fields,
    event: impl FnOnce(f64) -> MachineEvent,
) -> Answer {
    let machine = case.row.machine_id;
    let last = counter(&state.store.machine_log(machine).await?);
    // A part may be noted as new without reading the counter again.
    let hours = match (fields.given("hours"), last) {
        (None, Some(last)) if fields.given("fitted").is_some() => Ok(last),
        (text, _) => read_number("the counter", text.unwrap_or("")),
    };
    let at = fields.get("at");
    let message = match hours {
        Err(problem) => refusal::number(&problem),
        Ok(hours) => {
            let (k, stamp) = (&state.knowledge, fields.stamp(state.now()));
            let event = event(hours);
            let stored = state
                .store
                .append_to_machine(k, machine, None, &event, stamp);
            match stored.await {
                Ok(()) => {
                    let back = urls::intake(case.id, "machine", at);
                    return Ok(Redirect::to(&back).into_response());
                }
                Err(StoreError::Refused(Refusal::Invalid { field, problem })) => {
                    refusal::problem(&field, &problem)
                }
                Err(e) => return Err(e.into()),
            }
        }
    };
    let errors = Errors::from([("hours".to_string(), message)]);
    refused(state, case, ("machine", at), fields, &errors).await
}
