//! Who writes to a case is told to everyone who has it open, through server-sent events.
//!
//! The database tells each process what any of them stored; the process tells its pages. A page that hears of a newer event than it
//! shows fetches itself again: the stream carries no content of its own.

use crate::page_error::PageError;
use crate::state::AppState;
use axum::extract::{Path, State};
use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::stream::{self, Stream};
use std::convert::Infallible;
use std::time::Duration;
use suspect_store::changes::Change;
use suspect_store::{Store, Uuid};
use tokio::sync::{broadcast, watch};

/// Changes kept for a page that is slow to listen; one that falls further behind fetches itself anew.
const KEPT: usize = 256;
/// How long to wait before listening again when the database is away.
const PAUSE: Duration = Duration::from_secs(1);

/// Hands on what was heard. Cheap to clone.
#[derive(Debug, Clone)]
pub struct Live {
    heard: broadcast::Sender<Change>,
    closing: watch::Sender<bool>,
}

impl Default for Live {
    fn default() -> Self {
        Self {
            heard: broadcast::channel(KEPT).0,
            closing: watch::channel(false).0,
        }
    }
}

impl Live {
    /// Listens to the database for as long as the process serves.
    pub async fn relay(self, store: Store) {
        loop {
            match store.changes().await {
                Ok(mut changes) => {
                    // Whoever was waiting while nobody listened may have missed something.
                    let _ = self.heard.send(Change::Anything);
                    while let Ok(change) = changes.next().await {
                        let _ = self.heard.send(change);
                    }
                }
                Err(e) => tracing::warn!("live updates wait for the database: {e}"),
            }
            tokio::time::sleep(PAUSE).await;
        }
    }

    /// Ends all streams.
    pub fn close(&self) {
        self.closing.send_replace(true);
    }
}

/// `GET /cases/{id}/live`: an event with the number of the case's last entry each time it changes.
pub async fn stream(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, PageError> {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("case"))?;
    // Subscribed before the row is read: what happens in between is heard.
    let listening = (state.live.heard.subscribe(), state.live.closing.subscribe());
    let first = state.store.case_row(id).await?.last_seq;
    let events = stream::unfold(
        (Some(first), listening, id),
        |(first, (mut heard, mut closing), id)| async move {
            if let Some(seq) = first {
                return Some((Ok(said(seq)), (None, (heard, closing), id)));
            }
            loop {
                let change = tokio::select! {
                    _ = closing.wait_for(|closing| *closing) => return None,
                    change = heard.recv() => change,
                };
                let seq = match change {
                    Ok(Change::Case(case, seq)) if case == id => seq,
                    Ok(Change::Case(..)) => continue,
                    // Larger than any number there is: whoever hears it looks again.
                    Ok(Change::Anything) | Err(broadcast::error::RecvError::Lagged(_)) => u32::MAX,
                    Err(broadcast::error::RecvError::Closed) => return None,
                };
                return Some((Ok(said(seq)), (None, (heard, closing), id)));
            }
        },
    );
    Ok(Sse::new(events).keep_alive(KeepAlive::default()))
}

fn said(seq: u32) -> Event {
    Event::default().event("entry").data(seq.to_string())
}
