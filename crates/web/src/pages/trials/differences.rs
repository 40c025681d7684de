//! The list of a series: typed row by row, or pasted.

use super::open_series::{OpenSeries, Recorded};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use crate::words::{journal, trial as words};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::book::{Difference as Changed, since_good};
use suspect_core::knowledge::Knowledge;
use suspect_core::series::{Event, Listed, pasted, suspects_of};
use suspect_core::trials::{Difference, Suspicion};

/// Empty rows at the end of the table.
const SPARE: usize = 3;
/// The field for a list that is pasted. What was pasted comes back as rows, and the empty field
/// under another name, so that nothing that remembers it puts the text there once more.
const PASTED: &str = "pasted";
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
    /// Name of the field to paste into.
    paste: String,
    problem: Option<String>,
    causes: Vec<(String, String)>,
    /// Settings that changed since the machine's last good print.
    changed: usize,
}

/// `GET /trials/{series}/differences?from=journal`
pub async fn form(
    State(state): State<AppState>,
    open: OpenSeries,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let changed = since_good(&state.store.book(open.machine.id).await?);
    let line = |d: &Changed| format!("{}: {} -> {}", journal::named(k, &d.name), d.then, d.now);
    let lines: Vec<String> = changed.iter().map(line).collect();
    let fields = match query.get("from").map(String::as_str) {
        Some("journal") => Fields::of([(PASTED.to_string(), lines.join("\n"))]),
        _ => Fields::default(),
    };
    Ok(Html(page(k, &open, &fields, (None, changed.len()))?))
}

fn page(
    k: &Knowledge,
    open: &OpenSeries,
    fields: &Fields,
    (problem, changed): (Option<String>, usize),
) -> Result<String, PageError> {
    let mut list = typed(k, fields);
    if list.is_empty() && problem.is_none() {
        list = open.now.list.iter().cloned().map(Typed::from).collect();
    }
    let in_use = open.now.standing().next().is_some();
    let mut rows: Vec<Row> = list
        .iter()
        .enumerate()
        .map(|(n, t)| row(k, n, t, in_use && known(open, &t.listed)))
        .collect();
    for _ in 0..SPARE {
        rows.push(row(k, rows.len(), &Typed::default(), false));
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
        paste: fresh_name(fields),
        problem,
        changed,
        causes: k
            .causes
            .iter()
            .map(|c| (c.id.clone(), c.name.clone()))
            .collect(),
    };
    Ok(page.render()?)
}

/// The name of the field to paste into: another one than that which was sent.
fn fresh_name(fields: &Fields) -> String {
    let sent = fields.with_prefix(PASTED).next();
    sent.map_or_else(
        || PASTED.to_owned(),
        |(end, _)| {
            let n: u32 = end.trim_start_matches('.').parse().unwrap_or(1);
            format!("{PASTED}.{}", n.saturating_add(1))
        },
    )
}

/// Whether the list already had it.
fn known(open: &OpenSeries, listed: &Listed) -> bool {
    open.now
        .list
        .iter()
        .any(|l| l.difference.name == listed.difference.name)
}

fn row(k: &Knowledge, n: usize, typed: &Typed, in_use: bool) -> Row {
    let Typed { listed, swap, live } = typed;
    let d = &listed.difference;
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
        swap: swap.clone(),
        live: live.clone(),
        needs: d.needs.join(", "),
        causes: listed.causes.iter().map(cause).collect(),
        in_use,
    }
}

/// A difference with its minutes as they were typed: what is no number stays to be mended.
#[derive(Default)]
struct Typed {
    listed: Listed,
    swap: String,
    live: String,
}

impl From<Listed> for Typed {
    fn from(listed: Listed) -> Typed {
        let amount = |m: f64| match m > 0.0 {
            true => show::number(m),
            false => String::new(),
        };
        Typed {
            swap: amount(listed.difference.swap_minutes),
            live: amount(listed.difference.live_minutes),
            listed,
        }
    }
}

/// The rows that were sent, with what was pasted after them as rows too.
fn typed(k: &Knowledge, fields: &Fields) -> Vec<Typed> {
    let mut numbers: Vec<usize> = fields
        .with_prefix("name.")
        .filter_map(|(n, _)| n.parse().ok())
        .collect();
    numbers.sort_unstable();
    let mut list: Vec<Typed> = numbers
        .into_iter()
        .filter_map(|n| sent(k, fields, n))
        .collect();
    let text = fields
        .with_prefix(PASTED)
        .map(|(_, text)| text)
        .collect::<Vec<_>>()
        .join("\n");
    list.extend(pasted(&text).into_iter().map(|mut listed| {
        listed.causes = suspects_of(k, &listed.difference.name);
        Typed::from(listed)
    }));
    list
}

fn sent(k: &Knowledge, fields: &Fields, n: usize) -> Option<Typed> {
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
    let listed = Listed {
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
    };
    Some(Typed {
        listed,
        swap: get("swap"),
        live: get("live"),
    })
}

/// Lines with something on them, each understood.
///
/// # Errors
/// The first line that is not, with what would do.
fn lines<T>(
    text: &str,
    shape: &str,
    understood: impl Fn(&str) -> Option<T>,
) -> Result<Vec<T>, String> {
    let lines = text.lines().map(str::trim).filter(|l| !l.is_empty());
    lines
        .map(|l| understood(l).ok_or_else(|| format!("“{l}” is not understood: write {shape}.")))
        .collect()
}

/// "one / other" on a line.
fn fights(text: &str) -> Result<Vec<(String, String)>, String> {
    lines(
        text,
        "two names with a slash between, as one / other",
        |line| {
            let (a, b) = line.split_once(" / ").or_else(|| line.split_once('/'))?;
            Some((a.trim().to_owned(), b.trim().to_owned()))
        },
    )
}

/// "group: minutes" on a line.
fn once(text: &str) -> Result<BTreeMap<String, f64>, String> {
    let all = lines(
        text,
        "a group, a colon and its minutes, as firmware: 15",
        |line| {
            let (group, minutes) = line.rsplit_once(':')?;
            let minutes = minutes.trim().replace(',', ".").parse().ok()?;
            Some((group.trim().to_owned(), minutes))
        },
    );
    Ok(all?.into_iter().collect())
}

/// What the form says the list is.
///
/// # Errors
/// A line that is not understood.
fn event(k: &Knowledge, fields: &Fields) -> Result<Event, String> {
    Ok(Event::Listed {
        list: typed(k, fields).into_iter().map(|t| t.listed).collect(),
        fights: fights(fields.get("fights"))?,
        group_minutes: once(fields.get("once"))?,
    })
}

/// `POST /trials/{series}/differences`
pub async fn set(State(state): State<AppState>, open: OpenSeries, fields: Fields) -> Answer {
    let k = &state.knowledge;
    let event = match event(k, &fields) {
        Ok(event) => event,
        Err(why) => return Ok(again(page(k, &open, &fields, (Some(why), 0))?)),
    };
    match open.record(&state, &fields, &[event], &open.href()).await? {
        Recorded::Done(answer) => Ok(answer),
        Recorded::Not(why) => Ok(again(page(k, &open, &fields, (Some(why), 0))?)),
    }
}
