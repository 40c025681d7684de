//! Sums of the workshop's own figures: by machine and month, and over the whole shop.

use super::Kept;
use crate::{Store, StoreError};
use sea_orm::{ConnectionTrait, DatabaseTransaction, DbBackend, QueryResult, Statement, Value};
use std::collections::BTreeMap;
use suspect_core::learning::tally::unsteady;
use suspect_core::statistics::{Count, Counted, DRAWN, Exposure, Sums, counts};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// The whole shop, beside the machines.
const SHOP: Uuid = Uuid::nil();

/// What is added to the figures.
#[derive(Debug, Default)]
pub(super) struct Figures(BTreeMap<(Uuid, String), Sums>);

impl Figures {
    /// Adds what a case tells, or takes it away.
    pub fn add(&mut self, kept: &Kept, times: i64) {
        let Some(lesson) = &kept.lesson else { return };
        let month = month_of(lesson.closed_at);
        for count in counts(lesson) {
            for scope in [SHOP, kept.machine] {
                let sums = self.0.entry((scope, month.clone())).or_default();
                sums.add(count.clone(), times);
            }
        }
    }

    /// Writes what changed in one statement, in the order of the keys: whoever else does so waits
    /// and never in a ring.
    pub async fn write(self, transaction: &DatabaseTransaction) -> Result<(), StoreError> {
        const ADD: &str = "INSERT INTO figure AS sum (scope, month, of, key, n, amount)
            SELECT scope, month, of, key, n, amount FROM jsonb_to_recordset($1)
            AS given (scope uuid, month date, of text, key text, n bigint, amount bigint)
            ORDER BY scope, month, of, key
            ON CONFLICT (scope, month, of, key)
            DO UPDATE SET n = sum.n + excluded.n, amount = sum.amount + excluded.amount";
        let rows = self.0.into_iter().flat_map(|((scope, month), sums)| {
            sums.into_counts().map(move |c| {
                serde_json::json!({
                    "scope": scope, "month": month, "of": c.of, "key": c.key, "n": c.n,
                    "amount": c.amount,
                })
            })
        });
        let rows: Vec<_> = rows.collect();
        if rows.is_empty() {
            return Ok(());
        }
        let rows = [Value::from(serde_json::Value::from(rows))];
        let statement = Statement::from_sql_and_values(DbBackend::Postgres, ADD, rows);
        transaction.execute_raw(statement).await?;
        Ok(())
    }
}

/// The first day of the month, as the database has it.
fn month_of(at: OffsetDateTime) -> String {
    let at = at.to_offset(time::UtcOffset::UTC);
    format!("{:04}-{:02}-01", at.year(), u8::from(at.month()))
}

/// Which figures are asked for.
#[derive(Debug, Clone, Default)]
pub struct FigureFilter {
    /// Only these machines; the whole shop where none is named.
    pub machines: Vec<Uuid>,
    /// Only cases closed in this month or later: its first day, `2026-11-01`.
    pub from: Option<String>,
}

/// The figures of a shop or of some of its machines.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct ShopFigures {
    /// Over all months.
    pub all: Sums,
    /// Month by month, `2026-11`: what is drawn over time. Causes that are not are one, without a
    /// name.
    pub months: BTreeMap<String, Sums>,
}

/// Days over which machines are compared.
const BUSY_DAYS: i64 = 90;

/// How busy a machine was in the last ninety days.
#[derive(Debug, Clone, PartialEq)]
pub struct Busy {
    /// The machine.
    pub machine: Uuid,
    /// Cases opened, and days it was known.
    pub days: Exposure,
    /// Hours it prints a day, where its counter was read twice a week or more apart.
    pub hours_a_day: Option<f64>,
}

/// How one fix holds.
#[derive(Debug, Clone, PartialEq)]
pub struct FixHeld {
    /// The fix.
    pub fix: String,
    /// Returns and days watched, early and late.
    pub pieces: [(f64, f64); 2],
    /// Cases that came back.
    pub returned: i64,
    /// Cases somebody spoke of.
    pub asked: i64,
}

/// A list of `$n` for values.
fn marks(from: usize, many: usize) -> String {
    let marks: Vec<String> = (from..from + many).map(|n| format!("${n}")).collect();
    marks.join(", ")
}

fn count_of(row: &QueryResult, first: usize) -> Result<Option<Count>, StoreError> {
    let of: String = row.try_get_by_index(first)?;
    Ok(Some(Count {
        // What another program counts is nothing to this one.
        of: match Counted::from_id(&of) {
            Some(of) => of,
            None => return Ok(None),
        },
        key: row.try_get_by_index(first + 1)?,
        n: row.try_get_by_index(first + 2)?,
        amount: row.try_get_by_index(first + 3)?,
    }))
}

