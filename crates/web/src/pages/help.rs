//! A case as a helper elsewhere sees it by a link, the suggestions helpers leave, and what becomes of them.

use super::brief::{Brief, brief};
use super::pictures::jpeg;
use super::recording::record_or_explain;
use super::{Choice, Link, Opened, Page, opened};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use std::collections::BTreeMap;
use suspect_core::case::Event;
use suspect_store::{Stamp, StoreError};

/// `POST /cases/{id}/weigh`: a suggestion is taken up or laid aside.
pub async fn weigh(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let event = Event::Weighed {
        suggestion: fields.get("suggestion").parse().unwrap_or(0),
        taken: fields.get("taken") == "yes",
    };
    record_or_explain(
        &state,
        &case,
        &fields,
        &urls::in_case(case.id, "weigh"),
        &[event],
        urls::case(case.id),
    )
    .await
}

#[derive(Template)]
#[template(path = "help.html")]
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
async fn by_link(state: &AppState, token: &str) -> Result<Opened, PageError> {
    let case = state
        .store
        .case_of_help_link(token)
        .await
        .map_err(|e| match e {
            StoreError::NotFound => PageError::NoSuchLink,
            other => other.into(),
        })?;
    opened(state, &case.to_string()).await
}

async fn page(
    state: &AppState,
    case: &Opened,
    token: &str,
    fields: &Fields,
    error: Option<String>,
    thanked: bool,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let analysis = case.analysis(state).await;
    let mut brief = brief(state, case, &analysis);
    for picture in &mut brief.pictures {
        let own = urls::in_case(case.id, "pictures");
        picture.href = format!(
            "{}/full.jpg",
            picture
                .href
                .replace(&own, &format!("{}/pictures", urls::help(token)))
        );
        picture.small = picture
            .small
            .replace(&own, &format!("{}/pictures", urls::help(token)));
    }
    let mut causes: Vec<Choice> = k
        .causes
        .iter()
        .map(|c| Choice {
            value: c.id.clone(),
            label: c.name.clone(),
            chosen: fields.get("cause") == c.id,
        })
        .collect();
    causes.sort_by(|a, b| a.label.cmp(&b.label));
    let check = |c: &suspect_core::knowledge::Check| {
        let id = &k.finding(c.finding).id;
        Choice {
            value: id.clone(),
            label: c.work.name.clone(),
            chosen: fields.get("check") == id,
        }
    };
    let mut checks: Vec<Choice> = k.checks.iter().map(check).collect();
    checks.sort_by(|a, b| a.label.cmp(&b.label));
    let view = HelpPage {
        brief,
        action: format!("{}/suggest", urls::help(token)),
        causes,
        checks,
        by: fields.get("by").into(),
        text: fields.get("text").into(),
        error,
        thanked,
        closed: case.state.resolved(),
        seq: if fields.is_empty() {
            case.state.last_seq
        } else {
            fields.seq()
        },
    };
    Ok(view.render()?)
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
) -> Result<Response, PageError> {
    let case = by_link(&state, &token).await?;
    jpeg(&state, &case, &picture, &size).await
}

/// `POST /help/{token}/suggest`: hearsay, until somebody at the machine takes it up.
pub async fn suggest(
    State(state): State<AppState>,
    Path(token): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = by_link(&state, &token).await?;
    let event = Event::Suggested {
        by: fields.get("by").to_string(),
        cause: fields.given("cause").map(str::to_string),
        check: fields.given("check").map(str::to_string),
        text: fields.get("text").to_string(),
    };
    // The number the page was made for: of two that come at once each counts, a double click once.
    let seq = fields
        .sent("seq")
        .map_or(case.state.last_seq, |_| fields.seq());
    let stamp = Stamp {
        // Whoever has a link says who they are in the form itself.
        by: None,
        ..fields.stamp(state.now())
    };
    let stored = state
        .store
        .append(&state.knowledge, case.id, seq, &[event], stamp)
        .await;
    let message = match stored {
        Ok(_) => {
            return Ok(Redirect::to(&format!("{}?thanks=1", urls::help(&token))).into_response());
        }
        Err(StoreError::Refused(refusal)) => match refusal {
            suspect_core::case::Refusal::Invalid { field, .. } if field == "by" => {
                "Say who you are in 1 to 60 characters, so that they know whom to ask back.".into()
            }
            other => show::sentence(&other.to_string()),
        },
        Err(StoreError::Conflict { .. }) => {
            "The case moved on this very moment: send it again.".into()
        }
        Err(e) => return Err(e.into()),
    };
    let html = page(&state, &case, &token, &fields, Some(message), false).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
}

/// A suggestion as the case page shows it.
pub struct Hearsay {
    pub seq: u32,
    pub by: String,
    pub cause: Option<Link>,
    pub check: Option<Link>,
    pub text: String,
    pub taken: Option<bool>,
}

/// Suggestions, those that wait for an answer first.
pub fn hearsay(state: &AppState, case: &Opened) -> Vec<Hearsay> {
    let k = &state.knowledge;
    let row = |s: &suspect_core::case::Suggestion| Hearsay {
        seq: s.seq,
        by: s.by.clone(),
        cause: s
            .cause
            .as_deref()
            .and_then(|c| k.cause_id(c))
            .map(|c| Link {
                href: urls::case_suspect(case.id, &k.cause(c).id),
                name: k.cause(c).name.clone(),
            }),
        check: s
            .check
            .as_deref()
            .and_then(|c| k.check_id(c))
            .map(|c| Link {
                href: urls::in_case(case.id, &format!("check/{}", k.check_name(c))),
                name: k.check(c).work.name.clone(),
            }),
        text: s.text.clone(),
        taken: s.taken,
    };
    let mut rows: Vec<Hearsay> = case.state.suggestions.iter().map(row).collect();
    rows.sort_by_key(|r| r.taken.is_some());
    rows
}
