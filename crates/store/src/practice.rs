//! Practice, apart from the records: drawn cases and what was done in them, cards of drills, what
//! somebody asked to see passed. Everything belongs to one owner, who may delete it.

mod cards;
mod wishes;

pub use cards::CardRow;
pub use wishes::Wish;

use crate::{Store, StoreError};
use sea_orm::{ConnectionTrait, DbBackend, QueryResult, Statement, Value};
use serde_json::Value as Json;
use time::OffsetDateTime;
use uuid::Uuid;

/// Practice cases listed at most.
const MOST_LISTED: i64 = 1_000;

/// A practice case as it is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct PracticeRow {
    /// Number.
    pub id: Uuid,
    /// Its level.
    pub level: String,
    /// The family of who acts.
    pub family: String,
    /// What was drawn.
    pub drawn: Json,
    /// When the line-up is shown: `never`, `after`, `always`.
    pub shown: String,
    /// When it was begun.
    pub begun_at: OffsetDateTime,
    /// How it ended; none while it goes on.
    pub ended: Option<String>,
    /// It was solved, or made safe in time.
    pub passed: bool,
    /// What it came to.
    pub result: Option<Json>,
}

/// Something done in a practice case.
#[derive(Debug, Clone, PartialEq)]
pub struct ActRow {
    /// Its number, from 1.
    pub seq: i32,
    /// What was done.
    pub act: Json,
    /// What it cost against the advice then.
    pub judged: Json,
}

/// What begins a practice case.
#[derive(Debug, Clone, PartialEq)]
pub struct NewPractice<'a> {
    /// Its number.
    pub id: Uuid,
    /// Whose it is.
    pub owner: &'a str,
    /// Its level.
    pub level: &'a str,
    /// The family of who acts.
    pub family: &'a str,
    /// What was drawn.
    pub drawn: Json,
    /// When the line-up is shown.
    pub shown: &'a str,
}

const COLUMNS: &str = "id, level, family, drawn, shown, begun_at, ended, passed, result";

fn row_of(row: &QueryResult) -> Result<PracticeRow, sea_orm::DbErr> {
    Ok(PracticeRow {
        id: row.try_get_by_index(0)?,
        level: row.try_get_by_index(1)?,
        family: row.try_get_by_index(2)?,
        drawn: row.try_get_by_index(3)?,
        shown: row.try_get_by_index(4)?,
        begun_at: row.try_get_by_index(5)?,
        ended: row.try_get_by_index(6)?,
        passed: row.try_get_by_index(7)?,
        result: row.try_get_by_index(8)?,
    })
}

