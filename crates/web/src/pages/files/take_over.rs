//! Taking over into a case what its print file says.

use super::findings;
use super::open_file::{For, OpenFile};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::words::refusal;
use axum::extract::{Path, State};
use axum::response::{IntoResponse, Redirect};
use suspect_core::case::Event;
use suspect_core::settings::NumberId;
use suspect_store::Uuid;

/// `POST /cases/{id}/files/{file}/take`: `take` names what is taken over, or `all`; `z` is a height
/// to be noted as that of the fault.
pub async fn take(
    State(state): State<AppState>,
    case: OpenCase,
    Path((_, file)): Path<(String, String)>,
    fields: Fields,
) -> Answer {
    let id: Uuid = file
        .parse()
        .map_err(|_| PageError::NotFound("print file"))?;
    let file = OpenFile::read(&state, id).await?;
    let mut query = Fields::default();
    query.push("case".into(), case.id.to_string());
    let to = For::read(&state, &query).await?;
    let good = match &to.good {
        Some((good, _)) if *good != id => Some(OpenFile::read(&state, *good).await?.reading),
        _ => None,
    };
    let fault = to.facts.settings.get(NumberId::FaultHeightMm);
    let said = findings::of(&state.knowledge, &file.reading, &to, fault, good.as_ref());
    let chosen: Vec<&str> = fields.all("take").collect();
    let mut events = findings::events(&state.knowledge, &said, &to, &chosen);
    if chosen.contains(&"fault") {
        let number = NumberId::FaultHeightMm;
        let read = number.number().read(fields.get("z"));
        let read = read.map_err(|problem| PageError::Refused {
            message: refusal::number(&problem),
            back: to.address(id, "", &[]),
        })?;
        events.push(Event::Measured {
            number: number.to_string(),
            value: read.value,
            note: read.note,
        });
    }
    let z = fields.given("z").map(|z| ("z", z.to_string()));
    let back = to.address(id, "", &z.into_iter().collect::<Vec<_>>());
    if events.is_empty() {
        return Ok(Redirect::to(&back).into_response());
    }
    let form = case.form(&state, &fields, &format!("files/{id}/take"));
    form.record_or_explain(&events, back).await
}
