//! What handlers may ask for.

use crate::live::Live;
use std::sync::Arc;
use suspect_core::intake::Matcher;
use suspect_core::knowledge::Knowledge;
use suspect_core::search::Index;
use suspect_store::Store;
use time::OffsetDateTime;

/// Shared by all requests. Holds nothing another process serving the same database would miss.
#[derive(Debug, Clone)]
pub struct AppState {
    /// The database.
    pub store: Store,
    /// The knowledge, loaded once.
    pub knowledge: Arc<Knowledge>,
    /// The knowledge found by a person's own words.
    pub index: Arc<Index>,
    /// The phrases by which people tell of findings.
    pub matcher: Arc<Matcher>,
    /// What this process heard of cases that changed.
    pub live: Live,
    clock: fn() -> OffsetDateTime,
}

impl AppState {
    /// State with the real clock.
    pub fn new(store: Store, knowledge: Arc<Knowledge>) -> Self {
        let index = Arc::new(Index::new(&knowledge));
        let matcher = Arc::new(Matcher::new(&knowledge));
        Self {
            store,
            knowledge,
            index,
            matcher,
            live: Live::default(),
            clock: OffsetDateTime::now_utc,
        }
    }

    /// The present moment; the only place where the pages read a clock.
    pub fn now(&self) -> OffsetDateTime {
        (self.clock)()
    }
}
