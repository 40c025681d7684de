//! The workshop's settings: the latest entry counts, all are kept.

use crate::entity::{case_summary, workshop_entry};
use crate::stamp::{self, Content, Stamp};
use crate::{Store, StoreError};
use sea_orm::sea_query::Expr;
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter,
    QueryOrder, TransactionTrait,
};
use suspect_core::planning::Workshop;

/// Any fixed number: who writes settings waits for whoever writes to a case, and the other way
/// round.
const LOCK: u32 = 7245;

/// Taken by whoever writes to a case: the settings stay as they are until it is done.
pub(crate) async fn shared_lock(db: &impl ConnectionTrait) -> Result<(), StoreError> {
    let lock = format!("SELECT pg_advisory_xact_lock_shared({LOCK})");
    db.execute_unprepared(&lock).await?;
    Ok(())
}

/// Taken by whoever sets them anew, or takes a history in: nobody writes to a case meanwhile.
pub(crate) async fn own_lock(db: &impl ConnectionTrait) -> Result<(), StoreError> {
    let lock = format!("SELECT pg_advisory_xact_lock({LOCK})");
    db.execute_unprepared(&lock).await?;
    Ok(())
}

impl Store {
    /// The settings that count now, with the number of their entry: 0 for the defaults.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn workshop(&self) -> Result<(Workshop, u32), StoreError> {
        let _turn = self.gate.reader().await?;
        latest(&self.db).await
    }

    /// Sets them anew, after the entry that the writer knew. The rows of open cases are marked:
    /// what lists show of them is written again by [`Store::rebuild`].
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when someone else set them first.
    pub async fn set_workshop(
        &self,
        expected: u32,
        workshop: &Workshop,
        stamp: impl Into<Stamp>,
    ) -> Result<(), StoreError> {
        let stamp = stamp.into();
        let settings = serde_json::to_value(workshop).map_err(crate::error::unreadable)?;
        let content = Content::new(None, &settings);
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        own_lock(&transaction).await?;
        let (now, actual) = latest(&transaction).await?;
        let again = stamp::taken_before(&transaction, &stamp, &content).await?;
        if now == *workshop && (again.is_some() || stamp.touch.is_none() || actual == expected) {
            return Ok(());
        }
        if actual != expected {
            return Err(StoreError::Conflict {
                expected,
                actual,
                since: Vec::new(),
            });
        }
        let next = actual + 1;
        workshop_entry::ActiveModel {
            seq: Set(next as i32),
            at: Set(stamp.at),
            by: Set(stamp.by.clone()),
            settings: Set(settings),
        }
        .insert(&transaction)
        .await?;
        stamp::keep(&transaction, &stamp, content, next, next).await?;
        case_summary::Entity::update_many()
            .col_expr(case_summary::Column::Stamp, Expr::val(""))
            .filter(case_summary::Column::Status.ne("resolved"))
            .exec(&transaction)
            .await?;
        Ok(transaction.commit().await?)
    }
}

pub(crate) async fn latest(db: &impl ConnectionTrait) -> Result<(Workshop, u32), StoreError> {
    let row = workshop_entry::Entity::find()
        .order_by_desc(workshop_entry::Column::Seq)
        .one(db)
        .await?;
    match row {
        None => Ok((Workshop::default(), 0)),
        Some(row) => {
            let settings =
                serde_json::from_value(row.settings).map_err(crate::error::unreadable)?;
            Ok((settings, row.seq as u32))
        }
    }
}
