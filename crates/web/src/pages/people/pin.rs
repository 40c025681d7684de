//! A member's PIN for shared stations.

use super::members::told;
use super::own::{member, page};
use crate::form::{Errors, Fields};
use crate::pages::{Answer, again};
use crate::people::secret::{hash, turn};
use crate::show;
use crate::state::AppState;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_core::people::pin;

/// `POST /me/pin`
pub async fn set(State(state): State<AppState>, fields: Fields) -> Answer {
    let (id, ..) = member()?;
    let new = fields.sent("pin").unwrap_or_default().trim().to_string();
    if let Err(problem) = pin(&new) {
        let mut errors = Errors::new();
        errors.insert("pin".into(), show::sentence(&problem.to_string()));
        return Ok(again(page(&state, None, errors).await?));
    }
    let hash = hash(&turn().await?, new).await?;
    state.store.set_pin(id, hash).await.map_err(told)?;
    Ok(Redirect::to("/me").into_response())
}
