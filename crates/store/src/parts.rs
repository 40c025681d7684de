//! What is noted about a machine between cases: its counter, parts fitted new.

use crate::entity::{machine, machine_entry};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter,
    QueryOrder, QuerySelect, TransactionTrait,
};
use suspect_core::case::Refusal;
use suspect_core::parts::{MachineEntry, MachineEvent, accept};
use suspect_core::profile::Context;
use time::OffsetDateTime;
use uuid::Uuid;

impl Store {
    /// The log of a machine, in order.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn machine_log(&self, machine: Uuid) -> Result<Vec<MachineEntry>, StoreError> {
        read(&self.db, machine).await
    }

    /// Appends to the log of a machine.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], or [`StoreError::Refused`] when the event makes no sense.
    pub async fn append_to_machine(
        &self,
        machine: Uuid,
        event: &MachineEvent,
        at: OffsetDateTime,
    ) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        let row = machine::Entity::find_by_id(machine)
            .lock_exclusive()
            .one(&transaction)
            .await?
            .ok_or(StoreError::NotFound)?;
        let log = read(&transaction, machine).await?;
        let mut context = Context::default();
        let profile: std::collections::BTreeMap<String, String> =
            serde_json::from_value(row.profile).unwrap_or_default();
        // What the present program does not know of a stored profile counts as not known.
        profile
            .iter()
            .for_each(|(field, value)| drop(context.set(field, value)));
        accept(&context, &log, event).map_err(|message| Refusal::Invalid {
            field: "hours".into(),
            message,
        })?;
        machine_entry::ActiveModel {
            machine_id: Set(machine),
            seq: Set(log.len() as i32 + 1),
            at: Set(at),
            event: Set(
                serde_json::to_value(event).map_err(|e| sea_orm::DbErr::Json(e.to_string()))?
            ),
        }
        .insert(&transaction)
        .await?;
        Ok(transaction.commit().await?)
    }
}

async fn read(db: &impl ConnectionTrait, machine: Uuid) -> Result<Vec<MachineEntry>, StoreError> {
    let rows = machine_entry::Entity::find()
        .filter(machine_entry::Column::MachineId.eq(machine))
        .order_by_asc(machine_entry::Column::Seq)
        .all(db)
        .await?;
    let entry = |row: machine_entry::Model| {
        let event =
            serde_json::from_value(row.event).map_err(|e| sea_orm::DbErr::Json(e.to_string()))?;
        Ok(MachineEntry { at: row.at, event })
    };
    rows.into_iter().map(entry).collect()
}
