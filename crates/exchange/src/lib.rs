//! A workshop's history out and in, in open formats and in constant memory: a log in lines of JSON,
//! a table, a backup with everything. See `docs/FORMATS.md`.

mod backup;
mod people;
mod reading;
mod restore;
mod series;
mod shelf;
mod sums;
mod taking;
mod writing;

pub use backup::{BACKUP_FORMAT, Backed, Manifest, backup};
pub use restore::{RestoreError, restore};
pub use taking::{Problem, Report, Way, look, take};
pub use writing::{Names, write_log, write_table};

use suspect_store::StoreError;

/// Why a history could not go out or in.
#[derive(Debug, thiserror::Error)]
pub enum ExchangeError {
    /// The records did not answer.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// A file could not be read or written.
    #[error(transparent)]
    File(#[from] std::io::Error),
    /// A table could not be written.
    #[error(transparent)]
    Table(#[from] csv::Error),
    /// An archive could not be written.
    #[error(transparent)]
    Archive(#[from] zip::result::ZipError),
    /// A line could not be written.
    #[error(transparent)]
    Json(#[from] serde_json::Error),
}
