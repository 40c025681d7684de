//! Sums over lessons, in whole numbers.

use super::Kept;
use crate::StoreError;
use sea_orm::{ConnectionTrait, DatabaseTransaction, DbBackend, Statement, Value};
use std::collections::BTreeMap;
use suspect_core::learning::calibration::rests_at;
use suspect_core::learning::hold::{EARLY_DAYS, Holding, WATCHED_DAYS};
use suspect_core::learning::tally::{
    Tally, TallyCell, TallyLook, TallyUse, parts, steady, unsteady,
};
use suspect_core::lessons::lesson::Lesson;
use uuid::Uuid;

/// What is added to the sums, by key: nothing where it comes out even.
#[derive(Debug, Default)]
pub(super) struct Sums {
    cells: BTreeMap<(Uuid, String, String), i64>,
    uses: BTreeMap<(String, String), [i64; 2]>,
    holds: BTreeMap<(String, String), [i64; 5]>,
    looks: BTreeMap<[String; 3], i64>,
    cases: i64,
    gain: i64,
    advised: i64,
}

impl Sums {
    /// Adds what a case teaches, or takes it away.
    pub fn add(&mut self, kept: &Kept, times: i64) -> Result<(), StoreError> {
        if let Some(lesson) = &kept.lesson {
            let counts = parts(lesson.counts(), lesson.closed_at);
            if let (Some(cause), true) = (&lesson.cause, counts > 0) {
                let context = serde_json::to_string(&lesson.context);
                let context = context.map_err(crate::error::unreadable)?;
                let key = (kept.machine, context, cause.clone());
                *self.cells.entry(key).or_default() += times * counts;
                self.cases += times;
            }
            let uses = lesson.uses.iter().filter(|_| !lesson.left_out);
            for u in uses {
                let sum = self.uses.entry((u.fix.clone(), u.cause.clone()));
                let [uses, worked] = sum.or_default();
                *uses += times * steady(u.weight);
                *worked += times * steady(u.weight * u.success);
            }
        }
        for look in kept
            .lesson
            .iter()
            .filter(|l| !l.left_out)
            .flat_map(|lesson| {
                let cause = lesson.cause.clone().unwrap_or_default();
                lesson.looks.iter().map(move |look| (cause.clone(), look))
            })
        {
            let (cause, look) = look;
            let key = [cause, look.finding.clone(), look.state.clone()];
            *self.looks.entry(key).or_default() += times * steady(look.weight);
        }
        if let Some(gain) = kept.lesson.as_ref().and_then(Lesson::gain) {
            self.gain += times * steady(gain);
            self.advised += times;
        }
        for hold in &kept.holds {
            let key = (hold.fix.clone(), hold.cause.clone().unwrap_or_default());
            let sum = self.holds.entry(key).or_default();
            let day = hold.day.clamp(0.0, WATCHED_DAYS);
            let returned = i64::from(hold.returned && hold.day <= WATCHED_DAYS);
            let early = i64::from(day <= EARLY_DAYS);
            sum[0] += times * steady(day.min(EARLY_DAYS));
            sum[1] += times * steady((day - EARLY_DAYS).max(0.0));
            sum[2] += times * returned * early;
            sum[3] += times * returned * (1 - early);
            sum[4] += times;
        }
        Ok(())
    }

    /// Writes what changed, in the order of the keys: whoever else does so waits and never in a
    /// ring.
    pub async fn write(self, transaction: &DatabaseTransaction) -> Result<(), StoreError> {
        const CELL: &str = "INSERT INTO learned_cell AS sum (machine_id, context, cause, parts)
            VALUES ($1, $2, $3, $4) ON CONFLICT (machine_id, context, cause)
            DO UPDATE SET parts = sum.parts + excluded.parts";
        const USE: &str = "INSERT INTO learned_use AS sum (fix, cause, uses, worked)
            VALUES ($1, $2, $3, $4) ON CONFLICT (fix, cause)
            DO UPDATE SET uses = sum.uses + excluded.uses, worked = sum.worked + excluded.worked";
        const HOLD: &str = "INSERT INTO learned_hold AS sum (fix, cause, early_days, late_days,
            early_returns, late_returns, asked)
            VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT (fix, cause)
            DO UPDATE SET early_days = sum.early_days + excluded.early_days,
            late_days = sum.late_days + excluded.late_days,
            early_returns = sum.early_returns + excluded.early_returns,
            late_returns = sum.late_returns + excluded.late_returns,
            asked = sum.asked + excluded.asked";
        const LOOK: &str = "INSERT INTO learned_look AS sum (cause, finding, state, looks)
            VALUES ($1, $2, $3, $4) ON CONFLICT (cause, finding, state)
            DO UPDATE SET looks = sum.looks + excluded.looks";
        const STATE: &str = "UPDATE learned_state SET version = version + 1, cases = cases + $1,
            gain = gain + $2, advised = advised + $3";
        let run = async |sql: &str, values: Vec<Value>| {
            let statement = Statement::from_sql_and_values(DbBackend::Postgres, sql, values);
            transaction.execute_raw(statement).await
        };
        for ((machine, context, cause), parts) in self.cells {
            if parts != 0 {
                let key = [machine.into(), context.into(), cause.into(), parts.into()];
                run(CELL, key.into()).await?;
            }
        }
        for ((fix, cause), [uses, worked]) in self.uses {
            if [uses, worked] != [0; 2] {
                let key = [fix.into(), cause.into(), uses.into(), worked.into()];
                run(USE, key.into()).await?;
            }
        }
        for ((fix, cause), sums) in self.holds {
            if sums != [0; 5] {
                let mut values: Vec<Value> = vec![fix.into(), cause.into()];
                values.extend(sums.map(Value::from));
                run(HOLD, values).await?;
            }
        }
        for ([cause, finding, state], looks) in self.looks {
            if looks != 0 {
                let key = [cause.into(), finding.into(), state.into(), looks.into()];
                run(LOOK, key.into()).await?;
            }
        }
        let state = [self.cases, self.gain, self.advised].map(Value::from);
        run(STATE, state.into()).await?;
        settle_rest(transaction).await
    }
}

