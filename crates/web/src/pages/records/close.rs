//! Closing a case with what it was and what it cost.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::link::Choice;
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use crate::words::{outcome, proving};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::case::{Event, Outcome, Status};
use suspect_core::knowledge::{FixId, Knowledge, TryResult};
use suspect_core::own::{own_id, own_name};
use suspect_core::ranking::{CauseLine, LineUp, rank};
use suspect_store::own_words::OwnWords;
use suspect_store::think;

#[derive(Template)]
#[template(path = "records/close.html")]
struct ClosePage {
    head: CaseHead,
    outcomes: Vec<Choice>,
    /// Who it most likely was, to be touched.
    likely: Vec<Choice>,
    /// Everybody else.
    causes: Vec<Choice>,
    cause_other: bool,
    cause_own: Option<String>,
    /// What was done in this case, to be touched.
    done: Vec<Choice>,
    /// All other fixes.
    fixes: Vec<Choice>,
    fix_other: bool,
    fix_own: Option<String>,
    /// What is missing for "improved", where the last fix made the fault weaker or rarer.
    hardly: Option<String>,
    /// What is missing for "fixed and verified", and whether how often it struck was not told.
    unproved: Option<(String, bool)>,
    own_suspects: Vec<String>,
    own_fixes: Vec<String>,
    note: String,
    minutes: String,
    grams: String,
    money: Option<String>,
    errors: Errors,
}

/// Suspects offered to be touched.
const LIKELY: usize = 3;
/// Says in a form that it is one of the long list, or something in own words.
const OTHER: &str = "other";
const OWN: &str = "own";

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
        Status::Cured(fix) => (case.state.proven(), fix.or(helped.map(|t| t.fix))),
        _ => (false, helped.map(|t| t.fix)),
    };
    let own_fix = case.state.own_fix.as_deref().map(own_id);
    let mends = |x| line_up.causes.iter().find(|l| k.cure(x, l.cause) > 0.0);
    let cause = fix.and_then(mends).or(line_up.leader());
    let cause = cause.map(|l| k.cause(l.cause).id.clone());
    let fix = fix.map(|x| k.fix(x).id.clone()).or(own_fix);
    let fix = fix.unwrap_or_default();
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
    own: &OwnWords,
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
    let (likely, causes) = cause_choices(k, &line_up, &chosen.cause);
    let (done, fixes) = fix_choices(state, case, &chosen.fix);
    let own_cause = own_words(&chosen.cause, fields, "cause_own");
    let own_fix = own_words(&chosen.fix, fields, "fix_own");
    let page = ClosePage {
        head: case.head_again(fields),
        outcomes: outcome_choices(case, &chosen.outcome),
        causes,
        likely,
        cause_other: chosen.cause == OTHER,
        cause_own: own_cause,
        done,
        fixes,
        fix_other: chosen.fix == OTHER,
        fix_own: own_fix,
        hardly: proving::not_improved(&case.state),
        unproved: unproved(case),
        own_suspects: own.suspects.clone(),
        own_fixes: own.fixes.clone(),
        note: fields.get("note").into(),
        minutes: show::minutes(case.state.minutes),
        grams: show::grams(case.state.grams),
        money: show::money(case.state.money, &case.workshop.currency),
        errors,
    };
    Ok(page.render()?)
}

/// Why "fixed and verified" is not offered, where a fix seems to have done it.
fn unproved(case: &OpenCase) -> Option<(String, bool)> {
    let proving = case.state.proving().filter(|p| p.prints > 0)?;
    let missing = proving::missing(&proving)?;
    match case.state.strikes {
        Some(_) => Some((missing, false)),
        None => Some(("Nobody said yet how often it struck.".into(), true)),
    }
}

/// How a case may end here. Joining has a page of its own: it asks with which case.
fn outcome_choices(case: &OpenCase, chosen: &str) -> Vec<Choice> {
    let (proved, improved) = (case.state.proven(), case.state.improved());
    let outcomes = Outcome::ALL.into_iter();
    outcomes
        .filter(|o| proved || *o != Outcome::FixedAndVerified)
        .filter(|o| improved || *o != Outcome::Improved)
        .filter(|o| *o != Outcome::Joined)
        .map(|o| Choice {
            value: o.id().into(),
            label: show::capital(outcome::outcome(o)),
            chosen: o.id() == chosen,
        })
        .collect()
}

