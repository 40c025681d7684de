//! Starting: any number of processes may begin at once over an empty or an old database.

use crate::entity::setup;
use crate::{Store, StoreError};
use sea_orm::sqlx::pool::PoolConnection;
use sea_orm::sqlx::{self, Postgres};
use sea_orm::{ActiveValue::Set, EntityTrait};

/// Held while tables are made or changed and the demo is loaded.
pub(crate) const SETTING_UP: i64 = 7246;
/// Held while the projection is rebuilt.
pub(crate) const REBUILD: i64 = 7248;
/// Row of the setup that tells how far the demo came.
const DEMO: &str = "demo";

/// A lock that all processes over one database share; released when this is, or with its
/// connection.
#[derive(Debug)]
pub struct Held {
    connection: PoolConnection<Postgres>,
    key: i64,
}

impl Held {
    /// Lets the next one in.
    pub async fn release(mut self) {
        let unlock = sqlx::query("SELECT pg_advisory_unlock($1)").bind(self.key);
        if unlock.execute(&mut *self.connection).await.is_err() {
            // Whatever is wrong with the connection, its end releases the lock.
            self.connection.leak();
        }
    }
}

/// How far the demo of this database came.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum DemoState {
    /// It was never begun.
    None,
    /// It was begun and not finished: nobody should see it before it is.
    Begun,
    /// It is whole.
    Whole,
}

fn lost(e: sqlx::Error) -> StoreError {
    StoreError::from(sea_orm::DbErr::Custom(e.to_string()))
}

impl Store {
    /// Waits until nobody else sets the database up, however long that takes.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn setting_up(&self) -> Result<Held, StoreError> {
        let pool = self.db.get_postgres_connection_pool();
        let mut connection = pool.acquire().await.map_err(lost)?;
        // Another start may be loading the demo: that is no reason to give up.
        for wait in ["SET lock_timeout = 0", "SET statement_timeout = 0"] {
            sqlx::query(wait)
                .execute(&mut *connection)
                .await
                .map_err(lost)?;
        }
        let lock = sqlx::query("SELECT pg_advisory_lock($1)").bind(SETTING_UP);
        lock.execute(&mut *connection).await.map_err(lost)?;
        Ok(Held {
            connection,
            key: SETTING_UP,
        })
    }

    /// Takes a lock when nobody holds it.
    pub(crate) async fn try_hold(&self, key: i64) -> Result<Option<Held>, StoreError> {
        let pool = self.db.get_postgres_connection_pool();
        let mut connection = pool.acquire().await.map_err(lost)?;
        let taken: bool = sqlx::query_scalar("SELECT pg_try_advisory_lock($1)")
            .bind(key)
            .fetch_one(&mut *connection)
            .await
            .map_err(lost)?;
        Ok(taken.then_some(Held { connection, key }))
    }

    /// How far the demo came.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn demo_state(&self) -> Result<DemoState, StoreError> {
        let row = setup::Entity::find_by_id(DEMO).one(&self.db).await?;
        Ok(match row.as_ref().map(|r| r.value.as_str()) {
            None => DemoState::None,
            Some("whole") => DemoState::Whole,
            Some(_) => DemoState::Begun,
        })
    }

    /// Notes how far the demo came.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn set_demo_state(&self, state: DemoState) -> Result<(), StoreError> {
        let value = match state {
            DemoState::None => return Ok(()),
            DemoState::Begun => "begun",
            DemoState::Whole => "whole",
        };
        let row = setup::ActiveModel {
            name: Set(DEMO.into()),
            value: Set(value.into()),
        };
        let mut or_update = sea_orm::sea_query::OnConflict::column(setup::Column::Name);
        or_update.update_column(setup::Column::Value);
        setup::Entity::insert(row)
            .on_conflict(or_update)
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }
}
