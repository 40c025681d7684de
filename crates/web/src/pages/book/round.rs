//! The round: what is due on every machine, in walking order, to be ticked on a phone.

use super::open_book::{Floor, OpenBook};
use super::view::{DueLine, due_line};
use crate::pages::Page;
use crate::pages::parts::work::{CautionView, cautions};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::book::Due;
use suspect_core::knowledge::{Knowledge, UpkeepTask};
use suspect_store::Uuid;
use time::OffsetDateTime;

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
    /// The same as a number.
    takes: f64,
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
    let held = floor.held(&state).await?;
    let (mut legs, mut quiet, mut locked) = (Vec::new(), Vec::new(), Vec::new());
    for shelved in &floor.books.all {
        let machine = &shelved.machine;
        let link = (machine.name.clone(), urls::machine(machine.id));
        if machine.out_of_service.is_some() {
            continue;
        }
        if held.contains(&machine.id) {
            locked.push(link);
            continue;
        }
        let leg = leg(k, &floor.open(k, machine.id)?, floor.now, soon);
        match leg.stops.is_empty() && leg.done.is_empty() {
            true => quiet.push(link),
            false => legs.push(leg),
        }
    }
    let page = RoundPage {
        day: show::date(floor.now),
        tasks: legs.iter().map(|leg| leg.stops.len()).sum(),
        minutes: show::minutes(legs.iter().map(|leg| leg.takes).sum()),
        legs,
        locked,
        quiet,
        soon,
    };
    Ok(Html(page.render()?))
}

/// What is to be done on one machine, and what was seen to today.
fn leg(k: &Knowledge, open: &OpenBook<'_>, now: OffsetDateTime, soon: bool) -> Leg {
    let machine = &open.shelved.machine;
    let due = open.due.iter().filter(|d| d.now() || (soon && d.soon()));
    let due: Vec<&Due<'_>> = due.collect();
    let today = show::date(now);
    let done = open.due.iter().filter_map(|d| {
        let kept = d.kept.as_ref().filter(|k| show::date(k.at) == today)?;
        let by = crate::screen::shown_of(kept.by.as_deref());
        let by = by.map_or(String::new(), |by| format!("{by}, "));
        Some((d.task.name.clone(), format!("{by}{}", show::clock(kept.at))))
    });
    let takes: f64 = due.iter().map(|d| d.task.minutes).sum();
    let at = |d: &&Due<'_>| stop(k, d.task, due_line(d, now));
    Leg {
        id: machine.id,
        name: machine.name.clone(),
        place: machine.place.clone(),
        href: urls::machine(machine.id),
        action: urls::in_machine(machine.id, "kept"),
        stops: due.iter().map(at).collect(),
        done: done.collect(),
        minutes: show::minutes(takes),
        takes,
    }
}

fn stop(k: &Knowledge, task: &UpkeepTask, due: DueLine) -> Stop {
    Stop {
        due,
        cautions: cautions(k, &task.cautions),
        wrong: task.wrong.iter().map(|w| w.say.clone()).collect(),
        case: Uuid::now_v7(),
    }
}
