//! How often a fault struck, and when in a print: asked once, before its fix is proven.

use crate::form::{Errors, Fields};
use crate::pages::doing::proof;
use crate::pages::open_case::OpenCase;
use crate::pages::record::Recorded;
use crate::pages::{Answer, again};
use crate::state::AppState;
use crate::words::refusal;
use axum::extract::State;
use suspect_core::case::{Event, Shows, Struck};

/// What a form says; what makes no sense goes to `errors`.
fn told(fields: &Fields, errors: &mut Errors) -> Option<Struck> {
    let mut number = |name: &str, usual: f64| {
        let read = fields.number(name, usual);
        read.unwrap_or_else(|problem| {
            errors.insert(name.into(), refusal::number(&problem));
            usual
        })
    };
    let (prints, of) = match fields.get("often") {
        "some" => (number("prints", 0.0), number("of", 0.0)),
        "every" => return Some(Struck::always()),
        "once" => return Some(Struck::default()),
        _ => {
            errors.insert("often".into(), "Say how often it struck.".into());
            return None;
        }
    };
    let clean = fields
        .given("clean")
        .is_some()
        .then(|| number("clean", 0.0));
    let hours = fields.given("struck_hours").is_some();
    let hours = hours.then(|| number("struck_hours", 0.0));
    for (name, value) in [
        ("prints", prints),
        ("of", of),
        ("clean", clean.unwrap_or(0.0)),
    ] {
        if value.fract() != 0.0 || !(0.0..=1e6).contains(&value) {
            errors.insert(name.into(), "A whole number of prints is wanted.".into());
        }
    }
    let shows = Shows::from_id(fields.get("shows")).unwrap_or_default();
    if matches!(shows, Shows::AfterHours | Shows::AnyMoment) && hours.is_none() {
        errors.insert("struck_hours".into(), "Say after how many hours.".into());
    }
    Some(Struck {
        prints: prints as u32,
        of: of as u32,
        every: false,
        clean_before: clean.map(|n| n as u32),
        shows,
        hours,
    })
}

/// `POST /cases/{id}/struck`
pub async fn record(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    if let (Some(struck), true) = (told(&fields, &mut errors), errors.is_empty()) {
        let form = case.form(&state, &fields, "struck");
        let event = Event::Struck(struck);
        // A fix in own words has no page of its own to be proven on.
        let named = case.state.proof.as_ref().is_none_or(|p| p.fix.is_some());
        let then = case.below(if named { "verify" } else { "close" });
        match form.record(&[event], then).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(field, message);
            }
        }
    }
    Ok(again(proof::page(&state, &case, &fields, errors)?))
}
