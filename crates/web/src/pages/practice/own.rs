//! What belongs to whoever practises: everything as a file, and its deletion.

use super::owner;
use crate::form::Fields;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::urls;
use askama::Template;
use axum::extract::State;
use axum::http::header;
use axum::response::{Html, IntoResponse, Redirect};
use serde_json::json;
use time::format_description::well_known::Rfc3339;

/// `GET /practice/kept.json`
pub async fn file(State(state): State<AppState>) -> Answer {
    let (owner, store) = (owner(), &state.store);
    let mut cases = Vec::new();
    for row in store.practice_cases(&owner).await? {
        let (_, acts) = store.practice_case(&owner, row.id).await?;
        let over = row.ended.is_some();
        cases.push(json!({
            "level": row.level,
            "begun": row.begun_at.format(&Rfc3339).ok(),
            "ended": row.ended,
            "passed": row.passed,
            "result": row.result,
            // Who acts in a case that goes on is told by no file.
            "drawn": over.then_some(row.drawn),
            "done": acts.iter().map(|a| json!({
                "act": a.act,
                "judged": over.then_some(&a.judged),
            })).collect::<Vec<_>>(),
        }));
    }
    let cards = store.practice_cards(&owner).await?;
    let cards = cards.iter().map(|c| {
        json!({
            "card": c.card,
            "due": c.due_at.format(&Rfc3339).ok(),
            "answered": c.turns,
            "wrong": c.wrong,
        })
    });
    let kept = json!({
        "format": "usual-suspect-practice/1",
        "cases": cases,
        "cards": cards.collect::<Vec<_>>(),
    });
    let text = serde_json::to_string_pretty(&kept).unwrap_or_default() + "\n";
    let headers = [
        (header::CONTENT_TYPE, "application/json"),
        (
            header::CONTENT_DISPOSITION,
            "attachment; filename=\"practice.json\"",
        ),
    ];
    Ok((headers, text).into_response())
}

#[derive(Template)]
#[template(path = "practice/forget.html")]
struct ForgetPage {
    cases: usize,
    cards: usize,
    error: Option<String>,
}

async fn page(state: &AppState, error: Option<String>) -> Page {
    let page = ForgetPage {
        cases: state.store.practice_cases(&owner()).await?.len(),
        cards: state.store.practice_cards(&owner()).await?.len(),
        error,
    };
    Ok(Html(page.render()?))
}

/// `GET /practice/forget`
pub async fn ask(State(state): State<AppState>) -> Page {
    page(&state, None).await
}

/// `POST /practice/forget`
pub async fn forget(State(state): State<AppState>, fields: Fields) -> Answer {
    if fields.get("sure") != "yes" {
        let words = "Tick it first: what is deleted is gone.".to_string();
        let Html(html) = page(&state, Some(words)).await?;
        return Ok(crate::pages::again(html));
    }
    state.store.forget_practice(&owner()).await?;
    Ok(Redirect::to(urls::PRACTICE).into_response())
}
