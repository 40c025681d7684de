//! The proof of a fix: a print, compared with what was there before.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::doing::{amount, locked};
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::link::Link;
use crate::pages::parts::proving::{look_for, may_bring, proof_takes};
use crate::pages::parts::struck_form::StruckForm;
use crate::pages::parts::timers::{TimerView, timers};
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::{outcome, proving};
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::case::{Beside, Entry, Event, Status, WorkId, advance};
use suspect_core::evidence::Tried;
use suspect_core::knowledge::{FixId, Knowledge, TryResult};
use suspect_store::think;

struct ResultRow {
    n: usize,
    value: &'static str,
    words: String,
}

/// What proves a fix with one clean print.
#[derive(Default)]
struct Sooner {
    /// The check that told of the cause: name and address of its page.
    check: Option<Link>,
    /// The fix changed a value that can be put back for a print.
    value: bool,
}

impl Sooner {
    /// What may be offered while the fix is not proven.
    fn of(k: &Knowledge, case: &OpenCase) -> Self {
        if case.state.strikes.is_none() || case.state.proven() {
            return Self::default();
        }
        let check = case.state.telling_check(k).map(|(check, _)| Link {
            href: urls::handbook_check(k.check_name(check)),
            name: k.check(check).work.name.clone(),
        });
        Self {
            check,
            value: case.state.changed_a_value(),
        }
    }

    fn any(&self) -> bool {
        self.check.is_some() || self.value
    }
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
    struck: StruckForm,
    struck_words: String,
    so_far: Option<String>,
    /// What prints since the fix that showed the fault say.
    rarer: Option<String>,
    missing: Option<String>,
    other_proofs: Option<&'static str>,
    /// What proves it sooner: a check to repeat, a value to put back.
    sooner: Sooner,
    /// Which prints count.
    reaches: Option<&'static str>,
    hours: String,
    minutes: String,
    grams: String,
    errors: Errors,
}

/// The page of the fix that waits for its proof.
pub(super) fn page(
    state: &AppState,
    case: &OpenCase,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let id = pending(case)?;
    let fix = k.fix(id);
    let proving = case.state.proving();
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
        fix: applied(k, case, id),
        verify: fix.verify.clone(),
        look_for: look_for(k, &case.state.facts, id),
        takes: proof_takes(fix),
        waiting: show::minutes(fix.verify_waiting),
        wait: show::number(fix.verify_waiting),
        timer: waits.find(|t| t.work == WorkId::Proof),
        parts_out: parts.map(|(_, part)| part.clone()).collect(),
        may_bring: may_bring(k, fix),
        struck: StruckForm::of(case, fields, &errors),
        struck_words: proving::struck(&case.state.struck()),
        so_far: proving.as_ref().and_then(proving::so_far),
        rarer: proving::rarer(&case.state),
        missing: proving.as_ref().and_then(proving::missing),
        other_proofs: proving
            .filter(|p| p.too_many)
            .map(|_| proving::OTHER_PROOFS),
        sooner: Sooner::of(k, case),
        reaches: case.state.strikes.map(|s| proving::reaches(s.shows)),
        hours: given("hours").unwrap_or_default(),
        results: TryResult::ALL.iter().enumerate().map(row).collect(),
        minutes: given("minutes").unwrap_or_else(|| show::number(fix.proof().0)),
        grams: given("grams").unwrap_or_else(|| show::number(fix.proof().2)),
        errors,
    };
    Ok(page.render()?)
}

/// What was applied: the fix by name, and those applied together with it.
fn applied(k: &Knowledge, case: &OpenCase, fix: FixId) -> String {
    let proof = case.state.proof.as_ref().filter(|p| p.fix == Some(fix));
    let together = proof.map(|p| p.together).unwrap_or_default();
    let tried = Tried {
        together,
        ..Tried::of(fix, TryResult::Same)
    };
    outcome::tried_names(k, &tried)
}

/// The fix that waits for its proof, or whose prints are still counted.
fn pending(case: &OpenCase) -> Result<FixId, PageError> {
    match case.state.status {
        Status::Verifying(fix) | Status::Cured(Some(fix)) => Ok(fix),
        _ => case.state.weakened_by().ok_or_else(|| PageError::Refused {
            message: "No fix is waiting for its proof.".into(),
            back: case.href(),
        }),
    }
}

/// `GET /cases/{id}/verify`
pub async fn show(State(state): State<AppState>, case: OpenCase) -> Page {
    locked::may_run(&state.knowledge, &case)?;
    let html = page(&state, &case, &Fields::default(), Errors::new())?;
    Ok(Html(html))
}

/// `POST /cases/{id}/verify`
pub async fn record(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    let usual = pending(&case).map(|fix| state.knowledge.fix(fix).proof());
    let (usual_minutes, _, usual_grams) = usual.unwrap_or_default();
    let minutes = amount(&fields, "minutes", usual_minutes, &mut errors);
    let grams = amount(&fields, "grams", usual_grams, &mut errors);
    let hours = fields.given("hours").is_some();
    let hours = hours.then(|| amount(&fields, "hours", 0.0, &mut errors));
    match TryResult::from_id(fields.get("result")) {
        None => {
            errors.insert("result".into(), "Choose what came of it.".into());
        }
        Some(result) if errors.is_empty() => {
            let event = Event::Printed {
                result,
                minutes,
                grams,
                hours,
            };
            let then = then(&state, &case, &event).await;
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
    Ok(again(page(&state, &case, &fields, errors)?))
}

/// `POST /cases/{id}/beside`: what proves the fix beside clean prints was seen.
pub async fn beside(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let Some(how) = Beside::from_id(fields.get("how")) else {
        return Err(PageError::NotAForm);
    };
    let event = Event::Beside { how };
    let then = then(&state, &case, &event).await;
    let form = case.form(&state, &fields, "beside");
    form.record_or_explain(&[event], then).await
}

/// Where a print leads: to the closing once it proves the fix, to the case otherwise.
async fn then(state: &AppState, case: &OpenCase, event: &Event) -> String {
    let mut log = case.log.clone();
    log.push(Entry {
        seq: case.state.last_seq + 1,
        at: state.now(),
        by: None,
        event: event.clone(),
    });
    let proven = think(|| advance(&state.knowledge, &case.state, &log).proven()).await;
    match proven {
        true => case.below("close"),
        false => case.href(),
    }
}
