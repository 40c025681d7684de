//! The round: what is due on every machine, in walking order, to be ticked on a phone.

use super::open_book::Floor;
use super::view::{DueLine, due_line};
use crate::pages::Page;
use crate::pages::parts::work::{CautionView, cautions};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::knowledge::{Knowledge, UpkeepTask};
use suspect_store::Uuid;

/// A task of the round with what may look wrong at it.
struct Stop {
    due: DueLine,
    cautions: Vec<CautionView>,
    wrong: Vec<String>,
    case: Uuid,
}

struct Leg {
    id: Uuid,
    name: String,
    place: String,
    href: String,
    action: String,
    stops: Vec<Stop>,
    /// Seen to today: task, who, when.
    done: Vec<(String, String)>,
    minutes: String,
}

#[derive(Template)]
#[template(path = "book/round.html")]
struct RoundPage {
    day: String,
    legs: Vec<Leg>,
    /// Machines that a stop holds: nothing is done on them.
    locked: Vec<(String, String)>,
    /// Machines with nothing to do.
    quiet: Vec<(String, String)>,
    tasks: usize,
    minutes: String,
    soon: bool,
}

/// `GET /round?soon=yes`
pub async fn show(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let soon = query.contains_key("soon");
    let floor = Floor::read(&state).await?;
    let (mut legs, mut quiet, mut all, mut tasks) = (Vec::new(), Vec::new(), 0.0, 0);
    let mut locked = Vec::new();
    let held = floor.held(&state).await?;
    for shelved in &floor.books.all {
        let machine = &shelved.machine;
        if machine.out_of_service.is_some() {
            continue;
        }
        if held.contains(&machine.id) {
            locked.push((machine.name.clone(), urls::machine(machine.id)));
            continue;
        }
        let open = floor.open(k, machine.id)?;
        let due: Vec<_> = open
            .due
            .iter()
            .filter(|d| d.now() || (soon && d.soon()))
            .collect();
        let today = show::date(floor.now);
        let done = open.due.iter().filter_map(|d| {
            let kept = d.kept.as_ref().filter(|k| show::date(k.at) == today)?;
            let by = kept
                .by
                .as_deref()
                .map_or(String::new(), |by| format!("{by}, "));
            Some((d.task.name.clone(), format!("{by}{}", show::clock(kept.at))))
        });
        let done: Vec<_> = done.collect();
        let minutes: f64 = due.iter().map(|d| d.task.minutes).sum();
        if due.is_empty() && done.is_empty() {
            quiet.push((machine.name.clone(), urls::machine(machine.id)));
            continue;
        }
        all += minutes;
        tasks += due.len();
        legs.push(Leg {
            id: machine.id,
            name: machine.name.clone(),
            place: machine.place.clone(),
            href: urls::machine(machine.id),
            action: urls::in_machine(machine.id, "kept"),
            stops: due
                .iter()
                .map(|d| stop(k, d.task, due_line(d, floor.now)))
                .collect(),
            done,
            minutes: show::minutes(minutes),
        });
    }
    let page = RoundPage {
        day: show::date(floor.now),
        legs,
        locked,
        quiet,
        tasks,
        minutes: show::minutes(all),
        soon,
    };
    Ok(Html(page.render()?))
}

fn stop(k: &Knowledge, task: &UpkeepTask, due: DueLine) -> Stop {
    Stop {
        due,
        cautions: cautions(k, &task.cautions),
        wrong: task.wrong.iter().map(|w| w.say.clone()).collect(),
        case: Uuid::now_v7(),
    }
}
