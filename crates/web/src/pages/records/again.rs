//! Closed cases that ask whether their fix held: a list, and a calendar to subscribe to.

use crate::pages::parts::asking::{Asking, asking};
use crate::pages::parts::calendar::{CalendarDay, calendar};
use crate::pages::parts::tag::origin;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::urls;
use crate::words::proving;
use askama::Template;
use axum::extract::State;
use axum::http::HeaderMap;
use axum::response::Html;
use suspect_core::learning::hold::WATCHED_DAYS;
use suspect_store::Uuid;
use suspect_store::lists::CaseRow;
use suspect_store::machines::Machine;
use time::OffsetDateTime;

/// Answers from which a chance of holding is told.
const FROM: i64 = 3;
/// Cases listed at most.
const MOST: u64 = 100;

#[derive(Template)]
#[template(path = "records/again.html")]
struct AgainPage {
    /// How long fixes hold here, once somebody answered.
    holds: Option<String>,
    asking: Vec<Asking>,
    later: Vec<Asking>,
    feed: &'static str,
}

fn name_of(machines: &[Machine], id: Uuid) -> &str {
    let machine = machines.iter().find(|m| m.id == id);
    machine.map_or("", |m| m.name.as_str())
}

/// `GET /again`
pub async fn show(State(state): State<AppState>) -> Page {
    let now = state.now();
    let (rows, machines) = (
        state.store.asking(now, MOST).await?,
        state.store.machines().await?,
    );
    let lines = rows.iter();
    let (due, later): (Vec<_>, Vec<_>) = lines.partition(|r| r.ask_at.is_some_and(|at| at <= now));
    let line = |r: &&CaseRow| asking(&state.knowledge, r, name_of(&machines, r.machine_id));
    let (holding, many) = state.store.holding().await?;
    let page = AgainPage {
        holds: (many >= FROM).then(|| proving::holds(holding.holds(WATCHED_DAYS), WATCHED_DAYS)),
        asking: due.iter().map(line).collect(),
        later: later.iter().map(line).collect(),
        feed: urls::AGAIN_FEED,
    };
    Ok(Html(page.render()?))
}

/// `GET /again.ics`: the same as a calendar.
pub async fn feed(State(state): State<AppState>, headers: HeaderMap) -> Answer {
    let rows = state.store.asking(state.now(), MOST).await?;
    let machines = state.store.machines().await?;
    let origin = origin(&headers);
    let events = rows.iter().filter_map(|row| {
        let machine = name_of(&machines, row.machine_id);
        Some(event(&state, row, row.ask_at?, machine, &origin))
    });
    Ok(calendar("Did it hold?", events))
}

fn event(
    state: &AppState,
    row: &CaseRow,
    at: OffsetDateTime,
    machine: &str,
    origin: &str,
) -> CalendarDay {
    let ask = asking(&state.knowledge, row, machine);
    CalendarDay {
        id: row.id.to_string(),
        made: row.updated_at,
        day: at.date(),
        at: None,
        words: format!("Did it hold? {} {} on {machine}", ask.label, ask.title),
        more: format!("What did it: {}", ask.fix),
        href: format!("{origin}{}", ask.href),
    }
}
