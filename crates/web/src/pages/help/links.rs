//! Links by which helpers elsewhere see a case.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::words::refusal;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_store::StoreError;

/// Where the links stand on the page of the brief.
fn back(case: &OpenCase) -> String {
    format!("{}#links", case.below("brief"))
}

/// `POST /cases/{id}/links`: opens the case to whoever has the link.
pub async fn make(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let stamp = fields.stamp(state.now());
    let made = state.store.make_help_link(case.id, stamp).await;
    made.map_err(|e| match e {
        StoreError::Refused(refused) => PageError::Refused {
            message: refusal::refusal(&state.knowledge, &refused),
            back: back(&case),
        },
        other => other.into(),
    })?;
    Ok(Redirect::to(&back(&case)).into_response())
}

/// `POST /cases/{id}/links/revoke`
pub async fn revoke(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let token = fields.get("token");
    let revoked = state.store.revoke_help_link(case.id, token, state.now());
    revoked.await.map_err(|e| match e {
        StoreError::NotFound => PageError::NotFound("link"),
        other => other.into(),
    })?;
    Ok(Redirect::to(&back(&case)).into_response())
}
