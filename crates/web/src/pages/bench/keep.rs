//! Keeping what was measured: in a case as a likelihood, with a machine as its value.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::bench::context::For;
use crate::pages::bench::form::{Typed, in_words};
use crate::pages::bench::measure::{named, page};
use crate::pages::open_case::{OpenCase, OpenMachine};
use crate::pages::record::Recorded;
use crate::pages::{Answer, again};
use crate::state::AppState;
use crate::urls;
use crate::words::refusal;
use axum::extract::{Path, State};
use axum::response::{IntoResponse, Redirect};
use suspect_core::case::Event;
use suspect_core::evidence::Facts;
use suspect_core::machine::MachineEvent;
use suspect_core::measures::{Measure, Reading};
use suspect_store::StoreError;

/// What was measured, or why it makes no sense.
fn reading(
    state: &AppState,
    measure: &'static Measure,
    fields: &Fields,
    facts: &Facts,
) -> Result<Reading, String> {
    let known = measure.known(&state.knowledge, facts);
    let raw = Typed::new(measure, fields, known).raw();
    let read = Reading::of(measure, &raw, fields.get("sure") == "yes");
    read.map_err(|why| in_words(measure, &why))
}

/// `POST /cases/{id}/bench/{measure}`: records it in the case, as a likelihood.
pub async fn in_case(
    State(state): State<AppState>,
    case: OpenCase,
    Path((_, id)): Path<(String, String)>,
    fields: Fields,
) -> Answer {
    let measure = named(&id)?;
    let minutes = fields.number("minutes", 0.0);
    let minutes = minutes.map_err(|problem| refusal::number(&problem));
    let read = reading(&state, measure, &fields, &case.state.facts);
    let event = read.and_then(|reading| {
        let minutes = minutes?;
        Ok(Event::Benched { reading, minutes })
    });
    let why = match event {
        Ok(event) => {
            let form = case.form(&state, &fields, &format!("bench/{id}"));
            match form.record(&[event], case.href()).await? {
                Recorded::Done(response) => return Ok(response),
                Recorded::Invalid { message, .. } => message,
            }
        }
        Err(why) => why,
    };
    Ok(again(page(&state, measure, &fields, Some(why)).await?))
}

/// `POST /machines/{id}/bench/{measure}`: keeps it with the machine.
pub async fn with_machine(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Path((_, id)): Path<(String, String)>,
    fields: Fields,
) -> Answer {
    let measure = named(&id)?;
    let to = For::read(&state, &fields).await?;
    let event = match reading(&state, measure, &fields, &to.facts) {
        Ok(read) => MachineEvent::benched(read),
        Err(why) => return Ok(again(page(&state, measure, &fields, Some(why)).await?)),
    };
    let Some(event) = event else {
        return Err(PageError::NotFound("measure"));
    };
    let k = &state.knowledge;
    let stamp = fields.stamp(state.now());
    let stored = state
        .store
        .append_to_machine(k, machine.id, None, &event, stamp);
    match stored.await {
        Ok(()) => {
            let mut back = vec![("machine", machine.id.to_string())];
            back.extend(fields.given("case").map(|case| ("case", case.to_string())));
            Ok(Redirect::to(&urls::with(&urls::measure(measure.id), &back)).into_response())
        }
        Err(StoreError::Refused(refused)) => {
            let why = refusal::refusal(k, &refused);
            Ok(again(page(&state, measure, &fields, Some(why)).await?))
        }
        Err(e) => Err(e.into()),
    }
}
