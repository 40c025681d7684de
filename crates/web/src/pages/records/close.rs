//! Closing a case with what it was and what it cost.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::link::Choice;
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use crate::words::outcome;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::case::{Event, Outcome, Status};
use suspect_core::knowledge::TryResult;
use suspect_core::ranking::{CauseLine, LineUp, rank};
use suspect_store::think;

#[derive(Template)]
#[template(path = "records/close.html")]
struct ClosePage {
    head: CaseHead,
    outcomes: Vec<Choice>,
    causes: Vec<Choice>,
    fixes: Vec<Choice>,
    note: String,
    minutes: String,
    grams: String,
    money: String,
    errors: Errors,
}

/// What is chosen: by the person, else what the case itself suggests.
#[derive(Default)]
struct Chosen {
    outcome: String,
    cause: String,
    fix: String,
}

/// What the case suggests; the person decides. Without its proof it suggests no outcome.
fn suggested(state: &AppState, case: &OpenCase, line_up: &LineUp) -> Chosen {
    let k = &state.knowledge;
    let last = case.state.facts.tried.last();
    let helped = last.filter(|t| t.result != TryResult::Same && !t.came_undone);
    let (cured, fix) = match case.state.status {
        Status::Cured(fix) => (true, fix.or(helped.map(|t| t.fix))),
        _ => (false, helped.map(|t| t.fix)),
    };
    let mends = |x| line_up.causes.iter().find(|l| k.cure(x, l.cause) > 0.0);
    let cause = fix.and_then(mends).or(line_up.leader());
    let cause = cause.map(|l| k.cause(l.cause).id.clone());
    let fix = fix.map(|x| k.fix(x).id.clone()).unwrap_or_default();
    match cured {
        true => Chosen {
            outcome: Outcome::FixedAndVerified.id().into(),
            cause: cause.unwrap_or_default(),
            fix,
        },
        false => Chosen {
            fix,
            ..Chosen::default()
        },
    }
}

fn page(
    state: &AppState,
    case: &OpenCase,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let line_up = rank(k, &case.state.facts);
    let chosen = match fields.is_empty() {
        true => suggested(state, case, &line_up),
        false => Chosen {
            outcome: fields.get("outcome").into(),
            cause: fields.get("cause").into(),
            fix: fields.get("fix").into(),
        },
    };
    let proved = matches!(case.state.status, Status::Cured(_));
    let outcomes = Outcome::ALL.into_iter();
    let outcomes = outcomes
        .filter(|o| proved || *o != Outcome::FixedAndVerified)
        .map(|o| Choice {
            value: o.id().into(),
            label: show::capital(outcome::outcome(o)),
            chosen: o.id() == chosen.outcome,
        });
    let cause = |l: &CauseLine| {
        let c = k.cause(l.cause);
        Choice {
            value: c.id.clone(),
            label: format!("{} ({})", c.name, show::percent(l.probability)),
            chosen: c.id == chosen.cause,
        }
    };
    let page = ClosePage {
        head: case.head_again(fields),
        outcomes: outcomes.collect(),
        causes: line_up.causes.iter().map(cause).collect(),
        fixes: fix_choices(state, case, &chosen.fix),
        note: fields.get("note").into(),
        minutes: show::minutes(case.state.minutes),
        grams: show::grams(case.state.grams),
        money: show::number(case.state.money),
        errors,
    };
    Ok(page.render()?)
}

/// Fixes tried in the case first, then all others by name.
fn fix_choices(state: &AppState, case: &OpenCase, chosen: &str) -> Vec<Choice> {
    let mut all: Vec<_> = state.knowledge.fixes.iter().enumerate().collect();
    let tried = |x: usize| case.state.facts.tried.iter().any(|t| t.fix.at() == x);
    all.sort_by_key(|(x, fix)| (!tried(*x), &fix.work.name));
    let choice = |(_, fix): (usize, &suspect_core::knowledge::Fix)| Choice {
        value: fix.id.clone(),
        label: fix.work.name.clone(),
        chosen: fix.id == chosen,
    };
    all.into_iter().map(choice).collect()
}

/// `GET /cases/{id}/close`
pub async fn form(State(state): State<AppState>, case: OpenCase) -> Page {
    if case.state.resolved() {
        return Err(PageError::Refused {
            message: "This case is closed already.".into(),
            back: case.href(),
        });
    }
    let html = think(|| page(&state, &case, &Fields::default(), Errors::new())).await?;
    Ok(Html(html))
}

/// `POST /cases/{id}/close`
pub async fn close(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
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
            let form = case.form(&state, &fields, "close");
            match form.record(&[event], case.href()).await? {
                Recorded::Done(response) => return Ok(response),
                Recorded::Invalid { field, message } => {
                    errors.insert(field, message);
                }
            }
        }
    }
    let html = think(|| page(&state, &case, &fields, errors)).await?;
    Ok(again(html))
}
