//! What is due on the machines, as a calendar to subscribe to.

use super::open_book::Floor;
use crate::pages::Answer;
use crate::pages::parts::calendar::{CalendarDay, calendar};
use crate::pages::parts::tag::origin;
use crate::state::AppState;
use crate::urls;
use crate::words::journal;
use axum::extract::State;
use axum::http::HeaderMap;
use time::Duration;

/// Days ahead.
const AHEAD: Duration = Duration::days(90);

/// `GET /round.ics`
pub async fn feed(State(state): State<AppState>, headers: HeaderMap) -> Answer {
    let origin = origin(&headers);
    let floor = Floor::read(&state).await?;
    let mut days = Vec::new();
    let held = floor.held(&state).await?;
    for shelved in &floor.books.all {
        let machine = &shelved.machine;
        if machine.out_of_service.is_some() || held.contains(&machine.id) {
            continue;
        }
        let open = floor.open(&state.knowledge, machine.id)?;
        for due in &open.due {
            // What is over stands on today.
            let on = match due.now() {
                true => floor.now,
                false => match due.on.filter(|at| *at < floor.now + AHEAD) {
                    Some(at) => at,
                    None => continue,
                },
            };
            let kept = due.kept.as_ref().map(|k| k.at).or(shelved.book.begun);
            days.push(CalendarDay {
                id: format!("{}-{}", machine.id, due.task.id),
                made: kept.unwrap_or(floor.now),
                day: on.date(),
                at: None,
                words: format!("{}: {}", machine.name, due.task.name),
                more: format!("{} {}", journal::due_reason(&due.reason), due.task.text),
                href: format!("{origin}{}#m-{}", urls::ROUND, machine.id),
            });
        }
    }
    Ok(calendar("Upkeep", days))
}
