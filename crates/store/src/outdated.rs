//! Rows that hang on numbers which changed: marked, to be written anew by
//! [`crate::Store::rebuild`].

use crate::StoreError;
use sea_orm::{ConnectionTrait, DatabaseTransaction, DbBackend, Statement, Value};
use uuid::Uuid;

/// Whose rows are old.
#[derive(Debug, Clone, Copy)]
pub(crate) enum Whose {
    /// Those of all open cases.
    All,
    /// Those of a machine's open cases.
    Machine(Uuid),
    /// Those of all open cases but one.
    AllBut(Uuid),
}

/// Rows of open cases tell a leader and a next step that hang on numbers beside their logs. Those
/// that somebody writes now are left to them.
pub(crate) async fn outdated(db: &impl ConnectionTrait, whose: Whose) -> Result<(), StoreError> {
    let (only, id): (&str, Option<Uuid>) = match whose {
        Whose::All => ("", None),
        Whose::Machine(id) => ("AND machine_id = $1", Some(id)),
        Whose::AllBut(id) => ("AND case_id <> $1", Some(id)),
    };
    let mark = format!(
        "UPDATE case_summary SET stamp = '' WHERE case_id IN (
        SELECT case_id FROM case_summary WHERE status <> 'resolved' {only}
        FOR UPDATE SKIP LOCKED)"
    );
    let values: Vec<Value> = id.into_iter().map(Value::from).collect();
    let mark = Statement::from_sql_and_values(DbBackend::Postgres, mark, values);
    db.execute_raw(mark).await?;
    Ok(())
}

/// What moves suspects beside closed cases changed: numbers that were read before are old, and so
/// are rows of open cases.
pub(crate) async fn numbers_moved(
    transaction: &DatabaseTransaction,
    whose: Whose,
) -> Result<(), StoreError> {
    let version = "UPDATE learned_state SET version = version + 1";
    transaction.execute_unprepared(version).await?;
    outdated(transaction, whose).await
}
