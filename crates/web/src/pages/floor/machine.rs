//! A machine: its state, what holds it, its open cases, its log; putting it out of service and
//! back.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::open_case::OpenMachine;
use crate::pages::parts::asking::{Asking, asking};
use crate::pages::parts::case_line::{CaseLine, case_line, lock_of};
use crate::pages::parts::series::{self, SeriesLinks};
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::{learned, machine_entry, next, refusal};
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::case::Lock;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{Described, MachineEntry, MachineEvent, build, good_file};
use suspect_core::profile::{FIELDS, MATERIAL};
use suspect_store::lists::CaseRow;
use suspect_store::machines::Machine;
use suspect_store::series::Which;
use suspect_store::{StoreError, Uuid};

/// Open cases on a page.
const PER_PAGE: u64 = 25;
/// Closed cases looked through for those of a machine that ask.
const MOST_ASKING: u64 = 500;

/// The latest reading of a measure.
struct Measured {
    href: String,
    name: String,
    text: String,
    at: String,
}

struct Line {
    at: String,
    stamp: String,
    by: Option<String>,
    text: String,
}

#[derive(Template)]
#[template(path = "floor/machine.html")]
struct MachinePage {
    trials: SeriesLinks,
    name: String,
    model: String,
    stands: String,
    note: String,
    profile: Vec<(String, String)>,
    unknown: Vec<String>,
    /// What locks it: words and where it is lifted.
    lock: Option<(String, String)>,
    out_of_service: Option<String>,
    service_action: String,
    edit_href: String,
    devices_href: String,
    files_href: String,
    /// The last good file: name and address.
    good_file: Option<(String, String)>,
    new_case: String,
    before: String,
    cases: Vec<CaseLine>,
    /// Closed cases that ask whether their fix held.
    asking: Vec<Asking>,
    /// What struck here more or less often than the book expects.
    learned: Vec<String>,
    /// Learned numbers count here.
    learns: bool,
    learning_action: String,
    earlier: Option<String>,
    later: Option<String>,
    measured: Vec<Measured>,
    log: Vec<Line>,
    seq: u32,
}

/// `GET /machines/{id}?page=…`
pub async fn show(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let page = query.get("page").and_then(|p| p.parse().ok());
    let page = page.unwrap_or(0).min(10_000u64);
    let cases = state
        .store
        .open_cases_of(machine.id, page, PER_PAGE)
        .await?;
    let log = state.store.machine_log(machine.id).await?;
    // A stop comes first in the list: those of later pages hold nothing that the first one does
    // not.
    let first = match page {
        0 => cases.clone(),
        _ => state.store.open_cases_of(machine.id, 0, 1).await?,
    };
    let lock = lock_of(k, &machine, first.iter());
    let known = build(&machine.profile);
    let missing = FIELDS[..MATERIAL].iter();
    let missing = missing.filter(|f| known.named(f.id).is_none());
    let taught = taught(&state, &machine).await?;
    let view = MachinePage {
        trials: series::links(&state, Which::Machine(machine.id)).await?,
        asking: taught.asking,
        learned: taught.learned,
        learns: taught.learns,
        learning_action: urls::in_machine(machine.id, "learning"),
        stands: machine.place.clone(),
        note: machine.note.clone(),
        profile: known
            .known()
            .map(|(f, v)| (f.plain.to_string(), v.plain.to_string()))
            .collect(),
        unknown: missing.map(|f| show::lower_first(f.plain)).collect(),
        lock: lock.as_ref().map(|lock| locked(k, machine.id, lock)),
        out_of_service: machine.out_of_service.clone(),
        service_action: urls::in_machine(machine.id, "service"),
        edit_href: urls::in_machine(machine.id, "edit"),
        devices_href: urls::in_machine(machine.id, "devices"),
        files_href: urls::in_machine(machine.id, "files"),
        good_file: good(machine.id, &log),
        new_case: urls::new_case_on(machine.id),
        before: urls::before(machine.id),
        earlier: (cases.len() as u64 == PER_PAGE).then(|| turn(machine.id, page + 1)),
        later: (page > 0).then(|| turn(machine.id, page - 1)),
        cases: cases
            .iter()
            .map(|c| case_line(k, &machine.name, c, lock.as_ref()))
            .collect(),
        seq: log.last().map_or(0, |e| e.seq),
        measured: measured(machine.id, &log),
        log: history(&log),
        name: machine.name,
        model: machine.model,
    };
    Ok(Html(view.render()?))
}