/// The few it most likely was, the chosen one among them, and everybody else.
fn cause_choices(k: &Knowledge, line_up: &LineUp, chosen: &str) -> (Vec<Choice>, Vec<Choice>) {
    let cause = |l: &CauseLine| {
        let c = k.cause(l.cause);
        Choice {
            value: c.id.clone(),
            label: format!("{} ({})", c.name, show::percent(l.probability)),
            chosen: c.id == chosen,
        }
    };
    let all = line_up.causes.iter().map(cause).enumerate();
    let (likely, rest): (Vec<_>, Vec<_>) = all.partition(|(n, c)| *n < LIKELY || c.chosen);
    let bare = |of: Vec<(usize, Choice)>| of.into_iter().map(|(_, c)| c).collect();
    (bare(likely), bare(rest))
}

/// Own words that are chosen: what was typed, else what the case names so.
fn own_words(chosen: &str, fields: &Fields, field: &str) -> Option<String> {
    match (chosen, own_name(chosen)) {
        (OWN, _) => Some(fields.get(field).to_string()),
        (_, Some(name)) => Some(name.to_string()),
        _ => None,
    }
}

/// Fixes tried in the case, and all others by name.
fn fix_choices(state: &AppState, case: &OpenCase, chosen: &str) -> (Vec<Choice>, Vec<Choice>) {
    let mut all: Vec<_> = state.knowledge.fixes.iter().enumerate().collect();
    all.sort_by_key(|(_, fix)| &fix.work.name);
    let tried = |x: usize| {
        let mut tries = case.state.facts.tried.iter();
        tries.any(|t| t.tries(FixId(x as u16)))
    };
    let choice = |fix: &suspect_core::knowledge::Fix| Choice {
        value: fix.id.clone(),
        label: fix.work.name.clone(),
        chosen: fix.id == chosen,
    };
    let (done, rest): (Vec<_>, Vec<_>) = all
        .into_iter()
        .partition(|(x, fix)| tried(*x) || fix.id == chosen);
    let choices = |of: Vec<(usize, &suspect_core::knowledge::Fix)>| {
        of.into_iter().map(|(_, fix)| choice(fix)).collect()
    };
    (choices(done), choices(rest))
}

/// `GET /cases/{id}/close`
pub async fn form(State(state): State<AppState>, case: OpenCase) -> Page {
    if case.state.resolved() {
        return Err(PageError::Refused {
            message: "This case is closed already.".into(),
            back: case.href(),
        });
    }
    let own = state.store.own_words().await?;
    let html = think(|| page(&state, &case, &own, &Fields::default(), Errors::new())).await?;
    Ok(Html(html))
}

/// What a form names: one of the few, one of the long list, or something in own words.
fn named(fields: &Fields, field: &str) -> Option<String> {
    match fields.given(field)? {
        OTHER => fields.given(&format!("{field}_other")).map(str::to_string),
        OWN => Some(own_id(fields.get(&format!("{field}_own")))),
        id => Some(id.to_string()),
    }
}

/// `POST /cases/{id}/close`
pub async fn close(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    match Outcome::from_id(fields.get("outcome")) {
        None => {
            errors.insert("outcome".into(), "Say how it ended.".into());
        }
        Some(outcome) => {
            let event = Event::Resolved {
                outcome,
                // What never was has no cause.
                cause: named(&fields, "cause").filter(|_| outcome != Outcome::OpenedByError),
                fix: named(&fields, "fix").filter(|_| outcome != Outcome::OpenedByError),
                note: fields.get("note").to_string(),
            };
            let form = case.form(&state, &fields, "close");
            match form.record(&[event], case.href()).await? {
                Recorded::Done(response) => {
                    state.ask_to_rebuild();
                    return Ok(response);
                }
                Recorded::Invalid { field, message } => {
                    errors.insert(field, message);
                }
            }
        }
    }
    let own = state.store.own_words().await?;
    let html = think(|| page(&state, &case, &own, &fields, errors)).await?;
    Ok(again(html))
}
