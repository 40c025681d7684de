//! The workshop's settings: the latest entry counts, all are kept.

use crate::entity::{case_summary, workshop_entry};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter,
    QueryOrder, TransactionTrait,
};
use suspect_core::case;
use suspect_core::knowledge::Knowledge;
use suspect_core::planning::Workshop;
use time::OffsetDateTime;

/// Any fixed number: who writes settings waits for whoever else does.
const SETTINGS_LOCK: &str = "SELECT pg_advisory_xact_lock(7245)";

impl Store {
    /// The settings that count now, with the number of their entry: 0 for the defaults.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn workshop(&self) -> Result<(Workshop, u32), StoreError> {
        latest(&self.db).await
    }

    /// Sets them anew, after the entry that the writer knew. The next steps of open cases are written again, as lists show them.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when someone else set them first.
    pub async fn set_workshop(
        &self,
        knowledge: &Knowledge,
        expected: u32,
        workshop: &Workshop,
        at: OffsetDateTime,
    ) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        transaction.execute_unprepared(SETTINGS_LOCK).await?;
        let (now, actual) = latest(&transaction).await?;
        if now == *workshop {
            return Ok(transaction.commit().await?);
        }
        if actual != expected {
            transaction.rollback().await?;
            return Err(StoreError::Conflict {
                expected,
                actual,
                since: Vec::new(),
            });
        }
        let settings =
            serde_json::to_value(workshop).map_err(|e| sea_orm::DbErr::Json(e.to_string()))?;
        workshop_entry::ActiveModel {
            seq: Set(actual as i32 + 1),
            at: Set(at),
            settings: Set(settings),
        }
        .insert(&transaction)
        .await?;
        let open = case_summary::Entity::find()
            .filter(case_summary::Column::Status.ne("resolved"))
            .all(&transaction)
            .await?;
        for row in open {
            let state = case::replay(
                knowledge,
                &crate::cases::read_log(&transaction, row.case_id).await?,
            );
            let next = case::summary(knowledge, &state, workshop).next_step;
            if next != row.next_step {
                case_summary::ActiveModel {
                    case_id: Set(row.case_id),
                    next_step: Set(next),
                    ..Default::default()
                }
                .update(&transaction)
                .await?;
            }
        }
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
            let settings = serde_json::from_value(row.settings)
                .map_err(|e| sea_orm::DbErr::Json(e.to_string()))?;
            Ok((settings, row.seq as u32))
        }
    }
}