/// Another page of the machine's cases.
fn turn(machine: Uuid, to: u64) -> String {
    format!("{}?page={to}", urls::machine(machine))
}

/// What locks the machine: words, and where it is lifted.
fn locked(k: &Knowledge, machine: Uuid, lock: &Lock) -> (String, String) {
    let name = &k.stops[lock.stop].name;
    let words = format!("{}: {name}", show::capital(&next::locked_by(lock)));
    (words, next::lock_href(k, machine, lock))
}

/// What closed cases say of a machine.
struct Taught {
    asking: Vec<Asking>,
    learned: Vec<String>,
    learns: bool,
}

async fn taught(state: &AppState, machine: &Machine) -> Result<Taught, PageError> {
    let (k, now) = (&state.knowledge, state.now());
    let rows = state.store.asking(now, MOST_ASKING).await?;
    let due = |r: &&CaseRow| r.machine_id == machine.id && r.ask_at.is_some_and(|at| at <= now);
    let (workshop, _) = state.workshop().await?;
    let learned = state.store.learned(k, machine.id, now).await?;
    Ok(Taught {
        asking: rows
            .iter()
            .filter(due)
            .map(|r| asking(k, r, &machine.name))
            .collect(),
        learned: learned.map_or_else(Vec::new, |l| learned::of_machine(k, &l)),
        learns: workshop.learns_on(&machine.id.to_string()),
    })
}

/// The last good file: name and address.
fn good(machine: Uuid, log: &[MachineEntry]) -> Option<(String, String)> {
    let (id, name) = good_file(log)?;
    let href = urls::print_file(id.parse().ok()?);
    let href = urls::with(&href, &[("machine", machine.to_string())]);
    Some((name.to_string(), href))
}

/// The latest reading of each measure, the last one taken first.
fn measured(machine: Uuid, log: &[MachineEntry]) -> Vec<Measured> {
    let mut all: Vec<Measured> = Vec::new();
    for entry in log.iter().rev() {
        let MachineEvent::Benched { reading, .. } = &entry.event else {
            continue;
        };
        let Ok((of, out)) = reading.reckon() else {
            continue;
        };
        let parameters = [("machine", machine.to_string())];
        let href = urls::with(&urls::measure(of.id), &parameters);
        if all.iter().all(|m| m.href != href) {
            all.push(Measured {
                href,
                name: show::capital(of.plain),
                text: out.result,
                at: show::day(entry.at),
            });
        }
    }
    all
}

/// A machine's log in words, latest first.
fn history(log: &[MachineEntry]) -> Vec<Line> {
    let mut known: Option<&Described> = None;
    let mut lines = Vec::new();
    for entry in log {
        lines.push(Line {
            at: show::moment(entry.at),
            stamp: show::stamp(entry.at),
            by: entry.by.clone(),
            text: machine_entry::line(&entry.event, known),
        });
        if let MachineEvent::Described { machine, .. } = &entry.event {
            known = Some(machine);
        }
    }
    lines.reverse();
    lines
}

/// `POST /machines/{id}/service`: out of service with a reason, or back.
pub async fn service(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    fields: Fields,
) -> Answer {
    let back = urls::machine(machine.id);
    let event = match fields.get("to") {
        "in" => MachineEvent::BackInService,
        _ => MachineEvent::OutOfService {
            reason: fields.get("reason").to_string(),
        },
    };
    let stamp = fields.stamp(state.now());
    let stored = state.store.append_to_machine(
        &state.knowledge,
        machine.id,
        Some(fields.seq()),
        &event,
        stamp,
    );
    match stored.await {
        Ok(()) => Ok(Redirect::to(&back).into_response()),
        Err(StoreError::Refused(refused)) => Err(PageError::Refused {
            message: refusal::refusal(&state.knowledge, &refused),
            back,
        }),
        Err(StoreError::Conflict { .. }) => Err(PageError::Refused {
            message: "Someone else changed this machine first. Look at it, then send it again."
                .into(),
            back,
        }),
        Err(e) => Err(e.into()),
    }
}
