//! Spools and stock, out of a view of one moment and in again.

use super::snapshot::Snapshot;
use super::taking_in::TakingIn;
use crate::StoreError;
use crate::entity::shelf;
use crate::shelf::{insert, log, row_of};
use sea_orm::{ActiveModelTrait, ColumnTrait, EntityTrait, QueryFilter, QueryOrder};
use suspect_core::shelf::{Shelved, Shelving};
use uuid::Uuid;

/// A thing with its log.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredThing<E> {
    /// Identifier.
    pub id: Uuid,
    /// Running number among its like.
    pub number: i64,
    /// Everything that happened.
    pub log: Vec<Shelving<E>>,
}

impl Snapshot {
    /// All things of a kind with their logs, in the order of their numbers.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn things<T: Shelved>(&self) -> Result<Vec<StoredThing<T::Event>>, StoreError> {
        let rows = shelf::Entity::find()
            .filter(shelf::Column::Kind.eq(T::KIND))
            .order_by_asc(shelf::Column::Number)
            .all(&self.0)
            .await?;
        let mut all = Vec::with_capacity(rows.len());
        for row in rows {
            all.push(StoredThing {
                id: row.id,
                number: row.number,
                log: log::<T>(&self.0, row.id).await?,
            });
        }
        Ok(all)
    }
}

impl TakingIn {
    /// A thing that is not here, with its log.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn thing<T: Shelved>(
        &self,
        stored: &StoredThing<T::Event>,
    ) -> Result<(), StoreError> {
        let Some(last) = stored.log.last() else {
            return Ok(());
        };
        let now = T::of(&stored.log);
        let row = row_of(stored.id, stored.number, &now, last.seq, last.at)?;
        row.insert(&self.transaction).await?;
        for entry in &stored.log {
            insert::<T>(&self.transaction, stored.id, entry).await?;
        }
        Ok(())
    }
}
