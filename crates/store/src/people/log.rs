//! What was changed among members, and by whom. Written down and never edited; names stand in the
//! members' table alone.

use crate::{Store, StoreError};
use sea_orm::{ConnectionTrait, DbBackend, Statement, Value};
use suspect_core::people::Changed;
use time::OffsetDateTime;
use uuid::Uuid;

/// Something that was changed.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PeopleEntry {
    /// When.
    pub at: OffsetDateTime,
    /// Who did it.
    pub by: Option<Uuid>,
    /// Whom it is about.
    pub about: Option<Uuid>,
    /// What.
    pub what: Changed,
    /// More of it.
    pub detail: String,
}

impl Store {
    /// Writes a change down.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn note_of_people(&self, entry: &PeopleEntry) -> Result<(), StoreError> {
        const NOTE: &str = "INSERT INTO people_entry (at, by, about, what, detail)
            VALUES ($1, $2, $3, $4, $5)";
        let _turn = self.gate.writer().await?;
        let values: [Value; 5] = [
            entry.at.into(),
            entry.by.into(),
            entry.about.into(),
            entry.what.id().into(),
            entry.detail.clone().into(),
        ];
        let note = Statement::from_sql_and_values(DbBackend::Postgres, NOTE, values);
        self.db.execute_raw(note).await?;
        Ok(())
    }

    /// The latest changes, the last first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn notes_of_people(&self, most: u64) -> Result<Vec<PeopleEntry>, StoreError> {
        const ALL: &str = "SELECT at, by, about, what, detail FROM people_entry
            ORDER BY id DESC LIMIT $1";
        let _turn = self.gate.reader().await?;
        let values: [Value; 1] = [(most as i64).into()];
        let all = Statement::from_sql_and_values(DbBackend::Postgres, ALL, values);
        let mut entries = Vec::new();
        for row in self.db.query_all_raw(all).await? {
            let what: String = row.try_get_by_index(3)?;
            // What a newer program wrote is nothing to this one.
            if let Some(what) = Changed::from_id(&what) {
                entries.push(PeopleEntry {
                    at: row.try_get_by_index(0)?,
                    by: row.try_get_by_index(1)?,
                    about: row.try_get_by_index(2)?,
                    what,
                    detail: row.try_get_by_index(4)?,
                });
            }
        }
        Ok(entries)
    }
}
