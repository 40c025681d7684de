//! What can go wrong in the store.

use suspect_core::case::{Entry, Refusal};

/// Why the store did not do as asked.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such case or machine.
    #[error("not found")]
    NotFound,
    /// Someone else wrote to the case first. Nothing was stored.
    #[error("the case has moved on to event {actual}")]
    Conflict {
        /// Last event the writer knew.
        expected: u32,
        /// Last event there is.
        actual: u32,
        /// What happened since.
        since: Vec<Entry>,
    },
    /// The event makes no sense now.
    #[error(transparent)]
    Refused(#[from] Refusal),
    /// The database cannot be reached or refused. Its text is for the log, never for a page.
    #[error("the database did not answer as expected")]
    Unavailable(#[from] sea_orm::DbErr),
}
