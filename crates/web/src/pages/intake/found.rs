//! Values that were found for the machine and the material of a case, and taking them over.

use super::scene::touch;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::show;
use crate::state::AppState;
use crate::words::journal;
use axum::extract::State;
use suspect_core::book::{Found, NEVER, found_for};
use suspect_core::case::Event;
use suspect_core::profile::FieldId;
use suspect_core::settings::NumberId;

/// What the machine's book holds for the material of a case.
pub struct FoundView {
    pub material: String,
    /// Values with the day, and why one may not hold any more.
    pub values: Vec<(String, Option<String>)>,
    /// Some are numbers that the case does not know yet.
    pub takes: bool,
    /// The material was never calibrated here.
    pub never: Option<String>,
}

async fn of(state: &AppState, case: &OpenCase) -> Result<Option<(String, Vec<Found>)>, PageError> {
    let facts = &case.state.facts;
    let Some(material) = facts.context.id(FieldId::Material) else {
        return Ok(None);
    };
    let book = state.store.book(case.machine.id).await?;
    let nozzle = facts.settings.get(NumberId::NozzleMm);
    let found = found_for(&book, material, nozzle, state.now());
    Ok(Some((material.to_string(), found)))
}

/// The number of a case that a value is, as long as the case does not know it.
fn number(case: &OpenCase, found: &Found) -> Option<NumberId> {
    let number = NumberId::from_id(found.of.id)?;
    case.state
        .facts
        .settings
        .get(number)
        .is_none()
        .then_some(number)
}

/// What the book holds; nothing while the material is not known.
pub async fn view(state: &AppState, case: &OpenCase) -> Result<Option<FoundView>, PageError> {
    let Some((material, found)) = of(state, case).await? else {
        return Ok(None);
    };
    let value = |f: &Found| {
        let words = journal::value_words(f.of.id, f.value);
        let said = format!("{words} ({})", show::date(f.at));
        (said, f.stale.as_ref().map(journal::stale))
    };
    let material = journal::material(&material);
    Ok(Some(FoundView {
        never: found
            .is_empty()
            .then(|| format!("{material} is {NEVER} on {}.", case.machine.name)),
        takes: found.iter().any(|f| number(case, f).is_some()),
        values: found.iter().map(value).collect(),
        material,
    }))
}

/// `POST /cases/{id}/values`: the case takes over what was found for its machine.
pub async fn take(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let found = of(&state, &case)
        .await?
        .map_or_else(Vec::new, |(_, found)| found);
    let events = found.iter().filter_map(|f| {
        Some(Event::Measured {
            number: number(&case, f)?.id().to_string(),
            value: f.value,
            note: None,
        })
    });
    let events: Vec<Event> = events.collect();
    touch(&state, &case, &fields, "values", &events).await
}
