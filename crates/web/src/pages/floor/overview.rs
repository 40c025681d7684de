//! The floor: the machines, their state, the open cases.

use crate::form::Errors;
use crate::pages::Page;
use crate::pages::floor::case_line::{CaseLine, case_line, lock_of};
use crate::pages::parts::begin::{Begin, begin};
use crate::state::AppState;
use crate::words::machine;
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
    open: i64,
    locked: usize,
}

/// `GET /`
pub async fn show(State(state): State<AppState>) -> Page {
    let machines = state.store.machines().await?;
    let cases = state.store.floor_cases().await?;
    let cards = machines
        .into_iter()
        .map(|m| card(&state.knowledge, &cases, m));
    let machines: Vec<MachineCard> = cards.collect();
    let page = FloorPage {
        begin: machines.is_empty().then(begin),
        case_id: Uuid::now_v7(),
        told: String::new(),
        words_first: true,
        errors: Errors::new(),
        open: cases.many.iter().map(|(_, many)| many).sum(),
        locked: machines.iter().filter(|m| m.state == "locked").count(),
        machines,
    };
    Ok(Html(page.render()?))
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
