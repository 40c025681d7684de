//! Records: closed cases, by machine, cause and outcome; which fix resolved each.

use crate::pages::Page;
use crate::pages::parts::link::Choice;
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
use suspect_store::lists::{CaseRow, RecordFilter};
use suspect_store::machines::Machine;

/// Records on a page.
const PER_PAGE: u64 = 50;
/// Pages a link may lead to.
const MOST_PAGES: u64 = 100_000;
/// What the list can be narrowed by.
const FILTERS: [&str; 3] = ["machine", "cause", "outcome"];

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

#[derive(Template)]
#[template(path = "records/list.html")]
struct RecordsPage {
    rows: Vec<RecordRow>,
    total: u64,
    machines: Vec<Choice>,
    causes: Vec<Choice>,
    outcomes: Vec<Choice>,
    filtered: bool,
    earlier: Option<String>,
    later: Option<String>,
}

/// What a link asks for.
struct Asked(BTreeMap<String, String>);

impl Asked {
    fn get(&self, name: &str) -> Option<&str> {
        let value = self.0.get(name).map(String::as_str);
        value.filter(|v| !v.is_empty())
    }

    /// A filter of a mistyped link matches nothing rather than everything.
    fn filter(&self, workshop: &Workshop) -> RecordFilter {
        let known = |cause: &str| {
            let own = workshop.own_links.iter();
            let own = own
                .filter(|(_, id)| *id == cause)
                .map(|(own, _)| own.clone());
            [cause.to_string()].into_iter().chain(own).collect()
        };
        RecordFilter {
            machine: self.get("machine").map(|m| m.parse().unwrap_or_default()),
            causes: self.get("cause").map(known).unwrap_or_default(),
            outcome: self.get("outcome").map(str::to_string),
        }
    }

    fn page(&self) -> u64 {
        let page = self.get("page").and_then(|p| p.parse().ok());
        page.unwrap_or(0).min(MOST_PAGES)
    }

    /// The same filter on another page.
    fn turn(&self, to: u64) -> String {
        let keep = FILTERS.iter().filter_map(|n| Some((*n, self.get(n)?)));
        let query: String = form_urlencoded::Serializer::new(String::new())
            .extend_pairs(keep)
            .append_pair("page", &to.to_string())
            .finish();
        format!("{}?{query}", urls::RECORDS)
    }
}

/// How often each cause was what it was; one in own words that is known by now counts as that one.
fn counted(workshop: &Workshop, recorded: Vec<(String, i64)>) -> Vec<(String, i64)> {
    let mut counted: Vec<(String, i64)> = Vec::new();
    for (id, many) in recorded {
        let id = workshop.own_links.get(&id).cloned().unwrap_or(id);
        match counted.iter_mut().find(|(known, _)| *known == id) {
            Some((_, there)) => *there += many,
            None => counted.push((id, many)),
        }
    }
    counted
}

/// A cause in words; one in own words beside what it is known as by now.
fn linked(k: &Knowledge, workshop: &Workshop, cause: &str) -> String {
    let named = work::cause(k, cause);
    match workshop.own_links.get(cause) {
        Some(known) => format!("{}, told as {named}", work::cause(k, known)),
        None => named,
    }
}

/// `GET /records?machine=…&cause=…&outcome=…&page=…`
pub async fn show(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let asked = Asked(query);
    let page = asked.page();
    let machines = state.store.machines().await?;
    let (workshop, _) = state.workshop().await?;
    let (cases, total) = state
        .store
        .records(&asked.filter(&workshop), page, PER_PAGE)
        .await?;
    let causes = counted(&workshop, state.store.recorded_causes().await?);
    let machine = |m: &Machine| Choice {
        value: m.id.to_string(),
        label: m.name.clone(),
        chosen: asked.get("machine") == Some(&m.id.to_string()),
    };
    let outcome = |o: Outcome| Choice {
        value: o.id().into(),
        label: show::capital(outcome::outcome(o)),
        chosen: asked.get("outcome") == Some(o.id()),
    };
    let cause = |(id, n): (String, i64)| Choice {
        label: format!("{} ({n})", work::cause(k, &id)),
        chosen: asked.get("cause") == Some(&id),
        value: id,
    };
    let page = RecordsPage {
        rows: cases
            .into_iter()
            .map(|c| row(k, &workshop, &machines, c))
            .collect(),
        total,
        machines: machines.iter().map(machine).collect(),
        causes: causes.into_iter().map(cause).collect(),
        outcomes: Outcome::ALL.into_iter().map(outcome).collect(),
        filtered: FILTERS.iter().any(|n| asked.get(n).is_some()),
        earlier: ((page + 1) * PER_PAGE < total).then(|| asked.turn(page + 1)),
        later: (page > 0).then(|| asked.turn(page - 1)),
    };
    Ok(Html(page.render()?))
}

/// "24 min · 7 g · 2.50 €".
fn cost(case: &CaseRow, currency: &str) -> String {
    let time = [show::minutes(case.minutes), show::grams(case.grams)];
    let parts = time.into_iter().chain(show::money(case.money, currency));
    parts.collect::<Vec<_>>().join(" · ")
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
