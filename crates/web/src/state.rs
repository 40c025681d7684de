//! What handlers may ask for.

use crate::expecting::Expecting;
use crate::live::Live;
use crate::told::Told;
use crate::waiting::Waiting;
use axum::extract::FromRef;
use jiff::tz::TimeZone;
use std::sync::{Arc, PoisonError, RwLock};
use suspect_core::intake::Matcher;
use suspect_core::knowledge::Knowledge;
use suspect_core::planning::Workshop;
use suspect_core::search::Index;
use suspect_devices::Allowed;
use suspect_store::{Store, StoreError};
use time::OffsetDateTime;
use tokio::sync::Notify;

/// Shared by all requests. Holds nothing another process serving the same database would miss: what
/// is kept here can be read again at any time.
#[derive(Debug, Clone, FromRef)]
pub struct AppState {
    /// The database.
    pub store: Store,
    /// The knowledge, loaded once.
    pub knowledge: Arc<Knowledge>,
    /// The knowledge found by a person's own words.
    pub index: Arc<Index>,
    /// What was read from people's own words.
    pub told: Arc<Told>,
    /// The addresses devices may have.
    pub devices: Arc<Allowed>,
    /// What this process heard of cases that changed.
    pub live: Live,
    /// Files that were looked through and wait.
    pub waiting: Waiting,
    /// What is to be expected of open cases, as far as it was reckoned.
    pub expecting: Expecting,
    #[from_ref(skip)]
    rebuild: Arc<Notify>,
    #[from_ref(skip)]
    zone: Arc<RwLock<(String, TimeZone)>>,
    #[from_ref(skip)]
    clock: fn() -> OffsetDateTime,
    /// Whether the page of all components is served.
    #[from_ref(skip)]
    pub patterns: bool,
    /// Pages go over https alone: the session's cookie, too.
    #[from_ref(skip)]
    pub https: bool,
    /// Others than this computer reach the address: nobody works here without signing in.
    #[from_ref(skip)]
    pub for_strangers: bool,
}

impl AppState {
    /// State with the real clock.
    pub fn new(store: Store, knowledge: Arc<Knowledge>) -> Self {
        let index = Arc::new(Index::new(&knowledge));
        let told = Arc::new(Told::new(Matcher::new(&knowledge)));
        Self {
            store,
            knowledge,
            index,
            told,
            devices: Arc::default(),
            live: Live::default(),
            waiting: Waiting::default(),
            expecting: Expecting::default(),
            rebuild: Arc::default(),
            zone: Arc::new(RwLock::new((String::new(), TimeZone::system()))),
            clock: OffsetDateTime::now_utc,
            patterns: false,
            https: false,
            for_strangers: false,
        }
    }

    /// The present moment; the only place where the pages read a clock.
    pub fn now(&self) -> OffsetDateTime {
        (self.clock)()
    }

    /// The same state with a clock of one's own.
    pub fn with_clock(self, clock: fn() -> OffsetDateTime) -> Self {
        Self { clock, ..self }
    }

    /// The same state, with the addresses devices may have.
    pub fn with_devices(self, devices: Allowed) -> Self {
        Self {
            devices: Arc::new(devices),
            ..self
        }
    }

    /// The same state, with the page of all components served.
    pub fn with_patterns(self, patterns: bool) -> Self {
        Self { patterns, ..self }
    }

    /// The same state, on an address that others than this computer reach.
    pub fn with_strangers(self, for_strangers: bool) -> Self {
        Self {
            for_strangers,
            ..self
        }
    }

    /// The same state, whose pages go over https alone.
    pub fn with_https(self, https: bool) -> Self {
        Self { https, ..self }
    }

    /// Asks for the rows of lists to be looked over: something they hang on was changed.
    pub fn ask_to_rebuild(&self) {
        self.rebuild.notify_one();
    }

    /// Done when somebody asked.
    pub async fn rebuild_asked(&self) {
        self.rebuild.notified().await;
    }

    /// The time zone in which dates are told, as the settings were when they were last read.
    pub fn zone(&self) -> TimeZone {
        self.zone
            .read()
            .unwrap_or_else(PoisonError::into_inner)
            .1
            .clone()
    }

    /// The workshop's settings with the number of their entry.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn workshop(&self) -> Result<(Workshop, u32), StoreError> {
        let (workshop, seq) = self.store.workshop().await?;
        self.tell_time_in(&workshop.time_zone);
        Ok((workshop, seq))
    }

    /// From now on dates are told in this zone; in the computer's own when it is not known.
    pub fn tell_time_in(&self, name: &str) {
        let known = self.zone.read().unwrap_or_else(PoisonError::into_inner).0 == name;
        if !known {
            let zone = match name {
                "" => TimeZone::system(),
                name => TimeZone::get(name).unwrap_or_else(|_| TimeZone::system()),
            };
            let mut kept = self.zone.write().unwrap_or_else(PoisonError::into_inner);
            *kept = (name.to_string(), zone);
        }
    }
}
