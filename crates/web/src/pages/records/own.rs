//! What this workshop named in its own words, and what of it is known by another name by now.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::urls;
use askama::Template;
use axum::extract::State;
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::own::own_id;
use suspect_core::planning::Workshop;
use suspect_store::StoreError;

/// Something in own words with what it may be known as.
struct OwnRow {
    /// `own/…`, the name of its field.
    id: String,
    name: String,
    /// "3 times", where it was counted.
    many: String,
    known: Vec<Choice>,
}

#[derive(Template)]
#[template(path = "records/own.html")]
struct OwnPage {
    seq: u32,
    suspects: Vec<OwnRow>,
    fixes: Vec<OwnRow>,
    checks: Vec<(String, String)>,
}

/// `GET /records/own`
pub async fn show(State(state): State<AppState>) -> Page {
    let (workshop, seq) = state.workshop().await?;
    let words = state.store.own_words().await?;
    let counted = state.store.own_causes().await?;
    let k = &state.knowledge;
    let mut suspects = words.suspects.clone();
    suspects.extend(
        counted
            .keys()
            .filter(|c| !words.suspects.contains(c))
            .cloned(),
    );
    let causes = k.causes.iter().map(|c| (c.id.clone(), c.name.clone()));
    let causes: Vec<(String, String)> = causes.collect();
    let all = k.fixes.iter().map(|f| (f.id.clone(), f.work.name.clone()));
    let all: Vec<(String, String)> = all.collect();
    let page = OwnPage {
        seq,
        suspects: rows(&workshop, &suspects, &causes, &counted),
        fixes: rows(&workshop, &words.fixes, &all, &BTreeMap::new()),
        checks: words
            .checks
            .into_iter()
            .map(|(name, outcomes)| (name, outcomes.join("; ")))
            .collect(),
    };
    Ok(Html(page.render()?))
}

fn rows(
    workshop: &Workshop,
    names: &[String],
    known: &[(String, String)],
    counted: &BTreeMap<String, i64>,
) -> Vec<OwnRow> {
    let mut sorted = known.to_vec();
    sorted.sort_by(|a, b| a.1.cmp(&b.1));
    let row = |name: &String| {
        let id = own_id(name);
        let chosen = workshop.own_links.get(&id);
        let choice = |(value, label): &(String, String)| Choice {
            value: value.clone(),
            label: label.clone(),
            chosen: chosen == Some(value),
        };
        OwnRow {
            known: sorted.iter().map(choice).collect(),
            many: match counted.get(name) {
                None => String::new(),
                Some(1) => "once what it was".into(),
                Some(n) => format!("{n} times what it was"),
            },
            name: name.clone(),
            id,
        }
    };
    names.iter().map(row).collect()
}

/// `POST /records/own`
pub async fn link(State(state): State<AppState>, fields: Fields) -> Answer {
    let (now, _) = state.workshop().await?;
    let k = &state.knowledge;
    let mut workshop = now.clone();
    for (name, known) in fields.with_prefix("own/") {
        let id = own_id(name);
        match k.cause_id(known).is_some() || k.fix_id(known).is_some() {
            true => workshop.own_links.insert(id, known.to_string()),
            false => workshop.own_links.remove(&id),
        };
    }
    let stamp = fields.stamp(state.now());
    let stored = state.store.set_workshop(fields.seq(), &workshop, stamp);
    match stored.await {
        Ok(()) => Ok(Redirect::to(urls::OWN_WORDS).into_response()),
        Err(StoreError::Conflict { .. }) => Err(PageError::Refused {
            message: "Someone else changed the settings after you opened this page. Look at it \
                      again before you keep yours."
                .into(),
            back: urls::OWN_WORDS.into(),
        }),
        Err(other) => Err(other.into()),
    }
}
