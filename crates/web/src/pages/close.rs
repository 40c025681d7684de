//! Closing a case with what it was and what it cost; opening it again.

use super::recording::{Recorded, outcome_words, record, record_or_explain};
use super::{Choice, Opened, Page, opened};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use suspect_core::case::{Event, Outcome, Status};
use suspect_core::knowledge::TryResult;
use suspect_core::ranking::rank;
use suspect_store::think;

#[derive(Template)]
#[template(path = "close.html")]
struct ClosePage {
    place: &'static str,
    label: String,
    title: String,
    case_href: String,
    action: String,
    seq: u32,
    outcomes: Vec<Choice>,
    causes: Vec<Choice>,
    fixes: Vec<Choice>,
    note: String,
    minutes: String,
    grams: String,
    money: String,
    errors: Errors,
}

fn page(
    state: &AppState,
    case: &Opened,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let line_up = rank(k, &case.state.facts);
    let fresh = fields.is_empty();
    // What the case itself suggests; the person decides.
    let cured = match case.state.status {
        Status::Cured(fix) => Some(fix),
        _ => None,
    };
    let last_fix = cured.flatten().or_else(|| {
        case.state
            .facts
            .tried
            .last()
            .filter(|t| t.result != TryResult::Same)
            .map(|t| t.fix)
    });
    let leader = line_up
        .leader()
        .map(|l| k.cause(l.cause).id.clone())
        .unwrap_or_default();
    let suggested = last_fix
        .and_then(|x| line_up.causes.iter().find(|l| k.cure(x, l.cause) > 0.0))
        .map(|l| k.cause(l.cause).id.clone())
        .unwrap_or(leader);
    let (outcome, cause, fix) = if fresh {
        let outcome = if cured.is_some() {
            Outcome::FixedAndVerified.id()
        } else {
            ""
        };
        (
            outcome.to_string(),
            if cured.is_some() {
                suggested
            } else {
                String::new()
            },
            last_fix.map(|x| k.fix(x).id.clone()).unwrap_or_default(),
        )
    } else {
        (
            fields.get("outcome").into(),
            fields.get("cause").into(),
            fields.get("fix").into(),
        )
    };
    let page = ClosePage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        action: urls::in_case(case.id, "close"),
        seq: if fresh {
            case.state.last_seq
        } else {
            fields.seq()
        },
        outcomes: Outcome::ALL
            .iter()
            // Without its proof "fixed and verified" cannot be chosen.
            .filter(|o| cured.is_some() || **o != Outcome::FixedAndVerified)
            .map(|o| Choice {
                value: o.id().into(),
                label: show::capital(outcome_words(o.id())),
                chosen: o.id() == outcome,
            })
            .collect(),
        causes: line_up
            .causes
            .iter()
            .map(|l| (k.cause(l.cause), l.probability))
            .map(|(c, p)| Choice {
                value: c.id.clone(),
                label: format!("{} ({})", c.name, show::percent(p)),
                chosen: c.id == cause,
            })
            .collect(),
        fixes: fix_choices(state, case, &fix),
        note: fields.get("note").into(),
        minutes: show::minutes(case.state.minutes),
        grams: show::grams(case.state.grams),
        money: show::number(case.state.money),
        errors,
    };
    Ok(page.render()?)
}

/// Fixes tried in the case first, then all others by name.
fn fix_choices(state: &AppState, case: &Opened, chosen: &str) -> Vec<Choice> {
    let k = &state.knowledge;
    let mut all: Vec<_> = k.fixes.iter().enumerate().collect();
    let tried = |x: usize| case.state.facts.tried.iter().any(|t| t.fix.at() == x);
    all.sort_by(|a, b| {
        tried(b.0)
            .cmp(&tried(a.0))
            .then(a.1.work.name.cmp(&b.1.work.name))
    });
    all.into_iter()
        .map(|(_, f)| Choice {
            value: f.id.clone(),
            label: f.work.name.clone(),
            chosen: f.id == chosen,
        })
        .collect()
}

/// `GET /cases/{id}/close`
pub async fn form(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let case = opened(&state, &id).await?;
    if case.state.resolved() {
        return Err(PageError::Refused {
            message: "This case is closed already.".into(),
            back: urls::case(case.id),
        });
    }
    let html = think(|| page(&state, &case, &Fields::default(), Errors::new())).await?;
    Ok(Html(html))
}

/// `POST /cases/{id}/close`
pub async fn close(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let mut errors = Errors::new();
    match Outcome::from_id(fields.get("outcome")) {
        None => {
            errors.insert("outcome".into(), "Say how it ended.".into());
        }
        Some(outcome) => {
            let named = |field: &str| fields.given(field).map(str::to_string);
            let event = Event::Resolved {
                outcome,
                // What never was has no cause.
                cause: named("cause").filter(|_| outcome != Outcome::OpenedByError),
                fix: named("fix").filter(|_| outcome != Outcome::OpenedByError),
                note: fields.get("note").to_string(),
            };
            match record(
                &state,
                &case,
                &fields,
                &urls::in_case(case.id, "close"),
                &[event],
                urls::case(case.id),
            )
            .await?
            {
                Recorded::Done(response) => return Ok(response),
                Recorded::Invalid { field, message } => {
                    errors.insert(field, message);
                }
            }
        }
    }
    let html = think(|| page(&state, &case, &fields, errors)).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
}

/// `POST /cases/{id}/reopen`
pub async fn reopen(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let event = Event::Reopened {
        reason: fields.get("reason").to_string(),
    };
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "reopen"),
        &[event],
        urls::case(case.id),
    )
    .await
}
