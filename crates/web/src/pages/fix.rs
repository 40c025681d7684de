//! A fix: one change, then its proof by printing.

use super::check::asked_step;
use super::guide::{GuideView, TimerView, guide, timers};
use super::recording::{Recorded, record as append, result_words};
use super::work::{self, WorkView};
use super::{Opened, Page, opened};
use crate::form::{Errors, Fields, not_shown};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use std::collections::BTreeMap;
use suspect_core::case::{Event, Status};
use suspect_core::doing;
use suspect_core::knowledge::{Fix, FixId, FixKind, TryResult};
use suspect_core::ranking::rank;
use suspect_store::think;

struct Mends {
    name: String,
    href: String,
    chance: String,
}

/// A rung of the ladder: easy way, involved way, work-around.
struct RungView {
    name: String,
    href: String,
    reason: String,
    here: bool,
    tried: bool,
}

#[derive(Template)]
#[template(path = "fix.html")]
struct FixPage {
    place: &'static str,
    label: String,
    title: String,
    case_href: String,
    action: String,
    aside_action: String,
    seq: u32,
    kind: &'static str,
    work: WorkView,
    guide: GuideView,
    mends: Vec<Mends>,
    ladder_of: String,
    ladder: Vec<RungView>,
    may_bring: Vec<String>,
    verify: String,
    verify_takes: String,
    look_for: Vec<String>,
    warranty: String,
    school: String,
    changes: String,
    before: String,
    after: String,
    minutes: String,
    money: String,
    errors: Errors,
    /// Messages about fields this page does not show.
    elsewhere: Vec<String>,
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
    look_for: Vec<String>,
    waiting: String,
    wait: String,
    timer: Option<TimerView>,
    timer_action: String,
    parts_out: Vec<String>,
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
    fix.may_bring
        .iter()
        .map(|f| state.knowledge.finding(*f).plain.clone())
        .collect()
}

fn page(
    state: &AppState,
    case: &Opened,
    id: FixId,
    step: usize,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let fix = state.knowledge.fix(id);
    let (ladder_of, ladder) = ladder(state, case, id);
    let work_id = format!("fix/{}", fix.id);
    let work = work::view(state, &case.state.facts, &fix.work);
    let mends = fix.cures.iter().map(|(c, p)| {
        let cause = state.knowledge.cause(*c);
        Mends {
            name: cause.name.clone(),
            href: urls::suspect(&cause.id),
            chance: show::percent(*p),
        }
    });
    let page = FixPage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        action: urls::in_case(case.id, &format!("fix/{}", fix.id)),
        seq: if fields.is_empty() {
            case.state.last_seq
        } else {
            fields.seq()
        },
        aside_action: urls::in_case(case.id, "aside"),
        kind: kind_words(fix.kind),
        guide: guide(state, case, &work_id, &fix.work, step),
        ladder_of,
        ladder,
        verify_takes: format!(
            "{}, {}",
            show::minutes(fix.verify_minutes + fix.verify_waiting),
            show::grams(fix.verify_grams)
        ),
        look_for: look_for_words(state, case, id),
        before: fields
            .given("before")
            .map_or_else(|| value_now(case, &fix.changes), str::to_string),
        after: fields.get("after").to_string(),
        changes: fix.changes.clone(),
        mends: mends.collect(),
        may_bring: may_bring(state, fix),
        verify: fix.verify.clone(),
        warranty: fix.warranty.clone(),
        school: fix.school.clone(),
        minutes: fields
            .given("minutes")
            .map_or_else(|| show::number(work.minutes), str::to_string),
        money: fields
            .given("money")
            .map_or_else(|| show::number(work.money), str::to_string),
        work,
        elsewhere: not_shown(&errors, |f| {
            ["minutes", "money"].contains(&f)
                || (!fix.changes.is_empty() && ["before", "after"].contains(&f))
        }),
        errors,
        tried: case.state.facts.tried.iter().any(|t| t.fix == id),
    };
    Ok(page.render()?)
}

/// The value a fix is about to change, where the case knows it as a number.
fn value_now(case: &Opened, changes: &str) -> String {
    let known = case
        .state
        .facts
        .settings
        .known()
        .find(|(n, _)| n.plain == changes);
    known.map_or_else(String::new, |(n, v)| {
        format!("{} {}", show::number(v), n.unit)
            .trim_end()
            .to_string()
    })
}

/// The ways to mend the likeliest suspect that this fix mends.
fn ladder(state: &AppState, case: &Opened, fix: FixId) -> (String, Vec<RungView>) {
    let k = &state.knowledge;
    let Some((cause, rungs)) =
        doing::ladder(k, &case.state.facts, &rank(k, &case.state.facts), fix)
    else {
        return (String::new(), Vec::new());
    };
    let view = |r: doing::Rung| RungView {
        name: k.fix(r.fix).work.name.clone(),
        href: urls::in_case(case.id, &format!("fix/{}", k.fix(r.fix).id)),
        reason: r.reason,
        here: r.fix == fix,
        tried: r.tried,
    };
    (
        show::lower_first(&k.cause(cause).name),
        rungs.into_iter().map(view).collect(),
    )
}

/// What to look at on the print that proves a fix.
fn look_for_words(state: &AppState, case: &Opened, fix: FixId) -> Vec<String> {
    let k = &state.knowledge;
    let facts = &case.state.facts;
    doing::look_for(k, facts, fix)
        .into_iter()
        .map(|f| facts.findings[&f].answer.phrase(k, f))
        .collect()
}

