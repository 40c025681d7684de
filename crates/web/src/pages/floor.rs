//! The floor: the machines, their state, the open cases.

use super::Page;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_store::cases::CaseRow;

struct OpenCase {
    href: String,
    label: String,
    title: String,
    leader: String,
    next: String,
    since: String,
    locked: bool,
}

struct MachineCard {
    name: String,
    model: String,
    kind: String,
    state: &'static str,
    state_words: String,
    new_case: String,
    before: String,
    cases: Vec<OpenCase>,
}

#[derive(Template)]
#[template(path = "floor.html")]
struct FloorPage {
    place: &'static str,
    machines: Vec<MachineCard>,
    open: usize,
    locked: usize,
}

/// `GET /`
pub async fn show(State(state): State<AppState>) -> Page {
    let machines = state.store.machines().await?;
    let cases = state.store.floor_cases().await?;
    let machines: Vec<MachineCard> = machines
        .into_iter()
        .map(|machine| {
            let mine: Vec<&CaseRow> = cases
                .iter()
                .filter(|c| c.machine_id == machine.id)
                .collect();
            let locked = mine.iter().find(|c| !c.stops.is_empty());
            let (word, words) = match (locked, mine.len()) {
                (Some(case), _) => (
                    "locked",
                    format!("Locked: {}", stop_name(&state, &case.stops[0])),
                ),
                (None, 0) => ("free", "Ready".to_string()),
                (None, 1) => ("open", "1 open case".to_string()),
                (None, n) => ("open", format!("{n} open cases")),
            };
            MachineCard {
                kind: kind(&machine.profile),
                new_case: urls::new_case_on(machine.id),
                before: urls::before(machine.id),
                name: machine.name,
                model: machine.model,
                state: word,
                state_words: words,
                cases: mine.into_iter().map(|c| open_case(&state, c)).collect(),
            }
        })
        .collect();
    let open = cases.iter().filter(|c| c.status != "resolved").count();
    let locked = machines.iter().filter(|m| m.state == "locked").count();
    Ok(Html(
        FloorPage {
            place: "floor",
            machines,
            open,
            locked,
        }
        .render()?,
    ))
}

fn stop_name(state: &AppState, id: &str) -> String {
    state
        .knowledge
        .stops
        .iter()
        .find(|s| s.id == id)
        .map_or_else(|| id.to_string(), |s| s.name.to_lowercase())
}

fn open_case(state: &AppState, case: &CaseRow) -> OpenCase {
    let leader = case.leader.as_ref().and_then(|(id, p)| {
        let cause = state.knowledge.cause(state.knowledge.cause_id(id)?);
        Some(format!("{} {}", cause.name, show::percent(*p)))
    });
    OpenCase {
        href: urls::case(case.id),
        label: show::case_label(case.number),
        title: case.title.clone(),
        leader: leader.unwrap_or_default(),
        next: case
            .next_step
            .clone()
            .unwrap_or_else(|| "Closed, the stop still holds".into()),
        since: show::date(case.opened_at),
        locked: !case.stops.is_empty(),
    }
}

/// "Bowden, lined hot end, bed-slinger" from a profile.
pub fn kind(profile: &std::collections::BTreeMap<String, String>) -> String {
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
