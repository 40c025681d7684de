//! A machine's page: its state, what is due, its parts, what was found, its cases, its journal.

use super::book_view::{BookView, book_view};
use super::open_book::Floor;
use super::view::{Line, journal_lines};
use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::open_case::OpenMachine;
use crate::pages::parts::asking::{Asking, asking};
use crate::pages::parts::case_line::{CaseLine, case_line, lock_of};
use crate::pages::parts::series::{self, SeriesLinks};
use crate::state::AppState;
use crate::words::{journal, learned, next};
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::case::Lock;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{MachineEntry, MachineEvent, build, good_file};
use suspect_core::profile::{FIELDS, MATERIAL};
use suspect_store::Uuid;
use suspect_store::lists::CaseRow;
use suspect_store::machines::Machine;
use suspect_store::series::Which;

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

#[derive(Template)]
#[template(path = "book/show.html")]
struct MachinePage {
    id: Uuid,
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
    /// They are shown and not used: the book did better.
    rests: bool,
    /// Learned numbers count here.
    learns: bool,
    learning_action: String,
    earlier: Option<String>,
    later: Option<String>,
    measured: Vec<Measured>,
    book: BookView,
    journal: JournalView,
    seq: u32,
}

/// `GET /machines/{id}?page=…`
pub async fn show(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let number = |name: &str| query.get(name).and_then(|p| p.parse().ok()).unwrap_or(0);
    let page = number("page").min(10_000u64);
    let of = query.get("of").cloned().unwrap_or_default();
    let at = number("journal").min(10_000) as usize;
    let log = state.store.machine_log(machine.id).await?;
    let cases = open_cases(&state, &machine, page).await?;
    let known = build(&machine.profile);
    let missing = FIELDS[..MATERIAL].iter();
    let missing = missing.filter(|f| known.named(f.id).is_none());
    let taught = taught(&state, &machine).await?;
    let floor = Floor::read(&state).await?;
    let open = floor.open(k, machine.id)?;
    let book = book_view(&state, &open, floor.now).await?;
    let view = MachinePage {
        id: machine.id,
        trials: series::links(&state, Which::Machine(machine.id)).await?,
        asking: taught.asking,
        learned: taught.learned,
        rests: taught.rests,
        learns: taught.learns,
        learning_action: urls::in_machine(machine.id, "learning"),
        stands: machine.place.clone(),
        note: machine.note.clone(),
        profile: known
            .known()
            .map(|(f, v)| (f.plain.to_string(), v.plain.to_string()))
            .collect(),
        unknown: missing.map(|f| show::lower_first(f.plain)).collect(),
        out_of_service: machine.out_of_service.clone(),
        service_action: urls::in_machine(machine.id, "service"),
        edit_href: urls::in_machine(machine.id, "edit"),
        devices_href: urls::in_machine(machine.id, "devices"),
        files_href: urls::in_machine(machine.id, "files"),
        good_file: good(machine.id, &log),
        new_case: urls::new_case_on(machine.id),
        before: urls::before(machine.id),
        lock: cases.lock,
        earlier: cases.earlier,
        later: cases.later,
        cases: cases.lines,
        seq: log.last().map_or(0, |e| e.seq),
        measured: measured(machine.id, &log),
        book,
        journal: journal_view(k, machine.id, &log, (&of, at)),
        name: machine.name,
        model: machine.model,
    };
    Ok(Html(view.render()?))
}

/// Open cases of a machine on a page, and what locks it.
struct OpenCases {
    lines: Vec<CaseLine>,
    lock: Option<(String, String)>,
    earlier: Option<String>,
    later: Option<String>,
}

async fn open_cases(
    state: &AppState,
    machine: &Machine,
    page: u64,
) -> Result<OpenCases, PageError> {
    let (k, id) = (&state.knowledge, machine.id);
    let cases = state.store.open_cases_of(id, page, PER_PAGE).await?;
    // A stop comes first in the list: those of later pages hold nothing that the first one does
    // not.
    let first = match page {
        0 => cases.clone(),
        _ => state.store.open_cases_of(id, 0, 1).await?,
    };
    let lock = lock_of(k, machine, first.iter());
    let line = |c: &CaseRow| case_line(k, &machine.name, c, lock.as_ref());
    Ok(OpenCases {
        lines: cases.iter().map(line).collect(),
        earlier: (cases.len() as u64 == PER_PAGE).then(|| turn(id, page + 1)),
        later: (page > 0).then(|| turn(id, page - 1)),
        lock: lock.as_ref().map(|lock| locked(k, id, lock)),
    })
}

/// A page of the journal.
struct JournalView {
    /// Its parts: address, words, on show.
    parts: Vec<(String, &'static str, bool)>,
    lines: Vec<Line>,
    older: Option<String>,
    newer: Option<String>,
}

fn journal_view(
    k: &Knowledge,
    machine: Uuid,
    log: &[MachineEntry],
    (of, page): (&str, usize),
) -> JournalView {
    let (lines, older) = journal_lines(k, log, of, page);
    JournalView {
        parts: parts_of_journal(machine, of),
        lines,
        older: older.then(|| leaf(machine, of, page + 1)),
        newer: (page > 0).then(|| leaf(machine, of, page - 1)),
    }
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
    rests: bool,
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
        rests: learned.as_ref().is_some_and(|l| l.rests()),
        learned: learned.map_or_else(Vec::new, |l| learned::of_machine(k, &l.awake())),
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

/// Parts of the journal as links: address, words, on show.
fn parts_of_journal(machine: Uuid, of: &str) -> Vec<(String, &'static str, bool)> {
    let all = [("", "All")].into_iter().chain(journal::PARTS_OF);
    all.map(|(id, words)| (leaf(machine, id, 0), words, id == of))
        .collect()
}

/// A page of the journal.
fn leaf(machine: Uuid, of: &str, page: usize) -> String {
    let parameters = [("of", of.to_string()), ("journal", page.to_string())];
    format!(
        "{}#journal",
        urls::with(&urls::machine(machine), &parameters)
    )
}
