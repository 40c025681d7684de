//! The floor: the machines, their state, the open cases.

use super::Page;
use super::next::words;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::case::{Holder, Lock, What};
use suspect_core::{machine, safety};
use suspect_store::machines::Machine;
use suspect_store::projection::{CaseRow, FloorCases};

/// A case as floor and machine page list it.
pub struct OpenCase {
    pub href: String,
    pub label: String,
    pub title: String,
    pub leader: String,
    pub next: String,
    pub since: String,
    pub locked: bool,
}

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
    cases: Vec<OpenCase>,
    /// Cases that are not shown here.
    more: i64,
}

#[derive(Template)]
#[template(path = "floor.html")]
struct FloorPage {
    place: &'static str,
    machines: Vec<MachineCard>,
    open: i64,
    locked: usize,
}

/// `GET /`
pub async fn show(State(state): State<AppState>) -> Page {
    let machines = state.store.machines().await?;
    let cases = state.store.floor_cases().await?;
    let cards = machines.into_iter().map(|m| card(&state, &cases, m));
    let machines: Vec<MachineCard> = cards.collect();
    let page = FloorPage {
        place: "floor",
        open: cases.many.iter().map(|(_, many)| many).sum(),
        locked: machines.iter().filter(|m| m.state == "locked").count(),
        machines,
    };
    Ok(Html(page.render()?))
}

fn card(state: &AppState, cases: &FloorCases, machine: Machine) -> MachineCard {
    let mine: Vec<&CaseRow> = cases
        .shown
        .iter()
        .filter(|c| c.machine_id == machine.id)
        .collect();
    let many = cases.of(machine.id);
    let lock = lock_of(state, &machine, mine.iter().copied());
    let (word, words) = match (&lock, &machine.out_of_service, many) {
        (Some(lock), _, _) => {
            let name = show::lower_first(&state.knowledge.stops[lock.stop].name);
            ("locked", format!("Locked: {name}"))
        }
        (None, Some(_), _) => ("still", "Out of service".to_string()),
        (None, None, 0) => ("free", "Ready".to_string()),
        (None, None, 1) => ("open", "1 open case".to_string()),
        (None, None, n) => ("open", format!("{n} open cases")),
    };
    MachineCard {
        kind: kind(&machine.profile),
        href: urls::machine(machine.id),
        new_case: urls::new_case_on(machine.id),
        before: urls::before(machine.id),
        place: machine.place.clone(),
        state: word,
        state_words: words,
        more: many - mine.len() as i64,
        cases: mine
            .into_iter()
            .map(|c| open_case(state, c, lock.as_ref()))
            .collect(),
        name: machine.name,
        model: machine.model,
    }
}

/// What locks a machine, of its cases and of its build; the most severe.
pub fn lock_of<'a>(
    state: &AppState,
    machine: &Machine,
    cases: impl Iterator<Item = &'a CaseRow>,
) -> Option<Lock> {
    let k = &state.knowledge;
    let of_case = |case: &CaseRow| {
        let first = case.stops.first()?;
        Some(Lock {
            holder: Holder::Case {
                id: case.id.to_string(),
                number: case.number,
            },
            stop: k.stops.iter().position(|s| s.id == *first).unwrap_or(0),
        })
    };
    let of_build = safety::stops_of_build(k, &machine::build(&machine.profile));
    let of_build = of_build.first().map(|stop| Lock {
        holder: Holder::Build,
        stop: *stop,
    });
    cases
        .filter_map(of_case)
        .chain(of_build)
        .min_by_key(|lock| lock.stop)
}

/// A case in a list, under what locks its machine.
pub fn open_case(state: &AppState, case: &CaseRow, lock: Option<&Lock>) -> OpenCase {
    let k = &state.knowledge;
    let leader = case.leader.as_ref().and_then(|(id, p)| {
        let cause = k.cause(k.cause_id(id)?);
        Some(format!("{} {}", cause.name, show::percent(*p)))
    });
    let elsewhere = lock.filter(|l| l.case().is_none_or(|(id, _)| id != case.id.to_string()));
    let kept = case
        .next_step
        .as_deref()
        .and_then(|text| What::parse(k, text));
    let next = match (kept, case.status.as_str()) {
        (_, "resolved") => "Closed, the stop still holds".to_string(),
        // Written by another program and not rebuilt yet.
        (None, _) if elsewhere.is_none() => "See the case".to_string(),
        (kept, _) => {
            let what = kept.unwrap_or(What::AskMaker).under(elsewhere.cloned());
            let now = words(state, case.id, case.machine_id, &what);
            match now.locked {
                true => now.name,
                false if case.resting => "Left for another day".to_string(),
                false => now.name,
            }
        }
    };
    OpenCase {
        href: urls::case(case.id),
        label: show::case_label(case.number),
        title: case.title.clone(),
        leader: leader.unwrap_or_default(),
        next,
        since: show::date(case.opened_at),
        locked: !case.stops.is_empty(),
    }
}

/// "Bowden, lined hot end, bed-slinger" from a profile.
pub fn kind(profile: &BTreeMap<String, String>) -> String {
    let words = [
        ("motion", "bed-slinger", "bed-slinger"),
        ("motion", "crossed-belt", "crossed belts"),
        ("motion", "cross-gantry", "cross gantry"),
        ("motion", "delta", "delta"),
        ("motion", "cantilever", "cantilever"),
        ("feed", "bowden", "Bowden feed"),
        ("feed", "direct", "direct feed"),
        ("hotend", "lined", "lined hot end"),
        ("hotend", "all-metal", "all-metal hot end"),
        ("enclosure", "closed", "closed"),
        ("enclosure", "heated", "heated chamber"),
    ];
    let said: Vec<&str> = words
        .iter()
        .filter(|(f, v, _)| profile.get(*f).is_some_and(|x| x == v))
        .map(|(_, _, w)| *w)
        .collect();
    said.join(", ")
}
