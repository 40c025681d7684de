//! Whether what was learned counts on a machine.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenMachine;
use crate::state::AppState;
use crate::urls;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_store::StoreError;

/// `POST /machines/{id}/learning`
pub async fn set(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    fields: Fields,
) -> Answer {
    let (mut workshop, seq) = state.store.workshop().await?;
    let id = machine.id.to_string();
    workshop.by_the_book.retain(|m| *m != id);
    if fields.get("learning") == "off" {
        workshop.by_the_book.push(id);
    }
    let stamp = fields.stamp(state.now());
    match state.store.set_workshop(seq, &workshop, stamp).await {
        Ok(()) => {
            state.ask_to_rebuild();
            Ok(Redirect::to(&urls::machine(machine.id)).into_response())
        }
        Err(StoreError::Conflict { .. }) => Err(PageError::Refused {
            message: "The workshop's settings changed meanwhile. Choose again.".into(),
            back: urls::machine(machine.id),
        }),
        Err(other) => Err(other.into()),
    }
}
