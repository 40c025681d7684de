//! Everything the workshop wrote, found by words: cases, journals of machines, spools and stock.
//!
//! PostgreSQL's full text finds; where a word is in nothing that was written, the most alike that
//! is stands in for it.

use crate::entity::{case_summary, machine_entry, shelf};
use crate::entries::machine_entry as entry_of;
use crate::lists::{CaseRow, all};
use crate::{Store, StoreError};
use sea_orm::{
    ColumnTrait, ConnectionTrait, DbBackend, EntityTrait, FromQueryResult, QueryFilter, QueryOrder,
    Statement,
};
use suspect_core::machine::MachineEntry;
use suspect_core::nearest::nearest;
use uuid::Uuid;

/// Hits of one kind.
const MOST: u64 = 12;
/// A longer query is cut.
const LONGEST: usize = 200;
/// Writings in whose words a neighbour of a misspelt one is sought.
const VOCABULARY: &str = "SELECT word FROM ts_stat('
    (SELECT found FROM case_words ORDER BY case_id DESC LIMIT 3000)
    UNION ALL
    (SELECT to_tsvector(''english'', event) FROM machine_entry ORDER BY at DESC LIMIT 5000)
    UNION ALL
    (SELECT to_tsvector(''english'', event) FROM shelf_entry ORDER BY at DESC LIMIT 2000)
    ') WHERE length(word) > 2";

/// What was found.
#[derive(Debug, Clone, Default)]
pub struct Written {
    /// Cases, open or closed.
    pub cases: Vec<CaseRow>,
    /// Entries of journals, each with its machine.
    pub journal: Vec<(Uuid, MachineEntry)>,
    /// Spools and spare parts: kind and identifier.
    pub things: Vec<(String, Uuid)>,
    /// The words it was found by, where those given are in nothing that was written.
    pub instead: Option<String>,
}

impl Written {
    /// Nothing was found.
    pub fn is_empty(&self) -> bool {
        self.cases.is_empty() && self.journal.is_empty() && self.things.is_empty()
    }
}

impl Store {
    /// What the workshop wrote that has these words.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn find_written(&self, words: &str) -> Result<Written, StoreError> {
        let words: String = words.chars().take(LONGEST).collect();
        let _turn = self.gate.reader().await?;
        let found = self.written(&words).await?;
        if !found.is_empty() || words.trim().is_empty() {
            return Ok(found);
        }
        let Some(instead) = self.corrected(&words).await? else {
            return Ok(found);
        };
        Ok(Written {
            instead: Some(instead.clone()),
            ..self.written(&instead).await?
        })
    }

    async fn written(&self, words: &str) -> Result<Written, StoreError> {
        let cases = self
            .ids(
                "SELECT case_id FROM case_words
                 WHERE found @@ websearch_to_tsquery('english', $1)
                 ORDER BY ts_rank(found, websearch_to_tsquery('english', $1)) DESC, case_id DESC",
                words,
            )
            .await?;
        let things = self
            .ids(
                "SELECT DISTINCT thing_id FROM shelf_entry
                 WHERE to_tsvector('english', event) @@ websearch_to_tsquery('english', $1)",
                words,
            )
            .await?;
        let journal = "SELECT machine_id, seq, at, by, event FROM machine_entry
            WHERE to_tsvector('english', event) @@ websearch_to_tsquery('english', $1)
            ORDER BY at DESC LIMIT $2";
        let values = [words.into(), (MOST as i64).into()];
        let journal = Statement::from_sql_and_values(DbBackend::Postgres, journal, values);
        let rows = machine_entry::Model::find_by_statement(journal)
            .all(&self.db)
            .await?;
        let journal = rows
            .into_iter()
            .map(|row| Ok((row.machine_id, entry_of(row)?)));
        let rows = case_summary::Entity::find()
            .filter(case_summary::Column::CaseId.is_in(cases))
            .order_by_desc(case_summary::Column::Number)
            .all(&self.db)
            .await?;
        let things = shelf::Entity::find()
            .filter(shelf::Column::Id.is_in(things))
            .order_by_desc(shelf::Column::Number)
            .all(&self.db)
            .await?;
        Ok(Written {
            cases: all(rows)?,
            journal: journal.collect::<Result<_, StoreError>>()?,
            things: things.into_iter().map(|t| (t.kind, t.id)).collect(),
            instead: None,
        })
    }

    async fn ids(&self, sql: &str, words: &str) -> Result<Vec<Uuid>, StoreError> {
        let sql = format!("{sql} LIMIT $2");
        let values = [words.into(), (MOST as i64).into()];
        let sql = Statement::from_sql_and_values(DbBackend::Postgres, sql, values);
        let rows = self.db.query_all_raw(sql).await?;
        rows.iter()
            .map(|row| Ok(row.try_get_by_index(0)?))
            .collect()
    }

    /// The same words, each that was never written by the most alike that was.
    async fn corrected(&self, words: &str) -> Result<Option<String>, StoreError> {
        let sql = Statement::from_string(DbBackend::Postgres, VOCABULARY);
        let rows = self.db.query_all_raw(sql).await?;
        let known: Result<Vec<String>, _> = rows.iter().map(|r| r.try_get_by_index(0)).collect();
        let known = known?;
        let near = |word: &str| {
            let lower = word.to_lowercase();
            match nearest(&lower, known.iter().map(String::as_str)) {
                Some(near) => near.to_string(),
                None => lower,
            }
        };
        let instead: Vec<String> = words.split_whitespace().map(near).collect();
        let instead = instead.join(" ");
        Ok((instead != words.to_lowercase()).then_some(instead))
    }
}
