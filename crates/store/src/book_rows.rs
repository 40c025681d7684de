//! Rows of books: written with each entry of a machine's log, in the same transaction.

use crate::entity::{machine_book, machine_entry as machine_log};
use crate::entries::machine_entry;
use crate::outdated::{Whose, numbers_moved};
use crate::stamp::Stamp;
use crate::{StoreError, think, used_up};
use sea_orm::{
    ActiveValue::Set, ColumnTrait, ConnectionTrait, DatabaseTransaction, DbBackend, EntityTrait,
    QueryFilter, QueryOrder, Statement,
};
use suspect_core::book::Book;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{MachineEntry, MachineEvent};
use uuid::Uuid;

/// The way of summing up: a new one has all books made anew.
pub(crate) const WAY: &str = "1";

/// Machines whose book is missing or was made in another way.
pub(crate) async fn stale(db: &impl ConnectionTrait) -> Result<Vec<Uuid>, StoreError> {
    let sql = "SELECT m.id FROM machine m LEFT JOIN machine_book b ON b.machine_id = m.id
        WHERE b.made IS DISTINCT FROM $1 ORDER BY m.id";
    let sql = Statement::from_sql_and_values(DbBackend::Postgres, sql, [WAY.into()]);
    let rows = db.query_all_raw(sql).await?;
    rows.iter()
        .map(|row| Ok(row.try_get_by_index(0)?))
        .collect()
}

/// The log of a machine, in order.
pub(crate) async fn log(
    db: &impl ConnectionTrait,
    machine: Uuid,
) -> Result<Vec<MachineEntry>, StoreError> {
    let rows = machine_log::Entity::find()
        .filter(machine_log::Column::MachineId.eq(machine))
        .order_by_asc(machine_log::Column::Seq)
        .all(db)
        .await?;
    rows.into_iter().map(machine_entry).collect()
}

/// Writes the book of a machine whose log this is.
pub(crate) async fn write(
    db: &impl ConnectionTrait,
    machine: Uuid,
    log: &[MachineEntry],
) -> Result<(), StoreError> {
    let book = think(|| Book::of(log)).await;
    let row = machine_book::ActiveModel {
        machine_id: Set(machine),
        made: Set(WAY.into()),
        seq: Set(log.last().map_or(0, |e| e.seq as i32)),
        book: Set(serde_json::to_value(&book).map_err(crate::error::unreadable)?),
    };
    let columns = [
        machine_book::Column::Made,
        machine_book::Column::Seq,
        machine_book::Column::Book,
    ];
    let mut or_update = sea_orm::sea_query::OnConflict::column(machine_book::Column::MachineId);
    or_update.update_columns(columns);
    machine_book::Entity::insert(row)
        .on_conflict(or_update)
        .exec_without_returning(db)
        .await?;
    Ok(())
}

/// Brings the book of a machine up to its log after some events, and takes parts that were fitted
/// off the stock. What moves suspects has the rows of its open cases made anew.
pub(crate) async fn follow(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    machine: Uuid,
    events: &[MachineEvent],
    stamp: &Stamp,
) -> Result<(), StoreError> {
    used_up::parts(transaction, knowledge, machine, events, stamp).await?;
    write(transaction, machine, &log(transaction, machine).await?).await?;
    let moves = |event: &MachineEvent| {
        matches!(
            event.what(),
            MachineEvent::Counter { .. }
                | MachineEvent::Fitted { .. }
                | MachineEvent::Worked { .. }
                | MachineEvent::Quirk { .. }
                | MachineEvent::Described { .. }
        )
    };
    match events.iter().any(moves) {
        true => numbers_moved(transaction, Whose::Machine(machine)).await,
        false => Ok(()),
    }
}