impl Store {
    /// Begins a practice case; the same one begun again is there already.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn begin_practice(
        &self,
        new: NewPractice<'_>,
        now: OffsetDateTime,
    ) -> Result<(), StoreError> {
        const BEGIN: &str = "INSERT INTO practice_case
            (id, owner, level, family, drawn, shown, begun_at) VALUES ($1, $2, $3, $4, $5, $6, $7)
            ON CONFLICT (id) DO NOTHING";
        let values: [Value; 7] = [
            new.id.into(),
            new.owner.into(),
            new.level.into(),
            new.family.into(),
            new.drawn.into(),
            new.shown.into(),
            now.into(),
        ];
        self.practice_write(BEGIN, values).await?;
        Ok(())
    }

    /// An owner's practice cases, the latest first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn practice_cases(&self, owner: &str) -> Result<Vec<PracticeRow>, StoreError> {
        let all = format!(
            "SELECT {COLUMNS} FROM practice_case WHERE owner = $1 ORDER BY begun_at DESC, id DESC
                LIMIT {MOST_LISTED}"
        );
        let rows = self.practice_read(&all, [owner.into()]).await?;
        rows.iter().map(|r| Ok(row_of(r)?)).collect()
    }

    /// A practice case of an owner, with what was done in it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none, or it is somebody else's.
    pub async fn practice_case(
        &self,
        owner: &str,
        id: Uuid,
    ) -> Result<(PracticeRow, Vec<ActRow>), StoreError> {
        const ACTS: &str =
            "SELECT seq, act, judged FROM practice_act WHERE case_id = $1 ORDER BY seq";
        let one = format!("SELECT {COLUMNS} FROM practice_case WHERE owner = $1 AND id = $2");
        let rows = self.practice_read(&one, [owner.into(), id.into()]).await?;
        let row = row_of(rows.first().ok_or(StoreError::NotFound)?)?;
        let acts = self.practice_read(ACTS, [id.into()]).await?;
        let of = |r: &QueryResult| {
            Ok(ActRow {
                seq: r.try_get_by_index(0)?,
                act: r.try_get_by_index(1)?,
                judged: r.try_get_by_index(2)?,
            })
        };
        let acts: Result<Vec<ActRow>, StoreError> = acts.iter().map(of).collect();
        Ok((row, acts?))
    }

    /// Keeps what was done as number `seq` of a case that goes on; false where something else is
    /// that number already, or the case has ended.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn practise(
        &self,
        case: Uuid,
        done: &ActRow,
        now: OffsetDateTime,
    ) -> Result<bool, StoreError> {
        const DO: &str = "INSERT INTO practice_act (case_id, seq, at, act, judged)
            SELECT id, $2, $3, $4, $5 FROM practice_case WHERE id = $1 AND ended IS NULL
            ON CONFLICT DO NOTHING";
        let values: [Value; 5] = [
            case.into(),
            done.seq.into(),
            now.into(),
            done.act.clone().into(),
            done.judged.clone().into(),
        ];
        Ok(self.practice_write(DO, values).await? == 1)
    }

    /// Ends a practice case; one that ended stays as it ended.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn end_practice(
        &self,
        case: Uuid,
        (ended, passed): (&str, bool),
        result: Json,
        now: OffsetDateTime,
    ) -> Result<(), StoreError> {
        const END: &str = "UPDATE practice_case SET ended = $2, passed = $3, result = $4,
            ended_at = $5 WHERE id = $1 AND ended IS NULL";
        let values: [Value; 5] = [
            case.into(),
            ended.into(),
            passed.into(),
            result.into(),
            now.into(),
        ];
        self.practice_write(END, values).await?;
        Ok(())
    }

    /// Shows the line-up otherwise in a practice case.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn show_in_practice(
        &self,
        owner: &str,
        case: Uuid,
        shown: &str,
    ) -> Result<(), StoreError> {
        const SHOW: &str = "UPDATE practice_case SET shown = $3 WHERE owner = $1 AND id = $2";
        let values: [Value; 3] = [owner.into(), case.into(), shown.into()];
        self.practice_write(SHOW, values).await?;
        Ok(())
    }

    /// What an owner believed in practice cases: the case and what was said.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn practice_beliefs(&self, owner: &str) -> Result<Vec<(Uuid, Json)>, StoreError> {
        const SAID: &str = "SELECT case_id, act FROM practice_act a
            JOIN practice_case c ON c.id = a.case_id
            WHERE owner = $1 AND jsonb_exists(act, 'believe') ORDER BY case_id, seq";
        let rows = self.practice_read(SAID, [owner.into()]).await?;
        let of = |r: &QueryResult| Ok((r.try_get_by_index(0)?, r.try_get_by_index(1)?));
        rows.iter().map(of).collect()
    }

    /// Deletes everything of an owner's practice.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn forget_practice(&self, owner: &str) -> Result<(), StoreError> {
        for table in ["practice_case", "practice_card", "practice_wish"] {
            let all = format!("DELETE FROM {table} WHERE owner = $1");
            self.practice_write(&all, [owner.into()]).await?;
        }
        Ok(())
    }

    async fn practice_read<const N: usize>(
        &self,
        sql: &str,
        values: [Value; N],
    ) -> Result<Vec<QueryResult>, StoreError> {
        let _turn = self.gate.reader().await?;
        let statement = Statement::from_sql_and_values(DbBackend::Postgres, sql, values);
        Ok(self.db.query_all_raw(statement).await?)
    }

    /// Rows that were written.
    async fn practice_write<const N: usize>(
        &self,
        sql: &str,
        values: [Value; N],
    ) -> Result<u64, StoreError> {
        let _turn = self.gate.writer().await?;
        let statement = Statement::from_sql_and_values(DbBackend::Postgres, sql, values);
        Ok(self.db.execute_raw(statement).await?.rows_affected())
    }
}
