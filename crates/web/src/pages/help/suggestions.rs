//! Suggestions helpers leave, and what becomes of them.

use crate::form::Fields;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::pages::parts::link::Link;
use crate::state::AppState;
use crate::urls;
use axum::extract::State;
use suspect_core::case::{Event, LONGEST_TEXT, Suggestion};
use suspect_core::knowledge::Knowledge;

/// `POST /cases/{id}/weigh`: a suggestion is laid aside, or taken up: what was said is kept as a
/// note, the check comes next, the suspect is looked into.
pub async fn weigh(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let suggestion = fields.get("suggestion").parse().unwrap_or(0);
    let taken = fields.get("taken") == "yes";
    let mut events = vec![Event::Weighed { suggestion, taken }];
    let all = case.state.suggestions.iter();
    let there = all.filter(|_| taken).find(|s| s.seq == suggestion);
    if let Some(s) = there.filter(|s| !s.text.trim().is_empty()) {
        let text = format!("{} said: {}", s.by, s.text);
        events.push(Event::Noted {
            text: text.chars().take(LONGEST_TEXT).collect(),
        });
    }
    let suspect = there.and_then(|s| s.cause.as_deref());
    let suspect = suspect.filter(|c| state.knowledge.cause_id(c).is_some());
    let then = suspect.map_or_else(|| case.href(), |c| urls::case_suspect(case.id, c));
    let form = case.form(&state, &fields, "weigh");
    form.record_or_explain(&events, then).await
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
                href: urls::why(case.id, &k.cause(c).id),
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