/// Whether learning rests from now on, by the sums and by whether it did.
async fn settle_rest(transaction: &DatabaseTransaction) -> Result<(), StoreError> {
    const SUMS: &str = "SELECT gain, advised, resting FROM learned_state";
    const REST: &str = "UPDATE learned_state SET resting = $1";
    let sums = Statement::from_string(DbBackend::Postgres, SUMS);
    let Some(row) = transaction.query_one_raw(sums).await? else {
        return Ok(());
    };
    let (gain, advised): (i64, i64) = (row.try_get_by_index(0)?, row.try_get_by_index(1)?);
    let before: bool = row.try_get_by_index(2)?;
    let cases = usize::try_from(advised).unwrap_or(0);
    let now = rests_at(unsteady(gain), cases, before);
    if now != before {
        let rest = Statement::from_sql_and_values(DbBackend::Postgres, REST, [now.into()]);
        transaction.execute_raw(rest).await?;
    }
    Ok(())
}

/// Grows whenever any sum changes.
pub(super) async fn version(db: &impl ConnectionTrait) -> Result<i64, StoreError> {
    let sql = "SELECT version FROM learned_state";
    let row = db
        .query_one_raw(Statement::from_string(DbBackend::Postgres, sql))
        .await?;
    Ok(row.map_or(Ok(0), |row| row.try_get_by_index(0))?)
}

/// The sums that rates and cures follow from.
pub(super) async fn read(db: &impl ConnectionTrait) -> Result<Tally, StoreError> {
    let all = async |sql: &str| {
        let statement = Statement::from_string(DbBackend::Postgres, sql);
        db.query_all_raw(statement).await
    };
    let mut tally = Tally::default();
    let cells = "SELECT machine_id, context, cause, parts FROM learned_cell WHERE parts > 0
        ORDER BY machine_id, context, cause";
    for row in all(cells).await? {
        let (machine, context): (Uuid, String) =
            (row.try_get_by_index(0)?, row.try_get_by_index(1)?);
        tally.cells.push(TallyCell {
            machine: machine.to_string(),
            context: serde_json::from_str(&context).map_err(crate::error::unreadable)?,
            cause: row.try_get_by_index(2)?,
            parts: row.try_get_by_index(3)?,
        });
    }
    let uses = "SELECT fix, cause, uses, worked FROM learned_use WHERE uses > 0
        ORDER BY fix, cause";
    for row in all(uses).await? {
        tally.uses.push(TallyUse {
            fix: row.try_get_by_index(0)?,
            cause: row.try_get_by_index(1)?,
            uses: unsteady(row.try_get_by_index(2)?),
            worked: unsteady(row.try_get_by_index(3)?),
        });
    }
    let looks = "SELECT cause, finding, state, looks FROM learned_look WHERE looks > 0
        ORDER BY cause, finding, state";
    for row in all(looks).await? {
        tally.looks.push(TallyLook {
            cause: row.try_get_by_index(0)?,
            finding: row.try_get_by_index(1)?,
            state: row.try_get_by_index(2)?,
            looks: unsteady(row.try_get_by_index(3)?),
        });
    }
    for row in all("SELECT cases, resting FROM learned_state").await? {
        let cases: i64 = row.try_get_by_index(0)?;
        tally.cases = usize::try_from(cases).unwrap_or(0);
        tally.resting = row.try_get_by_index(1)?;
    }
    Ok(tally)
}

/// How fixes hold, all of them together, and how many answers that rests on.
pub(super) async fn holding(db: &impl ConnectionTrait) -> Result<(Holding, i64), StoreError> {
    const ALL: &str = "SELECT coalesce(sum(early_days), 0)::bigint,
        coalesce(sum(late_days), 0)::bigint, coalesce(sum(early_returns), 0)::bigint,
        coalesce(sum(late_returns), 0)::bigint, coalesce(sum(asked), 0)::bigint
        FROM learned_hold";
    let row = db
        .query_one_raw(Statement::from_string(DbBackend::Postgres, ALL))
        .await?;
    let mut sums = [0i64; 5];
    if let Some(row) = row {
        for (at, sum) in sums.iter_mut().enumerate() {
            *sum = row.try_get_by_index(at)?;
        }
    }
    let [early_days, late_days, early, late, asked] = sums;
    let pieces = [(early, early_days), (late, late_days)];
    let pieces = pieces.map(|(returns, days)| (returns as f64, unsteady(days)));
    Ok((Holding::default().plus(pieces), asked))
}
