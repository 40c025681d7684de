//! The list of a series: typed row by row, or pasted.

use super::open_series::{OpenSeries, Recorded};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use crate::words::trial as words;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::knowledge::Knowledge;
use suspect_core::series::{Event, Listed, pasted, suspects_of};
use suspect_core::trials::{Difference, Suspicion};

/// Empty rows at the end of the table.
const SPARE: usize = 3;
/// Groups that are offered.
const GROUPS: [&str; 8] = [
    "motion",
    "temperature",
    "cooling",
    "flow",
    "retraction",
    "speed",
    "firmware",
    "hardware",
];

/// A row of the table, as typed.
struct Row {
    n: usize,
    name: String,
    old: String,
    new: String,
    suspicion: Vec<(&'static str, &'static str, bool)>,
    group: String,
    swap: String,
    live: String,
    needs: String,
    causes: Vec<(String, String)>,
    in_use: bool,
}

#[derive(Template)]
#[template(path = "trials/differences.html")]
struct ListPage {
    name: String,
    href: String,
    seq: u32,
    rows: Vec<Row>,
    groups: [&'static str; 8],
    fights: String,
    once: String,
    pasted: String,
    problem: Option<String>,
    causes: Vec<(String, String)>,
}

/// `GET /trials/{series}/differences`
pub async fn form(State(state): State<AppState>, open: OpenSeries) -> Page {
    let fields = Fields::default();
    Ok(Html(page(&state.knowledge, &open, &fields, None)?))
}

fn page(
    k: &Knowledge,
    open: &OpenSeries,
    fields: &Fields,
    problem: Option<String>,
) -> Result<String, PageError> {
    let typed = typed(k, fields);
    let list = if typed.is_empty() && problem.is_none() {
        &open.now.list
    } else {
        &typed
    };
    let in_use = open.now.standing().next().is_some();
    let mut rows: Vec<Row> = list
        .iter()
        .enumerate()
        .map(|(n, l)| row(k, n, l, in_use && known(open, l)))
        .collect();
    for _ in 0..SPARE {
        rows.push(row(k, rows.len(), &Listed::default(), false));
    }
    let fights = open.now.fights.iter().map(|(a, b)| format!("{a} / {b}"));
    let once = open
        .now
        .group_minutes
        .iter()
        .map(|(g, m)| format!("{g}: {}", show::number(*m)));
    let or = |name: &str, otherwise: String| fields.sent(name).map_or(otherwise, str::to_owned);
    let page = ListPage {
        name: open.now.name.clone(),
        href: open.href(),
        seq: open.now.seq,
        rows,
        groups: GROUPS,
        fights: or("fights", fights.collect::<Vec<_>>().join("\n")),
        once: or("once", once.collect::<Vec<_>>().join("\n")),
        pasted: fields.get("pasted").to_owned(),
        problem,
        causes: k
            .causes
            .iter()
            .map(|c| (c.id.clone(), c.name.clone()))
            .collect(),
    };
    Ok(page.render()?)
}

/// Whether the list already had it.
fn known(open: &OpenSeries, listed: &Listed) -> bool {
    open.now
        .list
        .iter()
        .any(|l| l.difference.name == listed.difference.name)
}

fn row(k: &Knowledge, n: usize, listed: &Listed, in_use: bool) -> Row {
    let d = &listed.difference;
    let amount = |m: f64| {
        if m > 0.0 {
            show::number(m)
        } else {
            String::new()
        }
    };
    let word = |s: Suspicion| (s.id(), words::suspicion(s), s == d.suspicion);
    let cause = |id: &String| {
        let name = k
            .cause_id(id)
            .map_or_else(|| id.clone(), |c| k.cause(c).name.clone());
        (id.clone(), name)
    };
    Row {
        n,
        name: d.name.clone(),
        old: d.old.clone().unwrap_or_default(),
        new: d.new.clone().unwrap_or_default(),
        suspicion: Suspicion::ALL.map(word).to_vec(),
        group: d.group.clone().unwrap_or_default(),
        swap: amount(d.swap_minutes),
        live: amount(d.live_minutes),
        needs: d.needs.join(", "),
        causes: listed.causes.iter().map(cause).collect(),
        in_use,
    }
}

/// The rows that were sent, with what was pasted after them.
fn typed(k: &Knowledge, fields: &Fields) -> Vec<Listed> {
    let mut numbers: Vec<usize> = fields
        .with_prefix("name.")
        .filter_map(|(n, _)| n.parse().ok())
        .collect();
    numbers.sort_unstable();
    let mut list: Vec<Listed> = numbers
        .into_iter()
        .filter_map(|n| sent(k, fields, n))
        .collect();
    list.extend(pasted(fields.get("pasted")).into_iter().map(|mut listed| {
        listed.causes = suspects_of(k, &listed.difference.name);
        listed
    }));
    list
}

fn sent(k: &Knowledge, fields: &Fields, n: usize) -> Option<Listed> {
    let get = |what: &str| fields.get(&format!("{what}.{n}")).trim().to_owned();
    let name = get("name");
    if name.is_empty() {
        return None;
    }
    let some = |text: String| (!text.is_empty()).then_some(text);
    let minutes = |what: &str| {
        fields
            .number(&format!("{what}.{n}"), 0.0)
            .unwrap_or(f64::NAN)
    };
    let suspicion = Suspicion::ALL
        .into_iter()
        .find(|s| s.id() == get("suspicion"));
    let needs = get("needs");
    let needs = needs.split(',').map(str::trim).filter(|s| !s.is_empty());
    let cause = get("causes");
    let ticked = format!("c.{n}.");
    let causes: Vec<String> = fields
        .with_prefix(&ticked)
        .map(|(id, _)| id)
        .chain([cause.as_str()])
        .filter(|c| k.cause_id(c).is_some())
        .map(String::from)
        .collect();
    let fresh = fields.sent(&format!("kept.{n}")).is_none() && causes.is_empty();
    Some(Listed {
        causes: if fresh { suspects_of(k, &name) } else { causes },
        difference: Difference {
            old: some(get("old")),
            new: some(get("new")),
            suspicion: suspicion.unwrap_or_default(),
            group: some(get("group")),
            swap_minutes: minutes("swap"),
            live_minutes: minutes("live"),
            needs: needs.map(String::from).collect(),
            name,
        },
    })
}

/// "one / other" on a line.
fn fights(text: &str) -> Vec<(String, String)> {
    let pair = |line: &str| {
        let (a, b) = line.split_once(" / ").or_else(|| line.split_once('/'))?;
        Some((a.trim().to_owned(), b.trim().to_owned()))
    };
    text.lines().filter_map(pair).collect()
}

/// "group: minutes" on a line.
fn once(text: &str) -> BTreeMap<String, f64> {
    let line = |line: &str| {
        let (group, minutes) = line.rsplit_once(':')?;
        Some((
            group.trim().to_owned(),
            minutes.trim().replace(',', ".").parse().ok()?,
        ))
    };
    text.lines().filter_map(line).collect()
}

/// `POST /trials/{series}/differences`
pub async fn set(State(state): State<AppState>, open: OpenSeries, fields: Fields) -> Answer {
    let k = &state.knowledge;
    let list = typed(k, &fields);
    let event = Event::Listed {
        list,
        fights: fights(fields.get("fights")),
        group_minutes: once(fields.get("once")),
    };
    match open.record(&state, &fields, &[event], &open.href()).await? {
        Recorded::Done(answer) => Ok(answer),
        Recorded::Not(why) => Ok(again(page(k, &open, &fields, Some(why))?)),
    }
}
