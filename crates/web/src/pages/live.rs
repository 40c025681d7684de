//! The stream by which open pages hear of changes, and the last entry of a case.

use crate::live::{Listening, Live};
use crate::page_error::PageError;
use crate::pages::open_case::CaseInPath;
use axum::extract::State;
use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::stream::{self, Stream};
use std::convert::Infallible;
use suspect_store::Store;
use suspect_store::changes::Change;

/// `GET /live`: an event for each change of any case.
pub async fn stream(
    State(live): State<Live>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, PageError> {
    let listening: Listening = live.listen().ok_or(PageError::Busy)?;
    let events = stream::unfold((true, listening), |(first, mut at)| async move {
        if first {
            // Whoever begins to listen read its page before and asks what came in between.
            return Some((Ok(Event::default().event("open").data("")), (false, at)));
        }
        let change = at.next().await?;
        Some((Ok(said(change)), (false, at)))
    });
    Ok(Sse::new(events).keep_alive(KeepAlive::default()))
}

/// "case number", or "case look" and "look" where nobody can say how far the case has come.
fn said(change: Change) -> Event {
    let data = match change {
        Change::Case(case, seq) => format!("{case} {seq}"),
        Change::Look(case) => format!("{case} look"),
        Change::Anything => "look".to_string(),
    };
    Event::default().event("entry").data(data)
}

/// `GET /cases/{id}/live`: the number of a case's last entry.
pub async fn last_entry(
    State(store): State<Store>,
    CaseInPath(id): CaseInPath,
) -> Result<String, PageError> {
    Ok(store.case_row(id).await?.last_seq.to_string())
}
