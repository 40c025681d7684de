//! Closed cases found again: by machine, cause, fix, outcome, sign, month and words.

use crate::entity::case_summary;
use crate::lists::{CaseRow, counted};
use crate::{Store, StoreError};
use sea_orm::sea_query::Expr;
use sea_orm::sea_query::extension::postgres::PgExpr;
use sea_orm::{
    ColumnTrait, Condition, ConnectionTrait, DatabaseTransaction, DbBackend, EntityTrait, Order,
    PaginatorTrait, QueryFilter, QueryOrder, QuerySelect, Statement,
};
use suspect_core::case::Standing;
use time::OffsetDateTime;
use uuid::Uuid;

/// By what records are sorted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum SortBy {
    /// When they were closed.
    #[default]
    Closed,
    /// When they were opened.
    Opened,
    /// Running number.
    Number,
    /// Minutes spent.
    Minutes,
    /// Grams used.
    Grams,
    /// Money spent.
    Money,
    /// What it was.
    Cause,
    /// What did it.
    Fix,
    /// How it ended.
    Outcome,
}

/// Which closed cases are asked for, and in which order.
#[derive(Debug, Clone, Default)]
pub struct RecordFilter {
    /// Only these machines; all where none is named.
    pub machines: Vec<Uuid>,
    /// Only these causes; all where none is named.
    pub causes: Vec<String>,
    /// Only this fix.
    pub fix: Option<String>,
    /// Only this outcome.
    pub outcome: Option<String>,
    /// Only this material.
    pub material: Option<String>,
    /// Only where one of these answers was given: finding and state.
    pub answers: Vec<(String, String)>,
    /// Closed at or after.
    pub from: Option<OffsetDateTime>,
    /// Closed before.
    pub to: Option<OffsetDateTime>,
    /// Only where these words were said, in the way people write them into a search.
    pub words: Option<String>,
    /// In which order.
    pub sort: SortBy,
    /// The other way round: least first.
    pub upwards: bool,
}

impl RecordFilter {
    /// Every case of some machine.
    pub fn of_machine(machine: Uuid) -> Self {
        Self {
            machines: vec![machine],
            ..Self::default()
        }
    }

    fn condition(&self) -> Condition {
        let outcome = match &self.outcome {
            Some(outcome) => Condition::all().add(case_summary::Column::Outcome.eq(outcome)),
            None => counted(),
        };
        let machine = (!self.machines.is_empty())
            .then(|| case_summary::Column::MachineId.is_in(self.machines.iter().copied()));
        let cause = (!self.causes.is_empty())
            .then(|| case_summary::Column::Cause.is_in(self.causes.iter().cloned()));
        let said = self.words.as_ref().map(|words| {
            Expr::cust_with_values(
                "case_id IN (SELECT case_id FROM case_words
                 WHERE found @@ websearch_to_tsquery('english', $1))",
                [words.clone()],
            )
        });
        let answered = (!self.answers.is_empty()).then(|| {
            let one = |(finding, state): &(String, String)| {
                let answer = serde_json::json!({ finding.as_str(): state });
                Expr::col(case_summary::Column::Answers).contains(Expr::val(answer))
            };
            self.answers
                .iter()
                .map(one)
                .fold(Condition::any(), Condition::add)
        });
        Condition::all()
            .add(case_summary::Column::Status.eq(Standing::Resolved.id()))
            .add(outcome)
            .add_option(machine)
            .add_option(cause)
            .add_option(self.fix.as_ref().map(|x| case_summary::Column::Fix.eq(x)))
            .add_option(
                self.material
                    .as_ref()
                    .map(|m| case_summary::Column::Material.eq(m)),
            )
            .add_option(self.from.map(|at| case_summary::Column::ClosedAt.gte(at)))
            .add_option(self.to.map(|at| case_summary::Column::ClosedAt.lt(at)))
            .add_option(answered)
            .add_option(said)
    }

    fn order(&self) -> (case_summary::Column, Order) {
        use case_summary::Column;
        let column = match self.sort {
            SortBy::Closed => Column::ClosedAt,
            SortBy::Opened => Column::OpenedAt,
            SortBy::Number => Column::Number,
            SortBy::Minutes => Column::Minutes,
            SortBy::Grams => Column::Grams,
            SortBy::Money => Column::Money,
            SortBy::Cause => Column::Cause,
            SortBy::Fix => Column::Fix,
            SortBy::Outcome => Column::Outcome,
        };
        (
            column,
            if self.upwards {
                Order::Asc
            } else {
                Order::Desc
            },
        )
    }
}

