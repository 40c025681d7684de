//! Who wrote to which case: told by the database, so that every process hears of what another
//! stored.

use crate::{Store, StoreError};
use sea_orm::sqlx::postgres::PgListener;
use uuid::Uuid;

/// The channel every append is told on, as "case sequence-number", or "case look" where something
/// outside the case changed what its page says.
pub(crate) const CHANNEL: &str = "case_changed";

/// What was heard.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Change {
    /// A case has a new last event.
    Case(Uuid, u32),
    /// Something outside a case changed what its page says: its machine was locked or freed.
    Look(Uuid),
    /// The connection was lost for a while: anything may have changed.
    Anything,
}

/// A connection of its own that listens.
#[derive(Debug)]
pub struct Changes(PgListener);

impl Store {
    /// Begins to listen.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn changes(&self) -> Result<Changes, StoreError> {
        let lost = |e: sea_orm::sqlx::Error| sea_orm::DbErr::Custom(e.to_string());
        let mut listener = PgListener::connect_with(self.db.get_postgres_connection_pool())
            .await
            .map_err(lost)?;
        listener.listen(CHANNEL).await.map_err(lost)?;
        Ok(Changes(listener))
    }
}

impl Changes {
    /// Waits for the next change.
    ///
    /// # Errors
    /// When the connection is lost and cannot be made again now.
    pub async fn next(&mut self) -> Result<Change, StoreError> {
        loop {
            match self
                .0
                .try_recv()
                .await
                .map_err(|e| sea_orm::DbErr::Custom(e.to_string()))?
            {
                None => return Ok(Change::Anything),
                Some(told) => {
                    if let Some(change) = parse(told.payload()) {
                        return Ok(change);
                    }
                }
            }
        }
    }
}

fn parse(told: &str) -> Option<Change> {
    let (case, what) = told.split_once(' ')?;
    let case = case.parse().ok()?;
    match what {
        "look" => Some(Change::Look(case)),
        seq => Some(Change::Case(case, seq.parse().ok()?)),
    }
}
