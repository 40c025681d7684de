//! Guesses of passphrases: counted by name and by address.

use crate::{Store, StoreError};
use sea_orm::{ConnectionTrait, DbBackend, Statement, Value};
use suspect_core::people::{Attempts, WINDOW, looks};
use time::{Duration, OffsetDateTime};

/// Guesses are forgotten after so long; right ones tell from where a name may be guessed.
const KEPT: Duration = Duration::days(90);

impl Store {
    /// Failed guesses of the last minutes of a name from an address.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn guesses(
        &self,
        name: &str,
        address: &str,
        now: OffsetDateTime,
    ) -> Result<Attempts, StoreError> {
        const WRONG: &str = "SELECT count(*), max(at) FROM guess
            WHERE NOT right_one AND at > $1";
        const ELSEWHERE: &str = "AND looks = $2 AND NOT EXISTS (
            SELECT FROM guess own WHERE own.looks = $2 AND own.address = $3 AND own.right_one)";
        let _turn = self.gate.reader().await?;
        let since: Value = (now - WINDOW).into();
        let (looks, address): (Value, Value) = (looks(name).into(), address.into());
        let ask = async |more: &str, values: Vec<Value>| {
            let sql = format!("{WRONG} {more}");
            let sql = Statement::from_sql_and_values(DbBackend::Postgres, sql, values);
            let row = self.db.query_one_raw(sql).await?;
            let counted = row.map(|row| -> Result<_, sea_orm::DbErr> {
                let n: i64 = row.try_get_by_index(0)?;
                Ok((n as usize, row.try_get_by_index(1)?))
            });
            Ok::<_, StoreError>(counted.transpose()?.unwrap_or_default())
        };
        let pair = "AND looks = $2 AND address = $3";
        let both = || vec![since.clone(), looks.clone(), address.clone()];
        Ok(Attempts {
            pair: ask(pair, both()).await?,
            address: ask("AND address = $2", vec![since.clone(), address.clone()]).await?,
            name: ask(ELSEWHERE, both()).await?,
        })
    }

    /// Notes a guess; a right one clears what was wrong of that name from there.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn guessed(
        &self,
        name: &str,
        address: &str,
        right: bool,
        now: OffsetDateTime,
    ) -> Result<(), StoreError> {
        let _turn = self.gate.writer().await?;
        let run = async |sql: &str, values: Vec<Value>| {
            let sql = Statement::from_sql_and_values(DbBackend::Postgres, sql, values);
            self.db.execute_raw(sql).await
        };
        let (looks, address): (Value, Value) = (looks(name).into(), address.into());
        run("DELETE FROM guess WHERE at < $1", vec![(now - KEPT).into()]).await?;
        if right {
            let own = "DELETE FROM guess WHERE looks = $1 AND address = $2";
            run(own, vec![looks.clone(), address.clone()]).await?;
        }
        let note = "INSERT INTO guess (looks, address, at, right_one) VALUES ($1, $2, $3, $4)";
        run(note, vec![looks, address, now.into(), right.into()]).await?;
        Ok(())
    }
}
