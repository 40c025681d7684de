//! A case as a helper elsewhere sees it by a link.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::help::brief::{Brief, brief};
use crate::pages::open_case::OpenCase;
use crate::pages::parts::link::Choice;
use crate::pages::parts::pictures::{PictureCard, cards_below, jpeg};
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::urls;
use crate::words::refusal;
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::case::Event;
use suspect_core::knowledge::{Check, Knowledge};
use suspect_store::{Stamp, StoreError};

#[derive(Template)]
#[template(path = "help/by_link.html")]
struct HelpPage {
    brief: Brief,
    action: String,
    causes: Vec<Choice>,
    checks: Vec<Choice>,
    by: String,
    text: String,
    error: Option<String>,
    thanked: bool,
    closed: bool,
    seq: u32,
}

/// A case by its help link. A link that was guessed or revoked is simply not there.
async fn by_link(state: &AppState, token: &str) -> Result<OpenCase, PageError> {
    let case = state.store.case_of_help_link(token).await;
    let case = case.map_err(|e| match e {
        StoreError::NotFound => PageError::NoSuchLink,
        other => other.into(),
    })?;
    OpenCase::read(state, case).await
}

async fn page(
    state: &AppState,
    case: &OpenCase,
    token: &str,
    fields: &Fields,
    error: Option<String>,
    thanked: bool,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let analysis = case.analysis(state).await;
    let full = |card: PictureCard| PictureCard {
        href: format!("{}/full.jpg", card.href),
        small: format!("{}/full.jpg", card.href),
        ..card
    };
    // Whoever has a link sees pictures by that link alone.
    let below = format!("{}/pictures", urls::help(token));
    let pictures = cards_below(case, &below).into_iter().map(full).collect();
    let view = HelpPage {
        brief: Brief {
            pictures,
            ..brief(state, case, &analysis)
        },
        action: format!("{}/suggest", urls::help(token)),
        causes: causes(k, fields.get("cause")),
        checks: checks(k, fields.get("check")),
        by: fields.get("by").into(),
        text: fields.get("text").into(),
        error,
        thanked,
        closed: case.state.resolved(),
        seq: case.head_again(fields).seq,
    };
    Ok(view.render()?)
}

/// All causes by name.
fn causes(k: &Knowledge, chosen: &str) -> Vec<Choice> {
    let all = k.causes.iter().map(|c| Choice {
        value: c.id.clone(),
        label: c.name.clone(),
        chosen: chosen == c.id,
    });
    by_name(all)
}

/// All checks by name.
fn checks(k: &Knowledge, chosen: &str) -> Vec<Choice> {
    let choice = |c: &Check| {
        let id = &k.finding(c.finding).id;
        Choice {
            value: id.clone(),
            label: c.work.name.clone(),
            chosen: chosen == id,
        }
    };
    by_name(k.checks.iter().map(choice))
}

fn by_name(choices: impl Iterator<Item = Choice>) -> Vec<Choice> {
    let mut choices: Vec<Choice> = choices.collect();
    choices.sort_by(|a, b| a.label.cmp(&b.label));
    choices
}

/// `GET /help/{token}`
pub async fn show(
    State(state): State<AppState>,
    Path(token): Path<String>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let case = by_link(&state, &token).await?;
    let thanked = query.contains_key("thanks");
    let html = page(&state, &case, &token, &Fields::default(), None, thanked).await?;
    Ok(Html(html))
}

/// `GET /help/{token}/pictures/{picture}/{size}`: only pictures the case still shows.
pub async fn picture(
    State(state): State<AppState>,
    Path((token, picture, size)): Path<(String, String, String)>,
) -> Answer {
    let case = by_link(&state, &token).await?;
    jpeg(&state.store, &case, &picture, &size).await
}

/// `POST /help/{token}/suggest`: hearsay, until somebody at the machine takes it up.
pub async fn suggest(
    State(state): State<AppState>,
    Path(token): Path<String>,
    fields: Fields,
) -> Answer {
    let case = by_link(&state, &token).await?;
    let k = &state.knowledge;
    let event = Event::Suggested {
        by: fields.get("by").to_string(),
        cause: fields.given("cause").map(str::to_string),
        check: fields.given("check").map(str::to_string),
        text: fields.get("text").to_string(),
    };
    // The number the page was made for: of two that come at once each counts, a double click once.
    let sent = fields.sent("seq").map(|_| fields.seq());
    let seq = sent.unwrap_or(case.state.last_seq);
    let stamp = Stamp {
        // Whoever has a link says who they are in the form itself.
        by: None,
        ..fields.stamp(state.now())
    };
    let stored = state.store.append(k, case.id, seq, &[event], stamp).await;
    let message = match stored {
        Ok(_) => {
            let thanks = format!("{}?thanks=1", urls::help(&token));
            return Ok(Redirect::to(&thanks).into_response());
        }
        Err(StoreError::Refused(refused)) => refusal::refusal(k, &refused),
        Err(StoreError::Conflict { .. }) => {
            "The case moved on this very moment: send it again.".into()
        }
        Err(e) => return Err(e.into()),
    };
    let html = page(&state, &case, &token, &fields, Some(message), false).await?;
    Ok(again(html))
}
