//! Who may use the database now: fewer at once than there are connections, and among them fewer
//! writers still, so that writers who wait for one machine never keep everybody else from reading.

use crate::StoreError;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, LazyLock};
use std::time::{Duration, Instant};
use tokio::sync::{Semaphore, SemaphorePermit};

/// Requests that use the database at once; one connection more listens for changes.
const MOST_AT_ONCE: usize = 10;
/// Of these, writers.
const MOST_WRITERS: usize = 4;
/// How long somebody waits for a turn before a page says that there are too many.
const PATIENCE: Duration = Duration::from_secs(8);

/// So many seconds after an unanswered question the database still counts as away: whoever waited
/// in vain meanwhile is told that and not that there are too many.
const AWAY_FOR: u64 = 15;
static AWAY_UNTIL: AtomicU64 = AtomicU64::new(0);
static START: LazyLock<Instant> = LazyLock::new(Instant::now);

/// Seconds since the process began to ask; one more, so that 0 is before everything.
fn seconds() -> u64 {
    START.elapsed().as_secs() + 1
}

/// Notes that the database did not answer.
pub(crate) fn unanswered() {
    AWAY_UNTIL.store(seconds() + AWAY_FOR, Ordering::Relaxed);
}

/// Turns at the database. Cheap to clone.
#[derive(Debug, Clone)]
pub(crate) struct Gate {
    all: Arc<Semaphore>,
    writers: Arc<Semaphore>,
}

/// A turn; ends when dropped.
#[derive(Debug)]
pub(crate) struct Turn<'a> {
    _one: SemaphorePermit<'a>,
    _writer: Option<SemaphorePermit<'a>>,
}

impl Default for Gate {
    fn default() -> Self {
        Self {
            all: Arc::new(Semaphore::new(MOST_AT_ONCE)),
            writers: Arc::new(Semaphore::new(MOST_WRITERS)),
        }
    }
}

impl Gate {
    /// Connections a process needs: one for each turn, one that listens, one that starts and
    /// rebuilds.
    pub(crate) const CONNECTIONS: u32 = MOST_AT_ONCE as u32 + 4;

    /// Waits for a turn to read.
    pub(crate) async fn reader(&self) -> Result<Turn<'_>, StoreError> {
        Ok(Turn {
            _one: self.turn(&self.all).await?,
            _writer: None,
        })
    }

    /// Waits for a turn to write.
    pub(crate) async fn writer(&self) -> Result<Turn<'_>, StoreError> {
        let writer = self.turn(&self.writers).await?;
        Ok(Turn {
            _one: self.turn(&self.all).await?,
            _writer: Some(writer),
        })
    }

    async fn turn<'a>(&'a self, of: &'a Semaphore) -> Result<SemaphorePermit<'a>, StoreError> {
        match tokio::time::timeout(PATIENCE, of.acquire()).await {
            Ok(Ok(permit)) => Ok(permit),
            _ if seconds() < AWAY_UNTIL.load(Ordering::Relaxed) => Err(StoreError::Unavailable(
                sea_orm::DbErr::Custom("no turn: the database is away".into()),
            )),
            _ => Err(StoreError::Busy),
        }
    }
}
