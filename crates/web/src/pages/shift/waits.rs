//! Waits and proofs that end, as a calendar.

use super::tasks::tasks;
use crate::pages::Answer;
use crate::pages::parts::calendar::{CalendarDay, calendar};
use crate::pages::parts::tag::origin;
use crate::state::AppState;
use axum::extract::State;
use axum::http::HeaderMap;

/// `GET /feeds/{secret}/waits.ics`
pub async fn feed(State(state): State<AppState>, headers: HeaderMap) -> Answer {
    let origin = origin(&headers);
    let now = state.now();
    let all = tasks(&state).await?.all;
    let days = all.iter().filter_map(|task| {
        let until = task.until?;
        Some(CalendarDay {
            id: task.id.to_string().replace('/', "-"),
            made: now,
            day: until.date(),
            at: Some(until),
            words: format!("{} waits no longer", task.name),
            more: task.next.clone(),
            href: format!("{origin}{}", task.href),
        })
    });
    Ok(calendar("Waits", days))
}
