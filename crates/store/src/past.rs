//! Cases gone by: the machine's last one, and those that may have looked the same.

use crate::entity::case_summary;
use crate::lists::{CaseRow, counted, word};
use crate::{Store, StoreError};
use sea_orm::sea_query::Expr;
use sea_orm::sea_query::extension::postgres::PgExpr;
use sea_orm::{ColumnTrait, Condition, EntityTrait, QueryFilter, QueryOrder, QuerySelect};
use suspect_core::case::{Outcome, Standing};
use suspect_core::similar::Answers;
use time::OffsetDateTime;
use uuid::Uuid;

/// Closed cases looked at when similar ones are sought: the latest.
const LOOKED_AT: u64 = 2_000;

/// A closed case with what was answered in it.
#[derive(Debug, Clone)]
pub struct PastCase {
    /// Identifier.
    pub id: Uuid,
    /// Running number of the workshop.
    pub number: i64,
    /// Machine.
    pub machine: Uuid,
    /// Title.
    pub title: String,
    /// The cause it was.
    pub cause: String,
    /// The fix that did it.
    pub fix: Option<String>,
    /// What was answered.
    pub answers: Answers,
    /// When it was closed, where something is said to have mended it.
    pub mended_at: Option<OffsetDateTime>,
}

/// What a closed case teaches about its cause.
#[derive(Debug, Clone)]
pub struct ClosedCause {
    /// Machine.
    pub machine: Uuid,
    /// The cause it was.
    pub cause: String,
    /// How it ended.
    pub outcome: Outcome,
    /// When.
    pub closed_at: OffsetDateTime,
}

impl Store {
    /// Cases that ended so with a cause, the latest first: identifier, number, when.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn proved_cases(
        &self,
        outcome: &str,
        most: u64,
    ) -> Result<Vec<(Uuid, i64, OffsetDateTime)>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = case_summary::Entity::find()
            .filter(case_summary::Column::Outcome.eq(outcome))
            .filter(case_summary::Column::Cause.is_not_null())
            .filter(case_summary::Column::ClosedAt.is_not_null())
            .order_by_desc(case_summary::Column::ClosedAt)
            .limit(most)
            .all(&self.db)
            .await?;
        let of = |r: case_summary::Model| Some((r.case_id, r.number, r.closed_at?));
        Ok(rows.into_iter().filter_map(of).collect())
    }

    /// The latest case of a machine other than `besides`, by when it was opened.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn last_case_of(
        &self,
        machine: Uuid,
        besides: Option<Uuid>,
    ) -> Result<Option<Uuid>, StoreError> {
        let _turn = self.gate.reader().await?;
        let mut query =
            case_summary::Entity::find().filter(case_summary::Column::MachineId.eq(machine));
        query = query.filter(counted());
        if let Some(besides) = besides {
            query = query.filter(case_summary::Column::CaseId.ne(besides));
        }
        let row = query
            .order_by_desc(case_summary::Column::OpenedAt)
            .order_by_desc(case_summary::Column::Number)
            .one(&self.db)
            .await?;
        Ok(row.map(|r| r.case_id))
    }

    /// The latest case of a machine, other than `besides`, that ended fixed and verified.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn last_good_case_of(
        &self,
        machine: Uuid,
        besides: Uuid,
    ) -> Result<Option<CaseRow>, StoreError> {
        let _turn = self.gate.reader().await?;
        let row = case_summary::Entity::find()
            .filter(case_summary::Column::MachineId.eq(machine))
            .filter(case_summary::Column::CaseId.ne(besides))
            .filter(case_summary::Column::Outcome.eq(Outcome::FixedAndVerified.id()))
            .order_by_desc(case_summary::Column::ClosedAt)
            .one(&self.db)
            .await?;
        row.map(CaseRow::try_from).transpose()
    }

    /// Closed cases that name a cause: which, how each ended, when, on which machine; the latest of
    /// them.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn closed_causes(&self) -> Result<Vec<ClosedCause>, StoreError> {
        let _turn = self.gate.reader().await?;
        type Row = (Uuid, Option<String>, Option<String>, Option<OffsetDateTime>);
        let rows: Vec<Row> = case_summary::Entity::find()
            .select_only()
            .column(case_summary::Column::MachineId)
            .column(case_summary::Column::Cause)
            .column(case_summary::Column::Outcome)
            .column(case_summary::Column::ClosedAt)
            .filter(case_summary::Column::Status.eq(Standing::Resolved.id()))
            .filter(case_summary::Column::Cause.is_not_null())
            .filter(counted())
            .order_by_desc(case_summary::Column::ClosedAt)
            .limit(LOOKED_AT)
            .into_tuple()
            .all(&self.db)
            .await?;
        let closed = |(machine, cause, outcome, closed_at): Row| {
            Some(ClosedCause {
                machine,
                cause: cause?,
                outcome: word(&outcome?).ok()?,
                closed_at: closed_at?,
            })
        };
        Ok(rows.into_iter().filter_map(closed).collect())
    }

    /// Closed cases that name a cause and share one of some answers, latest first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn past_cases(&self, sharing: &Answers) -> Result<Vec<PastCase>, StoreError> {
        let _turn = self.gate.reader().await?;
        if sharing.is_empty() {
            return Ok(Vec::new());
        }
        let shares = |(finding, state): (&String, &String)| {
            let answer = serde_json::json!({ finding.as_str(): state });
            Expr::col(case_summary::Column::Answers).contains(Expr::val(answer))
        };
        let rows = case_summary::Entity::find()
            .filter(case_summary::Column::Status.eq(Standing::Resolved.id()))
            .filter(case_summary::Column::Cause.is_not_null())
            .filter(counted())
            .filter(
                sharing
                    .iter()
                    .map(shares)
                    .fold(Condition::any(), Condition::add),
            )
            .order_by_desc(case_summary::Column::ClosedAt)
            .limit(LOOKED_AT)
            .all(&self.db)
            .await?;
        let past = |row: case_summary::Model| {
            let answers = row.answers.and_then(|a| serde_json::from_value(a).ok());
            let outcome = row.outcome.as_deref().and_then(Outcome::from_id);
            Some(PastCase {
                mended_at: row
                    .closed_at
                    .filter(|_| outcome.is_some_and(Outcome::mended)),
                id: row.case_id,
                number: row.number,
                machine: row.machine_id,
                title: row.title,
                cause: row.cause?,
                fix: row.fix,
                answers: answers.unwrap_or_default(),
            })
        };
        Ok(rows.into_iter().filter_map(past).collect())
    }
}
