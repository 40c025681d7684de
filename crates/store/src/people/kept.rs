//! What is kept of a person: every entry that bears their number, from every log.

use crate::{Store, StoreError};
use sea_orm::{ConnectionTrait, DbBackend, Statement, Value};
use time::OffsetDateTime;

/// An entry of some log.
#[derive(Debug, Clone, PartialEq)]
pub struct Recorded {
    /// `case`, `machine`, `series` or `shelf`.
    pub log: String,
    /// What it is the log of.
    pub of: String,
    /// Its number there.
    pub seq: i32,
    /// When.
    pub at: OffsetDateTime,
    /// What was recorded.
    pub event: serde_json::Value,
}

impl Store {
    /// Everything that somebody recorded, as entries name them, in order.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn recorded_by(&self, author: &str) -> Result<Vec<Recorded>, StoreError> {
        const ALL: &str = "
            SELECT 'case', case_id::text, seq, at, event FROM case_entry WHERE by = $1
            UNION ALL SELECT 'machine', machine_id::text, seq, at, event FROM machine_entry
                WHERE by = $1
            UNION ALL SELECT 'series', series_id::text, seq, at, event::jsonb FROM series_entry
                WHERE by = $1
            UNION ALL SELECT 'shelf', thing_id::text, seq, at, event::jsonb FROM shelf_entry
                WHERE by = $1
            ORDER BY 4, 1, 2, 3";
        let _turn = self.gate.reader().await?;
        let values: [Value; 1] = [author.into()];
        let all = Statement::from_sql_and_values(DbBackend::Postgres, ALL, values);
        let rows = self.db.query_all_raw(all).await?;
        let of = |row: &sea_orm::QueryResult| {
            Ok(Recorded {
                log: row.try_get_by_index(0)?,
                of: row.try_get_by_index(1)?,
                seq: row.try_get_by_index(2)?,
                at: row.try_get_by_index(3)?,
                event: row.try_get_by_index(4)?,
            })
        };
        rows.iter().map(of).collect()
    }
}
