//! What log, machines and projection share: rows locked, entries read, listeners told.

use crate::StoreError;
use crate::entity::{case_entry, machine, machine_entry as machine_log};
use sea_orm::{
    ColumnTrait, ConnectionTrait, DatabaseTransaction, EntityTrait, QueryFilter, QueryOrder,
    QuerySelect,
};
use std::collections::BTreeMap;
use suspect_core::case::{Entry, Event};
use suspect_core::machine::MachineEntry;
use uuid::Uuid;

/// A machine's row, held until the transaction ends: whoever writes to one of its cases waits.
pub(crate) async fn lock_machine(
    transaction: &DatabaseTransaction,
    id: Uuid,
) -> Result<machine::Model, StoreError> {
    let row = machine::Entity::find_by_id(id)
        .lock_exclusive()
        .one(transaction)
        .await?;
    row.ok_or(StoreError::NotFound)
}

/// Tells every process that listens, once the transaction stands.
pub(crate) async fn tell(db: &impl ConnectionTrait, id: Uuid, last: u32) -> Result<(), StoreError> {
    let told = format!(
        "SELECT pg_notify('{}', '{id} {last}')",
        crate::changes::CHANNEL
    );
    db.execute_unprepared(&told).await?;
    Ok(())
}

/// Tells the other open cases of a machine to look again: it was locked, freed, or changed.
pub(crate) async fn tell_machine(
    db: &impl ConnectionTrait,
    machine: Uuid,
    besides: Uuid,
) -> Result<(), StoreError> {
    let told = format!(
        "SELECT pg_notify('{}', case_id || ' look') FROM case_summary
         WHERE machine_id = '{machine}' AND case_id <> '{besides}' AND status <> 'resolved'",
        crate::changes::CHANNEL
    );
    db.execute_unprepared(&told).await?;
    Ok(())
}

/// All entries of a case, first one first.
pub(crate) async fn read_log(
    db: &impl ConnectionTrait,
    id: Uuid,
) -> Result<Vec<Entry>, StoreError> {
    let rows = case_entry::Entity::find()
        .filter(case_entry::Column::CaseId.eq(id))
        .order_by_asc(case_entry::Column::Seq)
        .all(db)
        .await?;
    rows.into_iter().map(entry).collect()
}

/// An entry as its row has it.
pub(crate) fn entry(row: case_entry::Model) -> Result<Entry, StoreError> {
    Ok(Entry {
        seq: row.seq as u32,
        at: row.at,
        by: row.by,
        event: serde_json::from_value(row.event).map_err(crate::error::unreadable)?,
    })
}

/// What a case's events say of its machine, put together.
pub(crate) fn said_of_machine(events: &[Event]) -> BTreeMap<String, String> {
    let said = events.iter().filter_map(|e| match e {
        Event::Described { machine, .. } => Some(machine.clone()),
        _ => None,
    });
    said.flatten().collect()
}

/// An entry of a machine's log as its row has it.
pub(crate) fn machine_entry(row: machine_log::Model) -> Result<MachineEntry, StoreError> {
    Ok(MachineEntry {
        seq: row.seq as u32,
        at: row.at,
        by: row.by,
        event: serde_json::from_value(row.event).map_err(crate::error::unreadable)?,
    })
}