impl Store {
    /// The figures of a shop or of some of its machines.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn figures(&self, filter: &FigureFilter) -> Result<ShopFigures, StoreError> {
        let _turn = self.gate.reader().await?;
        let scopes = match filter.machines.as_slice() {
            [] => vec![SHOP],
            some => some.to_vec(),
        };
        let mut values: Vec<Value> = scopes.iter().map(|s| Value::from(*s)).collect();
        let mut which = format!("scope IN ({})", marks(1, values.len()));
        if let Some(from) = &filter.from {
            values.push(from.clone().into());
            which += &format!(" AND month >= ${}::date", values.len());
        }
        let ask = async |sql: String, values: Vec<Value>| {
            let statement = Statement::from_sql_and_values(DbBackend::Postgres, sql, values);
            self.db.query_all_raw(statement).await
        };
        let sums = "sum(n)::bigint, sum(amount)::bigint FROM figure WHERE";
        let mut told = ShopFigures::default();
        let all = format!("SELECT of, key, {sums} {which} GROUP BY of, key");
        for row in ask(all, values.clone()).await? {
            if let Some(count) = count_of(&row, 0)? {
                told.all.add(count, 1);
            }
        }
        // Of the causes only those are told apart that are drawn: a month has a hundred.
        let drawn = told.all.most(Counted::Cause, DRAWN);
        let from = values.len() + 1;
        values.extend((0..DRAWN).map(|at| Value::from(drawn.get(at).copied().unwrap_or(""))));
        let by_month = format!(
            "SELECT to_char(month, 'YYYY-MM'), of, CASE WHEN of <> 'cause' OR key IN ({}) THEN key
             ELSE '' END AS which, {sums} {which} AND of IN ('cause', 'spent', 'lost')
             GROUP BY month, of, which",
            marks(from, DRAWN)
        );
        for row in ask(by_month, values).await? {
            if let Some(count) = count_of(&row, 1)? {
                let month = told.months.entry(row.try_get_by_index(0)?).or_default();
                month.add(count, 1);
            }
        }
        Ok(told)
    }

    /// How busy each machine was in the last ninety days, and what troubled.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn busy(&self, now: OffsetDateTime) -> Result<Vec<Busy>, StoreError> {
        // Most machines are older than the days that are looked at: one row says so.
        const BUSY: &str = "WITH recent AS (
                SELECT machine_id, min(opened_at) AS first, count(*) FILTER (
                    WHERE coalesce(outcome, '') NOT IN ('opened-by-error', 'joined')) AS cases
                FROM case_summary WHERE opened_at >= $1 GROUP BY machine_id),
            read AS (
                SELECT machine_id, max((event ->> 'hours')::float8)
                    - min((event ->> 'hours')::float8) AS hours,
                    extract(epoch FROM max(at) - min(at))::float8 / 86400 AS days
                FROM machine_entry WHERE at >= $1 AND event ->> 'kind' IN ('counter', 'fitted')
                GROUP BY machine_id)
            SELECT id, coalesce(cases, 0), extract(epoch FROM $2 - CASE
                WHEN EXISTS (SELECT 1 FROM machine_entry e WHERE e.machine_id = id AND e.at < $1)
                    OR EXISTS (SELECT 1 FROM case_summary c
                        WHERE c.machine_id = id AND c.opened_at < $1) THEN $1
                ELSE least(first, (SELECT min(at) FROM machine_entry e WHERE e.machine_id = id))
                END)::float8 / 86400, CASE WHEN days >= 7 THEN hours / days END
            FROM machine LEFT JOIN recent ON recent.machine_id = id
            LEFT JOIN read ON read.machine_id = id ORDER BY id";
        let _turn = self.gate.reader().await?;
        let since = now - Duration::days(BUSY_DAYS);
        let values = [since.into(), now.into()];
        let statement = Statement::from_sql_and_values(DbBackend::Postgres, BUSY, values);
        let rows = self.db.query_all_raw(statement).await?;
        let of = |row: &QueryResult| {
            let days: Option<f64> = row.try_get_by_index(2)?;
            Ok(Busy {
                machine: row.try_get_by_index(0)?,
                days: Exposure {
                    cases: row.try_get_by_index(1)?,
                    time: days.unwrap_or(0.0).max(0.0),
                },
                hours_a_day: row.try_get_by_index(3)?,
            })
        };
        rows.iter().map(of).collect()
    }

    /// How fixes hold, each by itself: its sums of returns and days watched, early and late, and
    /// how many answers those rest on.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn holding_of_fixes(&self) -> Result<Vec<FixHeld>, StoreError> {
        const BY_FIX: &str = "SELECT fix, sum(early_days)::bigint, sum(late_days)::bigint,
            sum(early_returns)::bigint, sum(late_returns)::bigint, sum(asked)::bigint
            FROM learned_hold GROUP BY fix HAVING sum(asked) > 0 ORDER BY fix";
        let _turn = self.gate.reader().await?;
        let statement = Statement::from_string(DbBackend::Postgres, BY_FIX);
        let rows = self.db.query_all_raw(statement).await?;
        let of = |row: &QueryResult| {
            let mut sums = [0i64; 5];
            for (at, sum) in sums.iter_mut().enumerate() {
                *sum = row.try_get_by_index(at + 1)?;
            }
            let [early_days, late_days, early, late, asked] = sums;
            let pieces = [(early, early_days), (late, late_days)];
            Ok(FixHeld {
                fix: row.try_get_by_index(0)?,
                pieces: pieces.map(|(returns, days)| (returns as f64, unsteady(days))),
                returned: early + late,
                asked,
            })
        };
        rows.iter().map(of).collect()
    }
}
