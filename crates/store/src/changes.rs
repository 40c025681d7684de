//! Who wrote to which case: told by the database, so that every process hears of what another stored.

use crate::{Store, StoreError};
use sea_orm::sqlx::postgres::PgListener;
use uuid::Uuid;

/// The channel every append is told on, as "case sequence-number".
pub(crate) const CHANNEL: &str = "case_changed";

/// What was heard.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Change {
    /// A case has a new last event.
    Case(Uuid, u32),
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
                    let change = told
                        .payload()
                        .split_once(' ')
                        .and_then(|(id, seq)| Some((id.parse().ok()?, seq.parse().ok()?)));
                    if let Some((case, seq)) = change {
                        return Ok(Change::Case(case, seq));
                    }
                }
            }
        }
    }
}