/// What fixed the cases of a filter.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FixedBy {
    /// The fix.
    pub fix: String,
    /// Cases it ended.
    pub cases: i64,
    /// When it last did.
    pub last: Option<OffsetDateTime>,
}

/// Keeps the words of a case, for whoever looks for them.
pub(crate) async fn keep_words(
    transaction: &DatabaseTransaction,
    id: Uuid,
    words: &str,
) -> Result<(), StoreError> {
    const KEEP: &str = "INSERT INTO case_words AS there (case_id, words) VALUES ($1, $2)
        ON CONFLICT (case_id) DO UPDATE SET words = excluded.words
        WHERE there.words <> excluded.words";
    let values = [id.into(), words.into()];
    let keep = Statement::from_sql_and_values(DbBackend::Postgres, KEEP, values);
    transaction.execute_raw(keep).await?;
    Ok(())
}

impl Store {
    /// One page of closed cases, and how many there are in all.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn records(
        &self,
        filter: &RecordFilter,
        page: u64,
        per_page: u64,
    ) -> Result<(Vec<CaseRow>, u64), StoreError> {
        let _turn = self.gate.reader().await?;
        let (column, order) = filter.order();
        let query = case_summary::Entity::find()
            .filter(filter.condition())
            .order_by(column, order)
            .order_by_desc(case_summary::Column::CaseId);
        let pages = query.paginate(&self.db, per_page);
        let total = pages.num_items().await?;
        let rows = pages.fetch_page(page).await?;
        let rows: Result<_, _> = rows.into_iter().map(CaseRow::try_from).collect();
        Ok((rows?, total))
    }

    /// What fixed the cases of a filter, the most frequent first, at most `most`.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn fixed_by(
        &self,
        filter: &RecordFilter,
        most: u64,
    ) -> Result<Vec<FixedBy>, StoreError> {
        let _turn = self.gate.reader().await?;
        let many = case_summary::Column::CaseId.count();
        let rows: Vec<(Option<String>, i64, Option<OffsetDateTime>)> = case_summary::Entity::find()
            .select_only()
            .column(case_summary::Column::Fix)
            .column_as(many.clone(), "cases")
            .column_as(case_summary::Column::ClosedAt.max(), "last")
            .filter(filter.condition())
            .filter(case_summary::Column::Fix.is_not_null())
            .group_by(case_summary::Column::Fix)
            .order_by_desc(many)
            .order_by_asc(case_summary::Column::Fix)
            .limit(most)
            .into_tuple()
            .all(&self.db)
            .await?;
        let of = |(fix, cases, last): (Option<String>, i64, _)| {
            Some(FixedBy {
                fix: fix?,
                cases,
                last,
            })
        };
        Ok(rows.into_iter().filter_map(of).collect())
    }

    /// Causes that closed cases name, each with its number of cases, most frequent first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn recorded_causes(&self) -> Result<Vec<(String, i64)>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows: Vec<(Option<String>, i64)> = case_summary::Entity::find()
            .select_only()
            .column(case_summary::Column::Cause)
            .column_as(case_summary::Column::CaseId.count(), "cases")
            .filter(case_summary::Column::Status.eq(Standing::Resolved.id()))
            .filter(counted())
            .group_by(case_summary::Column::Cause)
            .order_by_desc(case_summary::Column::CaseId.count())
            .order_by_asc(case_summary::Column::Cause)
            .into_tuple()
            .all(&self.db)
            .await?;
        Ok(rows
            .into_iter()
            .filter_map(|(cause, n)| Some((cause?, n)))
            .collect())
    }
}
