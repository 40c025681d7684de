//! Everything that is kept, out in one piece and in again: a view of one moment for whoever writes
//! it down, one transaction for whoever takes it in.

mod people;
mod series;
mod shelf;
mod snapshot;
mod taking_in;

pub use people::StoredMember;
pub use series::StoredSeries;
pub use shelf::StoredThing;
pub use snapshot::{Snapshot, StoredFile, StoredLink, StoredPicture};
pub use taking_in::TakingIn;

use suspect_core::case::Entry;
use uuid::Uuid;

/// A case with its log.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredCase {
    /// Identifier.
    pub id: Uuid,
    /// Running number; none where the next free one will do.
    pub number: Option<i64>,
    /// Its machine.
    pub machine: Uuid,
    /// Everything that happened.
    pub log: Vec<Entry>,
}
