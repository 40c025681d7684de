//! Where cases are kept: an append-only log with its projections, in PostgreSQL.
//!
//! The only crate that knows SeaORM. Use cases take and return core types; entities never leave it.
#![warn(missing_docs)]

pub mod cases;
pub mod changes;
mod entity;
mod error;
pub mod help_links;
pub mod machines;
mod migration;
pub mod parts;
pub mod past;
pub mod pictures;
#[cfg(feature = "testing")]
pub mod testing;
pub mod workshop;

pub use error::StoreError;
pub use migration::Migrator;
pub use uuid::Uuid;

use sea_orm::{ConnectOptions, Database, DatabaseConnection};
use sea_orm_migration::MigratorTrait;
use std::time::Duration;

/// Connections a process keeps at most.
const MOST_CONNECTIONS: u32 = 8;
/// How long to wait for a connection before a page says that the database cannot be reached.
const PATIENCE: Duration = Duration::from_secs(5);

/// A connection to the database. Cheap to clone.
#[derive(Debug, Clone)]
pub struct Store {
    db: DatabaseConnection,
}

impl Store {
    /// Connects to PostgreSQL at a `postgres://` address.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when nobody answers there.
    pub async fn connect(url: &str) -> Result<Self, StoreError> {
        let mut options = ConnectOptions::new(url);
        options
            .max_connections(MOST_CONNECTIONS)
            .connect_timeout(PATIENCE)
            .acquire_timeout(PATIENCE)
            .sqlx_logging(false);
        Ok(Self {
            db: Database::connect(options).await?,
        })
    }

    /// Brings the tables up to date.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn migrate(&self) -> Result<(), StoreError> {
        Ok(Migrator::up(&self.db, None).await?)
    }

    /// Takes all tables down again: for the test of the migrations.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn migrate_down(&self) -> Result<(), StoreError> {
        Ok(Migrator::down(&self.db, None).await?)
    }

    /// Closes all connections.
    pub async fn close(self) {
        let _ = self.db.close().await;
    }
}
