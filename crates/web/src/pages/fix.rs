//! A fix: one change, then its proof by printing.

use super::recording::{Recorded, record as append, result_words};
use super::work::{self, WorkView};
use super::{Opened, Page, opened};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use suspect_core::case::{Event, Status};
use suspect_core::knowledge::{Fix, FixId, FixKind, TryResult};

struct Mends {
    name: String,
    href: String,
    chance: String,
}

#[derive(Template)]
#[template(path = "fix.html")]
struct FixPage {
    place: &'static str,
    label: String,
    title: String,
    case_href: String,
    action: String,
    seq: u32,
    kind: &'static str,
    work: WorkView,
    mends: Vec<Mends>,
    may_bring: Vec<String>,
    verify: String,
    warranty: String,
    school: String,
    minutes: String,
    money: String,
    errors: Errors,
    tried: bool,
}

struct ResultRow {
    n: usize,
    value: &'static str,
    words: String,
}

#[derive(Template)]
#[template(path = "verify.html")]
struct VerifyPage {
    place: &'static str,
    label: String,
    title: String,
    case_href: String,
    action: String,
    seq: u32,
    fix: String,
    verify: String,
    may_bring: Vec<String>,
    results: Vec<ResultRow>,
    minutes: String,
    grams: String,
    errors: Errors,
}

fn find(state: &AppState, id: &str) -> Result<FixId, PageError> {
    state.knowledge.fix_id(id).ok_or(PageError::NotFound("fix"))
}

fn may_bring(state: &AppState, fix: &Fix) -> Vec<String> {
    fix.may_bring.iter().map(|f| state.knowledge.finding(*f).plain.clone()).collect()
}

fn page(state: &AppState, case: &Opened, id: FixId, fields: &Fields, errors: Errors) -> Result<String, PageError> {
    let fix = state.knowledge.fix(id);
    let work = work::view(state, &case.state.facts, &fix.work);
    let mends = fix.cures.iter().map(|(c, p)| {
        let cause = state.knowledge.cause(*c);
        Mends { name: cause.name.clone(), href: urls::suspect(&cause.id), chance: show::percent(*p) }
    });
    let page = FixPage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        action: urls::in_case(case.id, &format!("fix/{}", fix.id)),
        seq: if fields.0.is_empty() { case.state.last_seq } else { fields.seq() },
        kind: kind_words(fix.kind),
        mends: mends.collect(),
        may_bring: may_bring(state, fix),
        verify: fix.verify.clone(),
        warranty: fix.warranty.clone(),
        school: fix.school.clone(),
        minutes: fields.given("minutes").map_or_else(|| show::number(work.minutes), str::to_string),
        money: fields.given("money").map_or_else(|| show::number(work.money), str::to_string),
        work,
        errors,
        tried: case.state.facts.tried.iter().any(|t| t.fix == id),
    };
    Ok(page.render()?)
}

/// `GET /cases/{id}/fix/{fix}`
pub async fn show(State(state): State<AppState>, Path((id, fix)): Path<(String, String)>) -> Page {
    let case = opened(&state, &id).await?;
    let fix = find(&state, &fix)?;
    if let Some(stop) = super::check::locked_for_fixes(&state, &case) {
        return Err(stop);
    }
    Ok(Html(page(&state, &case, fix, &Fields::default(), Errors::new())?))
}

/// Reads amounts; what is no number goes to `errors`.
fn amount(fields: &Fields, name: &str, usual: f64, errors: &mut Errors) -> f64 {
    fields.number(name, usual).unwrap_or_else(|e| {
        errors.insert(name.into(), show::sentence(&e));
        usual
    })
}

/// `POST /cases/{id}/fix/{fix}`
pub async fn record(State(state): State<AppState>, Path((id, fix)): Path<(String, String)>, fields: Fields) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let id = find(&state, &fix)?;
    let work = &state.knowledge.fix(id).work;
    let mut errors = Errors::new();
    let minutes = amount(&fields, "minutes", work.minutes, &mut errors);
    let money = amount(&fields, "money", work.money, &mut errors);
    if errors.is_empty() {
        let event = Event::Fixed { fix: fix.clone(), minutes, money };
        let action = urls::in_case(case.id, &format!("fix/{fix}"));
        match append(&state, &case, &fields, &action, &[event], urls::in_case(case.id, "verify")).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(field, message);
            }
        }
    }
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(page(&state, &case, id, &fields, errors)?)).into_response())
}

fn verify_page(state: &AppState, case: &Opened, id: FixId, fields: &Fields, errors: Errors) -> Result<String, PageError> {
    let fix = state.knowledge.fix(id);
    let page = VerifyPage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        action: urls::in_case(case.id, "verify"),
        seq: if fields.0.is_empty() { case.state.last_seq } else { fields.seq() },
        fix: fix.work.name.clone(),
        verify: fix.verify.clone(),
        may_bring: may_bring(state, fix),
        results: TryResult::ALL
            .iter()
            .enumerate()
            .map(|(n, r)| ResultRow { n: n + 1, value: r.id(), words: show::capital(result_words(*r)) })
            .collect(),
        minutes: fields.given("minutes").map_or_else(|| show::number(fix.verify_minutes), str::to_string),
        grams: fields.given("grams").map_or_else(|| show::number(fix.verify_grams), str::to_string),
        errors,
    };
    Ok(page.render()?)
}

fn pending(case: &Opened) -> Result<FixId, PageError> {
    match case.state.status {
        Status::Verifying(fix) => Ok(fix),
        _ => Err(PageError::Refused { message: "No fix is waiting for its proof.".into(), back: urls::case(case.id) }),
    }
}

/// `GET /cases/{id}/verify`
pub async fn verify(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let case = opened(&state, &id).await?;
    if let Some(stop) = super::check::locked_for_fixes(&state, &case) {
        return Err(stop);
    }
    let fix = pending(&case)?;
    Ok(Html(verify_page(&state, &case, fix, &Fields::default(), Errors::new())?))
}

/// `POST /cases/{id}/verify`
pub async fn printed(State(state): State<AppState>, Path(id): Path<String>, fields: Fields) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let mut errors = Errors::new();
    let (usual_minutes, usual_grams) = match case.state.status {
        Status::Verifying(fix) => (state.knowledge.fix(fix).verify_minutes, state.knowledge.fix(fix).verify_grams),
        _ => (0.0, 0.0),
    };
    let minutes = amount(&fields, "minutes", usual_minutes, &mut errors);
    let grams = amount(&fields, "grams", usual_grams, &mut errors);
    let result = TryResult::from_id(fields.get("result"));
    if result.is_none() {
        errors.insert("result".into(), "Choose what came of it.".into());
    }
    if let (Some(result), true) = (result, errors.is_empty()) {
        let then = if result == TryResult::Cured { urls::in_case(case.id, "close") } else { urls::case(case.id) };
        let event = Event::Printed { result, minutes, grams };
        match append(&state, &case, &fields, &urls::in_case(case.id, "verify"), &[event], then).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(field, message);
            }
        }
    }
    let fix = pending(&case)?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(verify_page(&state, &case, fix, &fields, errors)?)).into_response())
}

/// The kind of a fix in words.
pub fn kind_words(kind: FixKind) -> &'static str {
    match kind {
        FixKind::Easy => "easy fix",
        FixKind::Involved => "involved fix",
        FixKind::WorkAround => "work-around",
    }
}
