//! What changed in the build of a case's machine since the case knows it, and taking it over.

use crate::form::Fields;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::show;
use crate::state::AppState;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_core::case::Event;
use suspect_core::machine::{build, news_for};
use suspect_core::profile::FieldId;

/// What the case does not know yet of how its machine is built now.
pub fn news(case: &OpenCase) -> Vec<String> {
    if case.state.resolved() {
        return Vec::new();
    }
    let news = news_for(&case.state.facts.context, &case.machine.profile);
    build(&news)
        .known()
        .map(|(f, v)| format!("{}: {}", show::lower_first(f.plain), v.plain))
        .collect()
}

/// `POST /cases/{id}/build`: the case takes over how its machine is built now.
pub async fn take_over(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let machine = news_for(&case.state.facts.context, &case.machine.profile);
    if machine.is_empty() {
        return Ok(Redirect::to(&case.href()).into_response());
    }
    let material = case.state.facts.context.id(FieldId::Material);
    let event = Event::Described {
        title: case.state.title.clone(),
        material: material.map(str::to_string),
        spool: case.state.spool.clone(),
        machine,
    };
    let form = case.form(&state, &fields, "build");
    form.record_or_explain(&[event], case.href()).await
}
