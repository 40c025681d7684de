//! What every part of the intake needs to draw itself.

use super::proposals::all_answered;
use crate::form::Fields;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::urls;
use axum::response::{IntoResponse, Redirect};
use suspect_core::case::{Analysis, Event};

/// The case with its analysis, the part on show, and the place in it.
pub struct Scene<'a> {
    pub state: &'a AppState,
    pub case: &'a OpenCase,
    pub analysis: &'a Analysis,
    /// Identifier of the part: `print`.
    pub part: &'static str,
    /// Place in it: a region, or empty.
    pub at: String,
}

/// Records what a touch says, and leads back to where the page stood.
pub async fn touch(
    state: &AppState,
    case: &OpenCase,
    fields: &Fields,
    action: &str,
    events: &[Event],
) -> Answer {
    let back = match all_answered(state, case, fields) {
        true => case.href(),
        false => urls::intake(case.id, fields.get("part"), fields.get("at")),
    };
    if events.is_empty() {
        return Ok(Redirect::to(&back).into_response());
    }
    let form = case.form(state, fields, action);
    form.record_or_explain(events, back).await
}
