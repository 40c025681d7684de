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
    fn filter(&self) -> RecordFilter {
        RecordFilter {
            machine: self.get("machine").map(|m| m.parse().unwrap_or_default()),
            cause: self.get("cause").map(str::to_string),
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

/// `GET /records?machine=…&cause=…&outcome=…&page=…`
pub async fn show(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let asked = Asked(query);
    let page = asked.page();
    let machines = state.store.machines().await?;
    let (cases, total) = state.store.records(&asked.filter(), page, PER_PAGE).await?;
    let causes = state.store.recorded_causes().await?;
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
        rows: cases.into_iter().map(|c| row(k, &machines, c)).collect(),
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

fn row(k: &Knowledge, machines: &[Machine], case: CaseRow) -> RecordRow {
    let machine = machines.iter().find(|m| m.id == case.machine_id);
    let fix = case.fix.as_deref().and_then(|x| k.fix_id(x));
    let outcome = case.outcome.unwrap_or(Outcome::Unsolved);
    RecordRow {
        href: urls::case(case.id),
        label: show::case_label(case.number),
        machine: machine.map_or_else(String::new, |m| m.name.clone()),
        cause: match &case.cause {
            Some(cause) => work::cause(k, cause),
            None => "nobody named".into(),
        },
        fix: fix.map_or_else(|| "–".into(), |x| k.fix(x).work.name.clone()),
        outcome: outcome::outcome(outcome),
        outcome_id: outcome.id(),
        cost: format!(
            "{} · {}",
            show::minutes(case.minutes),
            show::grams(case.grams)
        ),
        closed: case.closed_at.map(show::date).unwrap_or_default(),
        stamp: case.closed_at.map(show::stamp).unwrap_or_default(),
        title: title(&case.title, machine.map_or("", |m| &m.name)),
    }
}
