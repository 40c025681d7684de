//! "Did it hold?": one touch on a closed case.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::urls;
use axum::extract::State;
use suspect_core::case::{Event, HeldAnswer};

/// What stands in the log where nobody said how it came back.
const CAME_BACK: &str = "the fault came back";

/// `POST /cases/{id}/held`
pub async fn record(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let back = fields.given("back").filter(|to| *to == urls::AGAIN);
    let then = back.map_or_else(|| case.href(), str::to_string);
    let answer = fields.get("answer");
    let (event, then) = match (HeldAnswer::from_id(answer), answer) {
        (Some(answer), _) => (Event::AskedAgain { answer }, then),
        (None, "came-back") if case.state.new_trouble(state.now()) => {
            // It held as long as anybody watches; what shows now is a case of its own.
            let answer = HeldAnswer::Held;
            (
                Event::AskedAgain { answer },
                urls::new_case_on(case.machine.id),
            )
        }
        (None, "came-back") => (
            Event::Reopened {
                reason: fields.given("reason").unwrap_or(CAME_BACK).to_string(),
                after_days: None,
            },
            case.href(),
        ),
        _ => {
            return Err(PageError::Refused {
                message: "Say whether it held, came back, or cannot be said.".into(),
                back: case.href(),
            });
        }
    };
    let form = case.form(&state, &fields, "held");
    let answer = form.record_or_explain(&[event], then).await;
    state.ask_to_rebuild();
    answer
}
