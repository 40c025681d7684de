//! What can go wrong in the store.

use sea_orm::{DbErr, RuntimeErr, SqlErr};
use suspect_core::case::{Entry, Refusal};

/// Why the store did not do as asked.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such case or machine.
    #[error("not found")]
    NotFound,
    /// Someone else wrote first, or what was written by this very touch was taken back since.
    /// Nothing was stored.
    #[error("the log has moved on to entry {actual}")]
    Conflict {
        /// Last entry the writer knew.
        expected: u32,
        /// Last entry there is.
        actual: u32,
        /// What happened since; empty when the writer claims to know more than there is.
        since: Vec<Entry>,
    },
    /// The identity of the touch stands for something else that was stored before.
    #[error("this touch was taken before with another content")]
    OtherTouch,
    /// The event makes no sense now.
    #[error(transparent)]
    Refused(#[from] Refusal),
    /// Something that may be there once is there already; names the database's rule.
    #[error("taken already: {0}")]
    Taken(String),
    /// Too many want the records at once, or somebody holds what is needed for too long.
    #[error("too many at once")]
    Busy,
    /// Something stored cannot be read: another program may have written it.
    #[error("what is stored cannot be read: {0}")]
    Unreadable(String),
    /// A newer version of this program set the database up.
    #[error("the database was set up by a newer version of this program")]
    Newer,
    /// The database cannot be reached or refused. Its text is for the log, never for a page.
    #[error("the database did not answer as expected")]
    Unavailable(DbErr),
}

/// PostgreSQL's codes for giving up a wait: lock not available, query cancelled by its timeout,
/// deadlock.
const GAVE_UP: [&str; 3] = ["55P03", "57014", "40P01"];

impl From<DbErr> for StoreError {
    fn from(e: DbErr) -> Self {
        if let Some(SqlErr::UniqueConstraintViolation(rule)) = e.sql_err() {
            return StoreError::Taken(rule);
        }
        match &e {
            DbErr::Exec(RuntimeErr::SqlxError(inner))
            | DbErr::Query(RuntimeErr::SqlxError(inner)) => {
                let code = inner
                    .as_database_error()
                    .and_then(sea_orm::sqlx::error::DatabaseError::code);
                if code.is_some_and(|c| GAVE_UP.contains(&c.as_ref())) {
                    return StoreError::Busy;
                }
                StoreError::Unavailable(e)
            }
            _ => {
                crate::gate::unanswered();
                StoreError::Unavailable(e)
            }
        }
    }
}

/// What is stored and cannot be read any more.
pub(crate) fn unreadable(e: serde_json::Error) -> StoreError {
    StoreError::Unreadable(e.to_string())
}

/// What is wrong with the database, for whoever starts the program: never with its address, in
/// which a password may stand.
pub fn without_secrets(e: &DbErr) -> String {
    use sea_orm::sqlx::Error;
    let (DbErr::Conn(RuntimeErr::SqlxError(inner))
    | DbErr::Exec(RuntimeErr::SqlxError(inner))
    | DbErr::Query(RuntimeErr::SqlxError(inner))) = e
    else {
        return "It did not answer as expected.".to_string();
    };
    match &**inner {
        Error::Io(e) => e.to_string(),
        Error::Database(e) => e.message().to_string(),
        Error::Tls(_) => "A safe connection could not be made.".to_string(),
        Error::PoolTimedOut => "It did not answer in time.".to_string(),
        _ => "Its address is not understood, or it did not answer as expected.".to_string(),
    }
}
