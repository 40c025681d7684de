//! Closed cases of this workshop with a proved cause, to be solved again.

use super::begin::keep;
use super::open::href;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::entry;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::case::{Entry, Event, Outcome};
use suspect_core::knowledge::Knowledge;
use suspect_rehearsal::practice::of_past;
use suspect_store::{Uuid, think};

/// Cases offered.
const OFFERED: usize = 60;

struct PastLine {
    id: Uuid,
    label: String,
    closed: String,
}

#[derive(Template)]
#[template(path = "practice/past.html")]
struct PastPage {
    cases: Vec<PastLine>,
}

/// `GET /practice/past`
pub async fn list(State(state): State<AppState>) -> Page {
    let closed = state
        .store
        .proved_cases(Outcome::FixedAndVerified.id(), OFFERED as u64)
        .await?;
    let line = |(id, number, at): (Uuid, i64, time::OffsetDateTime)| PastLine {
        id,
        label: show::case_label(number),
        closed: show::date(at),
    };
    let page = PastPage {
        cases: closed.into_iter().map(line).collect(),
    };
    Ok(Html(page.render()?))
}

/// `POST /practice/past/{case}`
pub async fn begin(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Answer {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("case"))?;
    let row = state.store.case_row(id).await?;
    let log = state.store.case_log(id).await?;
    let k = &state.knowledge;
    let label = show::case_label(row.number);
    let made = think(|| of_past(k, &label, &log, done(k, &log))).await;
    let case = made.map_err(|e| PageError::Refused {
        message: show::sentence(&e.to_string()),
        back: format!("{}/past", urls::PRACTICE),
    })?;
    let id = keep(&state, &fields, &case).await?;
    Ok(Redirect::to(&href(id)).into_response())
}

/// What was really done, in order: checks and fixes with what came of them, without names and free
/// words.
fn done(k: &Knowledge, log: &[Entry]) -> Vec<String> {
    let does = |e: &&Entry| {
        matches!(
            e.event,
            Event::Checked { .. }
                | Event::Gauged { .. }
                | Event::Fixed { .. }
                | Event::Tried { .. }
        )
    };
    let done = log.iter().filter(does);
    done.map(|e| show::sentence(&entry::line(k, e))).collect()
}
