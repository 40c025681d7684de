//! What was changed on the machine shortly before the case began, and taking that over as its
//! beginning.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::show;
use crate::state::AppState;
use crate::urls;
use crate::words::journal;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_core::book::{Book, What, shortly_before};
use suspect_core::case::Event;
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::Knowledge;

/// Changes named on a case's page.
const NAMED: usize = 3;
/// What a person answers to how it began, and to what changed last.
const ONSET: (&str, &str) = ("onset", "after-a-change");
const LAST_CHANGE: &str = "last-change";

/// What was changed before the case.
pub struct ShortlyView {
    pub lines: Vec<String>,
    pub more: usize,
    pub journal: String,
    /// Nobody said yet how it began.
    pub asks: bool,
}

/// What was changed on the machine before the case began; nothing where nothing was.
pub async fn view(state: &AppState, case: &OpenCase) -> Result<Option<ShortlyView>, PageError> {
    if case.state.resolved() {
        return Ok(None);
    }
    let book = state.store.book(case.machine.id).await?;
    let k = &state.knowledge;
    let all = shortly_before(&book, case.row.opened_at);
    let lines = all.iter().take(NAMED);
    let lines: Vec<String> = lines
        .map(|s| format!("{} ({})", words(k, &s.what), show::date(s.at)))
        .collect();
    let answered = k
        .finding_id(ONSET.0)
        .is_some_and(|f| case.state.facts.findings.contains_key(&f));
    Ok((!lines.is_empty()).then(|| ShortlyView {
        more: all.len() - lines.len(),
        lines,
        journal: format!("{}?of=settings#journal", urls::machine(case.machine.id)),
        asks: !answered,
    }))
}

fn words(k: &Knowledge, what: &What<'_>) -> String {
    match what {
        What::Change(changed) => journal::change_words(k, &changed.change),
        What::Part(part) => format!("new: {}", show::lower_first(part.name)),
        What::Moved => "moved to another place".into(),
    }
}

/// The answers that the latest change gives.
fn events(book: &Book, case: &OpenCase) -> Vec<Event> {
    let all = shortly_before(book, case.row.opened_at);
    let Some(latest) = all.first() else {
        return Vec::new();
    };
    let answers = [ONSET, (LAST_CHANGE, latest.what.last_change())];
    let event = |(finding, state): (&str, &str)| Event::Observed {
        finding: finding.into(),
        state: state.into(),
        confidence: Confidence::Sure,
        asked: false,
    };
    answers.map(event).to_vec()
}

/// `POST /cases/{id}/shortly`: it began after that change.
pub async fn take_over(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let book = state.store.book(case.machine.id).await?;
    let events = events(&book, &case);
    if events.is_empty() {
        return Ok(Redirect::to(&case.href()).into_response());
    }
    let form = case.form(&state, &fields, "shortly");
    form.record_or_explain(&events, case.href()).await
}
