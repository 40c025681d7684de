//! Where cases are kept: an append-only log with its projections, in PostgreSQL.
//!
//! The only crate that knows SeaORM. Use cases take and return core types; entities never leave it.
//!
//! What lives where:
//!
//! - `log`: opening a case, appending with the expected number and the touch, reading
//! - `stamp`: when, who, by which touch; whether it was taken before
//! - `entries`: reading logs, locking a machine, telling others
//! - `projection`: the rows that lists read, what locks a machine, rows made anew
//! - [`lists`]: floor, records, rows of a machine, from the projection
//! - [`lessons`]: what closed cases teach, kept beside their logs and summed up
//! - [`own_words`]: what the workshop named in its own words, to be offered again
//! - [`machines`], `settings`, [`pictures`], [`print_files`], [`help_links`], [`past`]: logs of
//!   machines and of the workshop, photos, texts of print files with their figures, links for
//!   helpers, what is learnt from closed cases
//! - [`series`]: trial series, their logs and photos of pieces
//! - [`books`]: what the logs of machines say, summed up; [`shelf`]: spools and stock
//! - [`people`]: members, invitations, sessions, guesses
//! - [`search`]: everything the workshop wrote, found by words
//! - [`changes`]: what other processes stored
//! - `start`: tables, demo and rows set up under locks, any number of processes at once
//! - `gate`: turns at the database; `thinking`: turns at the processor
//! - `migration`, `entity`: the tables; `error`: what may go wrong, without secrets
#![warn(missing_docs)]

mod beyond;
mod book_rows;
pub mod books;
pub mod changes;
mod entity;
mod entries;
mod error;
pub mod exchange;
mod gate;
pub mod help_links;
pub mod lessons;
pub mod lists;
mod log;
pub mod machines;
mod meeting;
mod migration;
mod outdated;
pub mod own_words;
pub mod past;
pub mod people;
pub mod pictures;
pub mod practice;
pub mod print_files;
mod projection;
pub mod records;
pub mod search;
pub mod series;
mod settings;
pub mod shelf;
mod stamp;
mod start;
#[cfg(feature = "testing")]
pub mod testing;
mod thinking;
mod used_up;

pub use error::{StoreError, without_secrets};
pub use migration::Migrator;
pub use stamp::{Stamp, Touch};
pub use start::{DemoState, Held};
pub use thinking::think;
pub use uuid::Uuid;

use gate::Gate;
use sea_orm::sqlx::pool::PoolConnectionMetadata;
use sea_orm::sqlx::{self, Connection, PgConnection};
use sea_orm::{ConnectOptions, Database, DatabaseConnection, DbErr};
use sea_orm_migration::MigratorTrait;
use std::pin::Pin;
use std::time::Duration;

/// How long to wait for a connection before a page says that the database cannot be reached.
const PATIENCE: Duration = Duration::from_secs(5);
/// How long connections that are still busy may take to end when the store is closed.
const LAST_MOMENT: Duration = Duration::from_secs(2);

/// A connection to the database. Cheap to clone.
#[derive(Debug, Clone)]
pub struct Store {
    db: DatabaseConnection,
    gate: Gate,
    memory: lessons::Memory,
    read_before: books::ReadBefore,
}

/// How long a statement waits for a row or a lock that somebody else holds, and how long it may
/// take in all: PostgreSQL then gives it up, and a page says so.
const LIMITS: [(&str, &str); 3] = [
    ("lock_timeout", "4s"),
    ("statement_timeout", "15s"),
    ("idle_in_transaction_session_timeout", "60s"),
];

/// A connection keeps its buffers as large as the largest thing it ever sent: after a picture on
/// each, that would be a hundred megabytes held for nothing.
fn hand_back_buffers(
    connection: &mut PgConnection,
    _: PoolConnectionMetadata,
) -> Pin<Box<dyn Future<Output = Result<bool, sqlx::Error>> + Send + '_>> {
    connection.shrink_buffers();
    Box::pin(async { Ok(true) })
}

impl Store {
    /// Connects to PostgreSQL at a `postgres://` address.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when nobody answers there.
    pub async fn connect(url: &str) -> Result<Self, StoreError> {
        let mut options = ConnectOptions::new(url);
        options
            .max_connections(Gate::CONNECTIONS)
            .connect_timeout(PATIENCE)
            .acquire_timeout(PATIENCE)
            .sqlx_logging(false)
            .map_sqlx_postgres_opts(|options| options.options(LIMITS))
            .map_sqlx_postgres_pool_opts(|pool| pool.after_release(hand_back_buffers));
        Ok(Self {
            db: Database::connect(options).await?,
            gate: Gate::default(),
            memory: lessons::Memory::default(),
            read_before: books::ReadBefore::default(),
        })
    }

    /// Brings the tables up to date.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn migrate(&self) -> Result<(), StoreError> {
        match Migrator::up(&self.db, None).await {
            // Said when the database knows of steps that this program does not have.
            Err(DbErr::Custom(text)) if text.contains("is missing, this migration") => {
                Err(StoreError::Newer)
            }
            other => Ok(other?),
        }
    }

    /// Takes the last steps back, or all tables down again: for the tests of the migrations.
    ///
    /// # Errors
    /// When the database refuses.
    #[cfg(feature = "testing")]
    pub async fn migrate_down(&self, steps: Option<u32>) -> Result<(), StoreError> {
        Ok(Migrator::down(&self.db, steps).await?)
    }

    /// Closes all connections; those still busy after a moment are left to their end.
    pub async fn close(self) {
        let _ = tokio::time::timeout(LAST_MOMENT, self.db.close()).await;
    }
}
