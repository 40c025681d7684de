//! Records: closed cases found again by everything they have; which fix resolved each.

use super::search::{Asked, Search};
use crate::pages::Page;
use crate::state::AppState;
use crate::words::{outcome, title, work};
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::case::Outcome;
use suspect_core::knowledge::Knowledge;
use suspect_core::planning::Workshop;
use suspect_store::lists::CaseRow;
use suspect_store::machines::Machine;
use suspect_store::records::{FixedBy, SortBy};

/// Records on a page.
const PER_PAGE: u64 = 50;
/// Fixes named above a list.
const FIXES: u64 = 5;

struct RecordRow {
    href: String,
    label: String,
    title: String,
    machine: String,
    cause: String,
    fix: String,
    outcome: &'static str,
    outcome_id: &'static str,
    cost: String,
    closed: String,
    stamp: String,
}

/// A column one may sort by.
struct Head {
    name: &'static str,
    href: String,
    /// `ascending`, `descending` or nothing.
    sorted: &'static str,
}

#[derive(Template)]
#[template(path = "records/list.html")]
struct RecordsPage {
    rows: Vec<RecordRow>,
    total: u64,
    search: Search,
    heads: Vec<Head>,
    /// What fixed these: words and address.
    fixed: Vec<(String, String)>,
    filtered: bool,
    earlier: Option<String>,
    later: Option<String>,
}

/// `GET /records?q=…&machine=…&kind=…&cause=…&fix=…&sign=…&outcome=…&from=…&to=…&sort=…&page=…`
pub async fn show(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let asked = Asked::read(query);
    let page = asked.page();
    let machines = state.store.machines().await?;
    let (workshop, _) = state.workshop().await?;
    let filter = asked.filter(k, &workshop, &machines);
    let (cases, total) = state.store.records(&filter, page, PER_PAGE).await?;
    let fixed = match asked.narrowed() {
        true => state.store.fixed_by(&filter, FIXES).await?,
        false => Vec::new(),
    };
    let causes = state.store.recorded_causes().await?;
    let page = RecordsPage {
        rows: cases
            .into_iter()
            .map(|c| row(k, &workshop, &machines, c))
            .collect(),
        total,
        heads: heads(&asked),
        fixed: fixed.iter().map(|f| fixed_by(k, &asked, f)).collect(),
        filtered: asked.narrowed(),
        earlier: ((page + 1) * PER_PAGE < total).then(|| asked.turn(page + 1)),
        later: (page > 0).then(|| asked.turn(page - 1)),
        search: Search::of(k, &asked, &workshop, &machines, causes),
    };
    Ok(Html(page.render()?))
}

/// The columns, each with where a touch on it leads: sorted by it, and the other way round.
/// Machines stand in no order of their own.
fn heads(asked: &Asked) -> Vec<Head> {
    let columns = [
        ("Case", Some(SortBy::Number)),
        ("Machine", None),
        ("It was", Some(SortBy::Cause)),
        ("What did it", Some(SortBy::Fix)),
        ("Outcome", Some(SortBy::Outcome)),
        ("Cost", Some(SortBy::Minutes)),
        ("Closed", Some(SortBy::Closed)),
    ];
    let head = |(name, by): (&'static str, Option<SortBy>)| Head {
        name,
        href: by.map(|by| asked.sorted(by)).unwrap_or_default(),
        sorted: match (by == Some(asked.sort()), asked.upwards()) {
            (false, _) => "",
            (true, true) => "ascending",
            (true, false) => "descending",
        },
    };
    columns.into_iter().map(head).collect()
}

/// "Tighten the pulley's screws: 3 cases, last on 4 Nov 2026".
fn fixed_by(k: &Knowledge, asked: &Asked, fixed: &FixedBy) -> (String, String) {
    let cases = match fixed.cases {
        1 => "1 case".to_string(),
        n => format!("{n} cases"),
    };
    let last = fixed.last.map(|at| format!(", last on {}", show::date(at)));
    let words = format!(
        "{}: {cases}{}",
        work::fix(k, &fixed.fix),
        last.unwrap_or_default()
    );
    (words, asked.narrower("fix", &fixed.fix))
}

/// "24 min · 7 g · 2.50 €".
fn cost(case: &CaseRow, currency: &str) -> String {
    let time = [show::minutes(case.minutes), show::grams(case.grams)];
    let parts = time.into_iter().chain(show::money(case.money, currency));
    parts.collect::<Vec<_>>().join(" · ")
}

/// A cause in words; one in own words beside what it is known as by now.
fn linked(k: &Knowledge, workshop: &Workshop, cause: &str) -> String {
    let named = work::cause(k, cause);
    match workshop.own_links.get(cause) {
        Some(known) => format!("{}, told as {named}", work::cause(k, known)),
        None => named,
    }
}

fn row(k: &Knowledge, workshop: &Workshop, machines: &[Machine], case: CaseRow) -> RecordRow {
    let machine = machines.iter().find(|m| m.id == case.machine_id);
    let outcome = case.outcome.unwrap_or(Outcome::Unsolved);
    RecordRow {
        href: urls::case(case.id),
        label: show::case_label(case.number),
        machine: machine.map_or_else(String::new, |m| m.name.clone()),
        cause: match &case.cause {
            Some(cause) => linked(k, workshop, cause),
            None => "nobody named".into(),
        },
        fix: match &case.fix {
            Some(fix) => work::fix(k, fix),
            None => "–".into(),
        },
        outcome: outcome::outcome(outcome),
        outcome_id: outcome.id(),
        cost: cost(&case, &workshop.currency),
        closed: case.closed_at.map(show::date).unwrap_or_default(),
        stamp: case.closed_at.map(show::stamp).unwrap_or_default(),
        title: title(&case.title, machine.map_or("", |m| &m.name)),
    }
}