/// `GET /cases/{id}/fix/{fix}?step=…`
pub async fn show(
    State(state): State<AppState>,
    Path((id, fix)): Path<(String, String)>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let case = opened(&state, &id).await?;
    let fix = find(&state, &fix)?;
    if let Some(stop) = super::check::locked_for_fixes(&state, &case) {
        return Err(stop);
    }
    let step = asked_step(&query);
    let draw = || page(&state, &case, fix, step, &Fields::default(), Errors::new());
    Ok(Html(think(draw).await?))
}

/// Reads amounts; what is no number goes to `errors`.
fn amount(fields: &Fields, name: &str, usual: f64, errors: &mut Errors) -> f64 {
    fields.number(name, usual).unwrap_or_else(|e| {
        errors.insert(name.into(), show::sentence(&e));
        usual
    })
}

/// `POST /cases/{id}/fix/{fix}`
pub async fn record(
    State(state): State<AppState>,
    Path((id, fix)): Path<(String, String)>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let id = find(&state, &fix)?;
    let work = &state.knowledge.fix(id).work;
    let mut errors = Errors::new();
    let minutes = amount(&fields, "minutes", work.minutes, &mut errors);
    let money = amount(&fields, "money", work.money, &mut errors);
    if errors.is_empty() {
        let given = |name: &str| fields.given(name).map(str::to_string);
        let event = Event::Fixed {
            fix: fix.clone(),
            minutes,
            money,
            before: given("before"),
            after: given("after"),
        };
        let action = urls::in_case(case.id, &format!("fix/{fix}"));
        match append(
            &state,
            &case,
            &fields,
            &action,
            &[event],
            urls::in_case(case.id, "verify"),
        )
        .await?
        {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(field, message);
            }
        }
    }
    let html = think(|| page(&state, &case, id, 0, &fields, errors)).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
}

fn verify_page(
    state: &AppState,
    case: &Opened,
    id: FixId,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let fix = state.knowledge.fix(id);
    let page = VerifyPage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        action: urls::in_case(case.id, "verify"),
        seq: if fields.is_empty() {
            case.state.last_seq
        } else {
            fields.seq()
        },
        fix: fix.work.name.clone(),
        verify: fix.verify.clone(),
        look_for: look_for_words(state, case, id),
        waiting: show::minutes(fix.verify_waiting),
        wait: show::number(fix.verify_waiting),
        timer: timers(state, case)
            .into_iter()
            .find(|t| t.href == urls::in_case(case.id, "verify")),
        timer_action: urls::in_case(case.id, "timer"),
        parts_out: case
            .state
            .parts_out
            .iter()
            .map(|(_, part)| part.clone())
            .collect(),
        may_bring: may_bring(state, fix),
        results: TryResult::ALL
            .iter()
            .enumerate()
            .map(|(n, r)| ResultRow {
                n: n + 1,
                value: r.id(),
                words: show::capital(result_words(*r)),
            })
            .collect(),
        minutes: fields
            .given("minutes")
            .map_or_else(|| show::number(fix.verify_minutes), str::to_string),
        grams: fields
            .given("grams")
            .map_or_else(|| show::number(fix.verify_grams), str::to_string),
        errors,
    };
    Ok(page.render()?)
}

fn pending(case: &Opened) -> Result<FixId, PageError> {
    match case.state.status {
        Status::Verifying(fix) => Ok(fix),
        _ => Err(PageError::Refused {
            message: "No fix is waiting for its proof.".into(),
            back: urls::case(case.id),
        }),
    }
}

/// `GET /cases/{id}/verify`
pub async fn verify(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let case = opened(&state, &id).await?;
    if let Some(stop) = super::check::locked_for_fixes(&state, &case) {
        return Err(stop);
    }
    let fix = pending(&case)?;
    Ok(Html(verify_page(
        &state,
        &case,
        fix,
        &Fields::default(),
        Errors::new(),
    )?))
}

/// `POST /cases/{id}/verify`
pub async fn printed(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let mut errors = Errors::new();
    let (usual_minutes, usual_grams) = match case.state.status {
        Status::Verifying(fix) => (
            state.knowledge.fix(fix).verify_minutes,
            state.knowledge.fix(fix).verify_grams,
        ),
        _ => (0.0, 0.0),
    };
    let minutes = amount(&fields, "minutes", usual_minutes, &mut errors);
    let grams = amount(&fields, "grams", usual_grams, &mut errors);
    let result = TryResult::from_id(fields.get("result"));
    if result.is_none() {
        errors.insert("result".into(), "Choose what came of it.".into());
    }
    if let (Some(result), true) = (result, errors.is_empty()) {
        let then = if result == TryResult::Cured {
            urls::in_case(case.id, "close")
        } else {
            urls::case(case.id)
        };
        let event = Event::Printed {
            result,
            minutes,
            grams,
        };
        match append(
            &state,
            &case,
            &fields,
            &urls::in_case(case.id, "verify"),
            &[event],
            then,
        )
        .await?
        {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(field, message);
            }
        }
    }
    let fix = pending(&case)?;
    Ok((
        StatusCode::UNPROCESSABLE_ENTITY,
        Html(verify_page(&state, &case, fix, &fields, errors)?),
    )
        .into_response())
}

/// The kind of a fix in words.
pub fn kind_words(kind: FixKind) -> &'static str {
    match kind {
        FixKind::Easy => "easy fix",
        FixKind::Involved => "involved fix",
        FixKind::WorkAround => "work-around",
    }
}
