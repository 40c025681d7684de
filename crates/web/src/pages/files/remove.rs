//! Removing the text of a print file; its figures stay.

use super::open_file::{For, OpenFile};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::state::AppState;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_core::text;

/// `POST /files/{file}/remove`: by whom and why.
pub async fn remove(State(state): State<AppState>, file: OpenFile, fields: Fields) -> Answer {
    let to = For::read(&state, &fields).await?;
    let back = to.address(file.row.id, "", &[]);
    let refused = |message: &str| PageError::Refused {
        message: message.into(),
        back: back.clone(),
    };
    let by = fields.by();
    let reason = fields.get("reason");
    if text::words(&by, text::LONGEST_NAME).is_err() {
        return Err(refused(
            "Say who you are: a removed file names who removed it.",
        ));
    }
    if text::words(reason, text::LONGEST_TEXT).is_err() {
        return Err(refused("Say why: others will look for this file."));
    }
    state
        .store
        .remove_print_text(file.row.id, (&by, reason), state.now())
        .await?;
    Ok(Redirect::to(&back).into_response())
}
