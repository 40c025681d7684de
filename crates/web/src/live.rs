//! Who writes to a case is told to everyone who has it open, through server-sent events.
//!
//! The database tells each process what any of them stored; the process tells its browsers. There is
//! one stream for all pages of a browser, and it carries no content of its own: the case, and the
//! number of its last entry. A page that hears of a newer entry than it shows fetches itself again.

use crate::page_error::PageError;
use crate::state::AppState;
use axum::extract::{Path, State};
use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::stream::{self, Stream};
use std::convert::Infallible;
use std::sync::Arc;
use std::time::Duration;
use suspect_store::changes::Change;
use suspect_store::{Store, Uuid};
use tokio::sync::{OwnedSemaphorePermit, Semaphore, broadcast, watch};

/// Changes kept for a page that is slow to listen; one that falls further behind fetches itself anew.
const KEPT: usize = 256;
/// How long to wait before listening again when the database is away.
const PAUSE: Duration = Duration::from_secs(1);
/// Streams of one process at once: a few for each person of a large workshop.
const MOST_STREAMS: usize = 400;

/// Hands on what was heard. Cheap to clone.
#[derive(Debug, Clone)]
pub struct Live {
    heard: broadcast::Sender<Change>,
    closing: watch::Sender<bool>,
    places: Arc<Semaphore>,
}

impl Default for Live {
    fn default() -> Self {
        Self {
            heard: broadcast::channel(KEPT).0,
            closing: watch::channel(false).0,
            places: Arc::new(Semaphore::new(MOST_STREAMS)),
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

struct Listening {
    heard: broadcast::Receiver<Change>,
    closing: watch::Receiver<bool>,
    _place: OwnedSemaphorePermit,
}

/// `GET /live`: an event for each change of any case.
pub async fn stream(
    State(state): State<AppState>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, PageError> {
    let place = Arc::clone(&state.live.places).try_acquire_owned();
    let listening = Listening {
        heard: state.live.heard.subscribe(),
        closing: state.live.closing.subscribe(),
        _place: place.map_err(|_| PageError::Busy)?,
    };
    let events = stream::unfold((true, listening), |(first, mut at)| async move {
        if first {
            // Whoever begins to listen read its page before and asks what came in between.
            return Some((Ok(Event::default().event("open").data("")), (false, at)));
        }
        let change = tokio::select! {
            _ = at.closing.wait_for(|closing| *closing) => return None,
            change = at.heard.recv() => match change {
                Ok(change) => change,
                Err(broadcast::error::RecvError::Lagged(_)) => Change::Anything,
                Err(broadcast::error::RecvError::Closed) => return None,
            },
        };
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
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<String, PageError> {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("case"))?;
    Ok(state.store.case_row(id).await?.last_seq.to_string())
}
