//! Records: closed cases, by machine, cause and outcome; which fix resolved each.

use super::recording::outcome_words;
use super::{Choice, Page};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::case::Outcome;
use suspect_store::projection::RecordFilter;

/// Records on a page.
const PER_PAGE: u64 = 50;

struct RecordRow {
    href: String,
    label: String,
    title: String,
    machine: String,
    cause: String,
    fix: String,
    outcome: &'static str,
    outcome_id: String,
    cost: String,
    closed: String,
    stamp: String,
}

#[derive(Template)]
#[template(path = "records.html")]
struct RecordsPage {
    place: &'static str,
    rows: Vec<RecordRow>,
    total: u64,
    machines: Vec<Choice>,
    causes: Vec<Choice>,
    outcomes: Vec<Choice>,
    filtered: bool,
    earlier: Option<String>,
    later: Option<String>,
}

/// `GET /records?machine=…&cause=…&outcome=…&page=…`
pub async fn show(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let asked = |name: &str| {
        query
            .get(name)
            .map(String::as_str)
            .filter(|v| !v.is_empty())
    };
    // A filter of a mistyped link matches nothing rather than everything.
    let filter = RecordFilter {
        machine: asked("machine").map(|m| m.parse().unwrap_or_default()),
        cause: asked("cause").map(str::to_string),
        outcome: asked("outcome").map(str::to_string),
    };
    let page: u64 = asked("page")
        .and_then(|p| p.parse().ok())
        .unwrap_or(0)
        .min(100_000);
    let machines = state.store.machines().await?;
    let (cases, total) = state.store.records(&filter, page, PER_PAGE).await?;
    let causes = state.store.recorded_causes().await?;
    let cause_name = |id: &str| {
        k.cause_id(id)
            .map_or_else(|| id.to_string(), |c| k.cause(c).name.clone())
    };
    let rows = cases
        .into_iter()
        .map(|case| RecordRow {
            href: urls::case(case.id),
            label: show::case_label(case.number),
            machine: machines
                .iter()
                .find(|m| m.id == case.machine_id)
                .map_or_else(String::new, |m| m.name.clone()),
            cause: case
                .cause
                .as_deref()
                .map_or_else(|| "nobody named".into(), cause_name),
            fix: case
                .fix
                .as_deref()
                .and_then(|x| k.fix_id(x))
                .map_or_else(|| "–".into(), |x| k.fix(x).work.name.clone()),
            outcome: outcome_words(case.outcome.as_deref().unwrap_or("")),
            outcome_id: case.outcome.unwrap_or_default(),
            cost: format!(
                "{} · {}",
                show::minutes(case.minutes),
                show::grams(case.grams)
            ),
            closed: case.closed_at.map(show::date).unwrap_or_default(),
            stamp: case.closed_at.map(show::stamp).unwrap_or_default(),
            title: case.title,
        })
        .collect();
    let turn = |to: u64| {
        let keep = ["machine", "cause", "outcome"]
            .iter()
            .filter_map(|n| Some((*n, asked(n)?)));
        let query: String = form_urlencoded::Serializer::new(String::new())
            .extend_pairs(keep)
            .append_pair("page", &to.to_string())
            .finish();
        format!("{}?{query}", urls::RECORDS)
    };
    let page = RecordsPage {
        place: "records",
        rows,
        total,
        machines: machines
            .iter()
            .map(|m| Choice {
                value: m.id.to_string(),
                label: m.name.clone(),
                chosen: asked("machine") == Some(&m.id.to_string()),
            })
            .collect(),
        causes: causes
            .into_iter()
            .map(|(id, n)| Choice {
                label: format!("{} ({n})", cause_name(&id)),
                chosen: asked("cause") == Some(&id),
                value: id,
            })
            .collect(),
        outcomes: Outcome::ALL
            .iter()
            .map(|o| Choice {
                value: o.id().into(),
                label: show::capital(outcome_words(o.id())),
                chosen: asked("outcome") == Some(o.id()),
            })
            .collect(),
        filtered: ["machine", "cause", "outcome"]
            .iter()
            .any(|n| asked(n).is_some()),
        earlier: ((page + 1) * PER_PAGE < total).then(|| turn(page + 1)),
        later: (page > 0).then(|| turn(page - 1)),
    };
    Ok(Html(page.render()?))
}
