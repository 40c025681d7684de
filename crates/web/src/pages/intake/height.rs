//! Where the fault is, how far it reaches, how tall the piece is.

use super::scene::touch;
use super::show::refused;
use crate::form::{Errors, Fields};
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::show;
use crate::state::AppState;
use crate::words::refusal;
use axum::extract::State;
use suspect_core::case::Event;
use suspect_core::intake::Reach;
use suspect_core::knowledge::Knowledge;
use suspect_core::settings::{NumberId, Reading};

/// `POST /cases/{id}/height`
pub async fn height(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    let events = said(&state.knowledge, &case, &fields, &mut errors);
    if errors.is_empty() {
        return touch(&state, &case, &fields, "height", &events).await;
    }
    let place = ("print", fields.get("at"));
    refused(&state, &case, place, &fields, &errors).await
}

/// What the form says; what makes no sense goes to `errors`.
fn said(k: &Knowledge, case: &OpenCase, fields: &Fields, errors: &mut Errors) -> Vec<Event> {
    let settings = &case.state.facts.settings;
    let mut events = Vec::new();
    let mut read = |field: &str, id: NumberId| -> Option<f64> {
        let known = settings.get(id);
        let Some(text) = fields.given(field) else {
            return known;
        };
        match id.number().read(text) {
            Ok(Reading { value, note }) => {
                if known != Some(value) {
                    events.push(Event::Measured {
                        number: id.to_string(),
                        value,
                        note,
                    });
                }
                Some(value)
            }
            Err(problem) => {
                errors.insert(field.into(), refusal::number(&problem));
                known
            }
        }
    };
    let piece = read("piece_mm", NumberId::PieceHeightMm);
    let fault = read("fault_mm", NumberId::FaultHeightMm);
    if let Some((fault, piece)) = fault.zip(piece).filter(|(fault, piece)| fault > piece) {
        let message = format!(
            "The fault cannot be at {} mm on a piece {} mm tall: correct one of them.",
            show::number(fault),
            show::number(piece)
        );
        errors.insert("fault_mm".into(), message);
    }
    let reach = Reach::from_id(fields.get("reach"));
    if reach.is_some_and(|r| r != Reach::Throughout) && fault.is_none() && errors.is_empty() {
        let message = "Say at which height first: drag the ruler or type millimetres.";
        errors.insert("fault_mm".into(), message.into());
    }
    let layer = settings.get(NumberId::LayerMm);
    let zone = reach.and_then(|r| r.event(fault.unwrap_or(0.0), layer));
    events.extend(zone.filter(|zone| !known(k, case, zone)));
    events
}

/// Whether the case says so already.
fn known(k: &Knowledge, case: &OpenCase, event: &Event) -> bool {
    let Event::Observed { finding, state, .. } = event else {
        return false;
    };
    let answered = k
        .finding_id(finding)
        .and_then(|f| Some((f, case.state.facts.findings.get(&f)?)));
    answered.is_some_and(|(f, s)| s.answer.id(k, f) == state.as_str())
}
