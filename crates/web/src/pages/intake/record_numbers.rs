//! Recording the form of numbers, spool, material and machine.

use super::picker_events;
use super::show::refused;
use crate::form::{Errors, Fields, not_shown};
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::pages::record::Recorded;
use crate::state::AppState;
use crate::urls;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::case::{CaseState, Event};
use suspect_core::profile::FieldId;
use suspect_core::settings::NumberId;

/// `POST /cases/{id}/numbers`
pub async fn record(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let k = &state.knowledge;
    let mut errors = Errors::new();
    let mut events: Vec<Event> = described(&case.state, &fields).into_iter().collect();
    events.extend(picker_events::events(k, &fields, &case.state, &mut errors));
    let here = urls::intake(case.id, "numbers", "");
    if errors.is_empty() {
        if events.is_empty() {
            return Ok(Redirect::to(&here).into_response());
        }
        let form = case.form(&state, &fields, "numbers");
        match form.record(&events, here).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                let own = ["title", "spool", "material"].contains(&field.as_str());
                let field = if own { field } else { "form".into() };
                errors.insert(field, message);
            }
        }
    }
    // A number that no form of ours asks for has no field to stand beside.
    let shown = |field: &str| match field.strip_prefix("n.") {
        Some(id) => NumberId::from_id(id).is_some(),
        None => true,
    };
    if let Some(message) = not_shown(&errors, shown).into_iter().next() {
        errors.insert("form".into(), message);
    }
    refused(&state, &case, ("numbers", ""), &fields, &errors).await
}

/// Title, material, spool and what became known of the machine, when the form changes any of them.
/// A material once known is not unsaid by an empty choice.
fn described(case: &CaseState, fields: &Fields) -> Option<Event> {
    let (title, spool) = (fields.get("title"), fields.get("spool"));
    let material = fields.given("material");
    let machine: BTreeMap<String, String> = fields
        .with_prefix("m.")
        .filter(|(_, v)| !v.is_empty())
        .map(|(f, v)| (f.to_string(), v.to_string()))
        .collect();
    let said = title != case.title || spool != case.spool;
    let changed = said
        || !machine.is_empty()
        || (material.is_some() && material != case.facts.context.id(FieldId::Material));
    let sent = fields.sent("title").is_some();
    (sent && changed).then(|| Event::Described {
        title: title.into(),
        material: material.map(str::to_string),
        spool: spool.into(),
        machine,
    })
}
