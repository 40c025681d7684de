//! A machine out of service, for parts, and back.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenMachine;
use crate::state::AppState;
use crate::urls;
use crate::words::refusal;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_core::machine::MachineEvent;
use suspect_store::StoreError;

/// `POST /machines/{id}/service`: out of service with a reason, or back.
pub async fn service(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    fields: Fields,
) -> Answer {
    let back = urls::machine(machine.id);
    let event = match fields.get("to") {
        "in" => MachineEvent::BackInService,
        "parts" => MachineEvent::Retired {
            reason: fields.get("reason").to_string(),
        },
        _ => MachineEvent::OutOfService {
            reason: fields.get("reason").to_string(),
        },
    };
    let stamp = fields.stamp(state.now());
    let stored = state.store.append_to_machine(
        &state.knowledge,
        machine.id,
        Some(fields.seq()),
        &event,
        stamp,
    );
    match stored.await {
        Ok(()) => Ok(Redirect::to(&back).into_response()),
        Err(StoreError::Refused(refused)) => Err(PageError::Refused {
            message: refusal::refusal(&state.knowledge, &refused),
            back,
        }),
        Err(StoreError::Conflict { .. }) => Err(PageError::Refused {
            message: "Someone else changed this machine first. Look at it, then send it again."
                .into(),
            back,
        }),
        Err(e) => Err(e.into()),
    }
}
