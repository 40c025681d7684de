//! The floor: the machines, their state, the open cases.

use crate::form::Errors;
use crate::pages::Page;
use crate::pages::parts::begin::{Begin, begin};
use crate::pages::parts::case_line::{CaseLine, case_line, lock_of};
use crate::state::AppState;
use crate::words::{machine, title};
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::knowledge::Knowledge;
use suspect_store::Uuid;
use suspect_store::lists::{CaseRow, FloorCases};
use suspect_store::machines::Machine;

struct MachineCard {
    name: String,
    model: String,
    kind: String,
    place: String,
    state: &'static str,
    state_words: String,
    href: String,
    new_case: String,
    before: String,
    cases: Vec<CaseLine>,
    /// Cases that are not shown here.
    more: i64,
}

/// A case last worked on.
struct LateCase {
    href: String,
    label: String,
    title: String,
    day: String,
    exact: String,
}

/// Cases that ask whether their fix held are counted so far.
const MOST_ASKING: u64 = 100;
/// Cases last worked on that the floor names.
const LATELY: u64 = 4;

#[derive(Template)]
#[template(path = "floor/overview.html")]
struct FloorPage {
    /// How a case begins, while no machine stands here: nothing else is asked first.
    begin: Option<Begin>,
    case_id: Uuid,
    told: String,
    words_first: bool,
    errors: Errors,
    machines: Vec<MachineCard>,
    /// Closed cases that ask whether their fix held.
    asking: usize,
    /// Cases last worked on, the open one to go on with first.
    latest: Vec<LateCase>,
    open: i64,
    locked: usize,
}

/// `GET /`
pub async fn show(State(state): State<AppState>) -> Page {
    let machines = state.store.machines().await?;
    let cases = state.store.floor_cases().await?;
    let mut rows = state.store.latest_cases(LATELY).await?;
    // What is still open comes first: that is gone on with.
    rows.sort_by_key(|r| r.closed_at.is_some());
    let latest = rows.iter().map(|row| late(row, &machines)).collect();
    let cards = machines
        .into_iter()
        .map(|m| card(&state.knowledge, &cases, m));
    let machines: Vec<MachineCard> = cards.collect();
    let now = state.now();
    let asking = state.store.asking(now, MOST_ASKING).await?;
    let page = FloorPage {
        asking: asking
            .iter()
            .filter(|r| r.ask_at.is_some_and(|at| at <= now))
            .count(),
        begin: machines.is_empty().then(begin),
        case_id: Uuid::now_v7(),
        told: String::new(),
        words_first: true,
        errors: Errors::new(),
        open: cases.many.iter().map(|(_, many)| many).sum(),
        latest,
        locked: machines.iter().filter(|m| m.state == "locked").count(),
        machines,
    };
    Ok(Html(page.render()?))
}

fn late(row: &CaseRow, machines: &[Machine]) -> LateCase {
    let machine = machines.iter().find(|m| m.id == row.machine_id);
    LateCase {
        href: urls::case(row.id),
        label: show::case_label(row.number),
        title: title(&row.title, machine.map_or("", |m| &m.name)),
        day: show::since(row.updated_at),
        exact: show::moment(row.updated_at),
    }
}

fn card(k: &Knowledge, cases: &FloorCases, machine: Machine) -> MachineCard {
    let mine: Vec<&CaseRow> = cases
        .shown
        .iter()
        .filter(|c| c.machine_id == machine.id)
        .collect();
    let many = cases.of(machine.id);
    let lock = lock_of(k, &machine, mine.iter().copied());
    let (word, words) = match (&lock, &machine.out_of_service, many) {
        (Some(lock), _, _) => {
            let name = show::lower_first(&k.stops[lock.stop].name);
            ("locked", format!("Locked: {name}"))
        }
        (None, Some(_), _) => ("still", "Out of service".to_string()),
        (None, None, 0) => ("free", "Ready".to_string()),
        (None, None, 1) => ("open", "1 open case".to_string()),
        (None, None, n) => ("open", format!("{n} open cases")),
    };
    MachineCard {
        kind: machine::kind(&machine.profile),
        href: urls::machine(machine.id),
        new_case: urls::new_case_on(machine.id),
        before: urls::before(machine.id),
        place: machine.place.clone(),
        state: word,
        state_words: words,
        more: many - mine.len() as i64,
        cases: mine
            .into_iter()
            .map(|c| case_line(k, &machine.name, c, lock.as_ref()))
            .collect(),
        name: machine.name,
        model: machine.model,
    }
}
