//! A note.

use crate::form::Fields;
use crate::pages::open_case::OpenCase;
use crate::pages::record::Recorded;
use crate::pages::{Answer, again};
use crate::state::AppState;
use askama::Template;
use axum::extract::State;
use suspect_core::case::Event;

#[derive(Template)]
#[template(path = "case/note.html")]
struct NotePage {
    case_href: String,
    action: String,
    seq: u32,
    text: String,
    error: String,
}

/// `POST /cases/{id}/note`
pub async fn keep(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::Noted {
        text: fields.get("text").to_string(),
    };
    let form = case.form(&state, &fields, "note");
    match form.record(&[event], case.href()).await? {
        Recorded::Done(response) => Ok(response),
        Recorded::Invalid { message, .. } => {
            let page = NotePage {
                case_href: case.href(),
                action: case.below("note"),
                seq: fields.seq(),
                text: fields.get("text").into(),
                error: message,
            };
            Ok(again(page.render()?))
        }
    }
}
