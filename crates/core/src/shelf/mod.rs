//! Things of the workshop that have a log of their own beside cases and machines: spools of
//! filament, spare parts in stock, kinds of machines as the workshop describes them.

mod own_kind;
mod reorder;
mod spool;
mod stock;
mod used;

pub use own_kind::{OwnDescription, OwnKind, OwnKindEvent, OwnQuirk};
pub use reorder::{Shopping, shopping};
pub use spool::{Dried, KEEPING, Spool, SpoolEvent, drying_hint};
pub use stock::{Stock, StockEvent};
pub use used::{grams_used, parts_used, spool_number};

use crate::knowledge::Knowledge;
use crate::refusal::Refusal;
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

/// A thing with a log.
pub trait Shelved: Default + Clone + Serialize + DeserializeOwned + Send + Sync {
    /// What its rows are called in the store.
    const KIND: &'static str;
    /// What happens to it moves suspects of machines.
    const MOVES_SUSPECTS: bool = false;
    /// Open pages hear of what happens to it.
    const TELLS: bool = false;
    /// What may happen to it.
    type Event: Clone + PartialEq + Serialize + DeserializeOwned + Send + Sync;

    /// Checks whether an event may happen to it as it is; `new` where nothing happened yet.
    ///
    /// # Errors
    /// Which value is wrong, and what would do.
    fn accept(&self, knowledge: &Knowledge, event: &Self::Event, new: bool) -> Result<(), Refusal>;

    /// It, after an event.
    fn take(&mut self, entry: &Shelving<Self::Event>);

    /// Whether an event may be written whatever happened since the writer looked: it stands on its
    /// own.
    fn stands_alone(event: &Self::Event) -> bool;

    /// It, after all of its log.
    fn of(log: &[Shelving<Self::Event>]) -> Self {
        let mut thing = Self::default();
        for entry in log {
            thing.take(entry);
        }
        thing
    }
}

/// An event with its moment.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Shelving<E> {
    /// 1 for the first, then without gaps.
    pub seq: u32,
    /// When it was recorded.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who was at the screen, when somebody had said so.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// What.
    pub event: E,
}
