//! Who writes to a case is told to everyone who has it open, through server-sent events.
//!
//! The database tells each process what any of them stored; the process tells its browsers. There
//! is one stream for all pages of a browser, and it carries no content of its own: the case, and
//! the number of its last entry. A page that hears of a newer entry than it shows fetches itself
//! again.

use std::sync::Arc;
use std::time::Duration;
use suspect_store::Store;
use suspect_store::changes::Change;
use tokio::sync::{OwnedSemaphorePermit, Semaphore, broadcast, watch};

/// Changes kept for a page that is slow to listen; one that falls further behind fetches itself
/// anew.
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

    /// A place for one stream more; nothing when all are taken.
    pub fn listen(&self) -> Option<Listening> {
        Some(Listening {
            heard: self.heard.subscribe(),
            closing: self.closing.subscribe(),
            _place: Arc::clone(&self.places).try_acquire_owned().ok()?,
        })
    }

    /// Ends all streams.
    pub fn close(&self) {
        self.closing.send_replace(true);
    }
}

/// One who listens.
pub struct Listening {
    heard: broadcast::Receiver<Change>,
    closing: watch::Receiver<bool>,
    _place: OwnedSemaphorePermit,
}

impl Listening {
    /// The next change; nothing when the process ends its streams.
    pub async fn next(&mut self) -> Option<Change> {
        tokio::select! {
            _ = self.closing.wait_for(|closing| *closing) => None,
            change = self.heard.recv() => match change {
                Ok(change) => Some(change),
                Err(broadcast::error::RecvError::Lagged(_)) => Some(Change::Anything),
                Err(broadcast::error::RecvError::Closed) => None,
            },
        }
    }
}
