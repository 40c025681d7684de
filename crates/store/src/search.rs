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
    Statement, Value,
};
use suspect_core::machine::MachineEntry;
use suspect_core::nearest::nearest;
use time::OffsetDateTime;
use uuid::Uuid;

/// Hits of one kind.
const MOST: i64 = 12;
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

/// What all three are asked with: words, most finds, machine, cause, fix, from, to.
const CASES: &str = "SELECT w.case_id FROM case_words w JOIN case_summary s USING (case_id)
    WHERE w.found @@ websearch_to_tsquery('english', $1)
    AND ($3::uuid IS NULL OR s.machine_id = $3)
    AND ($4::text IS NULL OR s.cause = $4) AND ($5::text IS NULL OR s.fix = $5)
    AND ($6::timestamptz IS NULL OR s.updated_at >= $6)
    AND ($7::timestamptz IS NULL OR s.opened_at < $7)
    ORDER BY ts_rank(w.found, websearch_to_tsquery('english', $1)) DESC, w.case_id DESC LIMIT $2";
/// Entries of journals know fixes and no causes.
const JOURNAL: &str = "SELECT machine_id, seq, at, by, event FROM machine_entry
    WHERE to_tsvector('english', event) @@ websearch_to_tsquery('english', $1)
    AND ($3::uuid IS NULL OR machine_id = $3)
    AND $4::text IS NULL AND ($5::text IS NULL OR event->>'fix' = $5)
    AND ($6::timestamptz IS NULL OR at >= $6) AND ($7::timestamptz IS NULL OR at < $7)
    ORDER BY at DESC LIMIT $2";
/// Spools know the machines they were on; nothing on the shelf knows causes or fixes.
const THINGS: &str =
    "SELECT DISTINCT e.thing_id FROM shelf_entry e JOIN shelf t ON t.id = e.thing_id
    WHERE to_tsvector('english', e.event) @@ websearch_to_tsquery('english', $1)
    AND ($3::uuid IS NULL OR t.thing->>'machine' = ($3::uuid)::text
        OR coalesce((t.thing->'was_on')::jsonb, '[]'::jsonb) ? ($3::uuid)::text)
    AND $4::text IS NULL AND $5::text IS NULL
    AND ($6::timestamptz IS NULL OR e.at >= $6) AND ($7::timestamptz IS NULL OR e.at < $7)
    LIMIT $2";

/// What narrows a search; nothing of it for everything.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Narrow {
    /// On this machine.
    pub machine: Option<Uuid>,
    /// Closed as this cause.
    pub cause: Option<String>,
    /// Closed with this fix, or a fix that was done.
    pub fix: Option<String>,
    /// Still going on, or written, from then on.
    pub from: Option<OffsetDateTime>,
    /// Begun, or written, before then.
    pub to: Option<OffsetDateTime>,
}

impl Narrow {
    fn values(&self, words: &str) -> Vec<Value> {
        vec![
            words.into(),
            MOST.into(),
            self.machine.into(),
            self.cause.clone().into(),
            self.fix.clone().into(),
            self.from.into(),
            self.to.into(),
        ]
    }
}

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
    pub async fn find_written(&self, words: &str, narrow: &Narrow) -> Result<Written, StoreError> {
        let words: String = words.chars().take(LONGEST).collect();
        let _turn = self.gate.reader().await?;
        let found = self.written(&words, narrow).await?;
        if !found.is_empty() || words.trim().is_empty() {
            return Ok(found);
        }
        let Some(instead) = self.corrected(&words).await? else {
            return Ok(found);
        };
        Ok(Written {
            instead: Some(instead.clone()),
            ..self.written(&instead, narrow).await?
        })
    }

    async fn written(&self, words: &str, narrow: &Narrow) -> Result<Written, StoreError> {
        let values = || narrow.values(words);
        let cases = self.ids(CASES, values()).await?;
        let things = self.ids(THINGS, values()).await?;
        let journal = Statement::from_sql_and_values(DbBackend::Postgres, JOURNAL, values());
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

    async fn ids(&self, sql: &str, values: Vec<Value>) -> Result<Vec<Uuid>, StoreError> {
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
