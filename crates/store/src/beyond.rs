//! What is written beyond a case, in its transaction: its machine's log, filament from its spool.

use crate::stamp::Stamp;
use crate::{StoreError, machines, used_up};
use sea_orm::DatabaseTransaction;
use suspect_core::case::{Entry, Event};
use suspect_core::knowledge::Knowledge;
use uuid::Uuid;

/// Writes what some events of a case mean elsewhere. `log` is the case's as it was before, `spool`
/// the spool as the case names it.
pub(crate) async fn write(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    (case, machine, number): (Uuid, Uuid, i64),
    (log, spool): (&[Entry], &str),
    events: &[Event],
    stamp: &Stamp,
) -> Result<(), StoreError> {
    let of = (case, log);
    machines::told_by_case(transaction, knowledge, machine, of, events, stamp).await?;
    used_up::filament(transaction, knowledge, (spool, number), events, stamp).await
}
