//! The proof of a fix: a print, compared with what was there before.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::doing::{amount, locked};
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::proving::{look_for, may_bring, proof_takes};
use crate::pages::parts::timers::{TimerView, timers};
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use crate::words::outcome;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::case::{Event, Status, WorkId};
use suspect_core::knowledge::{FixId, TryResult};

struct ResultRow {
    n: usize,
    value: &'static str,
    words: String,
}

#[derive(Template)]
#[template(path = "doing/proof.html")]
struct ProofPage {
    head: CaseHead,
    fix: String,
    verify: String,
    look_for: Vec<String>,
    takes: String,
    waiting: String,
    wait: String,
    timer: Option<TimerView>,
    parts_out: Vec<String>,
    may_bring: Vec<String>,
    results: Vec<ResultRow>,
    minutes: String,
    grams: String,
    errors: Errors,
}

fn page(
    state: &AppState,
    case: &OpenCase,
    id: FixId,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let fix = k.fix(id);
    let given = |name: &str| fields.given(name).map(str::to_string);
    let row = |(n, r): (usize, &TryResult)| ResultRow {
        n: n + 1,
        value: r.id(),
        words: show::capital(outcome::result(*r)),
    };
    let mut waits = timers(k, case).into_iter();
    let parts = case.state.parts_out.iter();
    let page = ProofPage {
        head: case.head_again(fields),
        fix: fix.work.name.clone(),
        verify: fix.verify.clone(),
        look_for: look_for(k, &case.state.facts, id),
        takes: proof_takes(fix),
        waiting: show::minutes(fix.verify_waiting),
        wait: show::number(fix.verify_waiting),
        timer: waits.find(|t| t.work == WorkId::Proof),
        parts_out: parts.map(|(_, part)| part.clone()).collect(),
        may_bring: may_bring(k, fix),
        results: TryResult::ALL.iter().enumerate().map(row).collect(),
        minutes: given("minutes").unwrap_or_else(|| show::number(fix.proof().0)),
        grams: given("grams").unwrap_or_else(|| show::number(fix.proof().2)),
        errors,
    };
    Ok(page.render()?)
}

/// The fix that waits for its proof.
fn pending(case: &OpenCase) -> Result<FixId, PageError> {
    match case.state.status {
        Status::Verifying(fix) => Ok(fix),
        _ => Err(PageError::Refused {
            message: "No fix is waiting for its proof.".into(),
            back: case.href(),
        }),
    }
}

/// `GET /cases/{id}/verify`
pub async fn show(State(state): State<AppState>, case: OpenCase) -> Page {
    locked::may_run(&state.knowledge, &case)?;
    let fix = pending(&case)?;
    let html = page(&state, &case, fix, &Fields::default(), Errors::new())?;
    Ok(Html(html))
}

/// `POST /cases/{id}/verify`
pub async fn record(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    let (usual_minutes, usual_grams) = match case.state.status {
        Status::Verifying(fix) => {
            let fix = state.knowledge.fix(fix);
            let (hands_on, _, grams) = fix.proof();
            (hands_on, grams)
        }
        _ => (0.0, 0.0),
    };
    let minutes = amount(&fields, "minutes", usual_minutes, &mut errors);
    let grams = amount(&fields, "grams", usual_grams, &mut errors);
    match TryResult::from_id(fields.get("result")) {
        None => {
            errors.insert("result".into(), "Choose what came of it.".into());
        }
        Some(result) if errors.is_empty() => {
            let then = match result {
                TryResult::Cured => case.below("close"),
                _ => case.href(),
            };
            let event = Event::Printed {
                result,
                minutes,
                grams,
            };
            let form = case.form(&state, &fields, "verify");
            match form.record(&[event], then).await? {
                Recorded::Done(response) => return Ok(response),
                Recorded::Invalid { field, message } => {
                    errors.insert(field, message);
                }
            }
        }
        Some(_) => {}
    }
    let fix = pending(&case)?;
    Ok(again(page(&state, &case, fix, &fields, errors)?))
}
