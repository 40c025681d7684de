//! Suggestions helpers leave, and what becomes of them.

use crate::form::Fields;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::pages::parts::link::Link;
use crate::state::AppState;
use crate::urls;
use axum::extract::State;
use suspect_core::case::{Event, Suggestion};
use suspect_core::knowledge::Knowledge;

/// `POST /cases/{id}/weigh`: a suggestion is taken up or laid aside.
pub async fn weigh(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::Weighed {
        suggestion: fields.get("suggestion").parse().unwrap_or(0),
        taken: fields.get("taken") == "yes",
    };
    let form = case.form(&state, &fields, "weigh");
    form.record_or_explain(&[event], case.href()).await
}

/// A suggestion as the case page shows it.
pub struct Hearsay {
    pub seq: u32,
    pub by: String,
    pub cause: Option<Link>,
    pub check: Option<Link>,
    pub text: String,
    /// `None` while it waits for an answer; then whether it was taken up.
    pub taken: Option<bool>,
}

/// Suggestions, those that wait for an answer first.
pub fn hearsay(k: &Knowledge, case: &OpenCase) -> Vec<Hearsay> {
    let row = |s: &Suggestion| Hearsay {
        seq: s.seq,
        by: s.by.clone(),
        cause: s
            .cause
            .as_deref()
            .and_then(|c| k.cause_id(c))
            .map(|c| Link {
                href: urls::case_suspect(case.id, &k.cause(c).id),
                name: k.cause(c).name.clone(),
            }),
        check: s
            .check
            .as_deref()
            .and_then(|c| k.check_id(c))
            .map(|c| Link {
                href: case.below(&format!("check/{}", k.check_name(c))),
                name: k.check(c).work.name.clone(),
            }),
        text: s.text.clone(),
        taken: s.taken,
    };
    let mut rows: Vec<Hearsay> = case.state.suggestions.iter().map(row).collect();
    rows.sort_by_key(|r| r.taken.is_some());
    rows
}
