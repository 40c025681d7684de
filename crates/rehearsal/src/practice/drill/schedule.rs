//! When a card comes again: the free spaced repetition scheduler (FSRS) as the package `rs-fsrs`
//! has it, with its own parameters. What one gets wrong comes back within minutes, what one knows
//! after days that grow.

use chrono::{DateTime, Utc};
use rs_fsrs::{Card, FSRS, Parameters, Rating};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

/// What is remembered of a card.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Memory(Card);

/// Something that is no memory of a card.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("what was kept of a card cannot be read")]
pub struct NotAMemory;

impl Memory {
    /// Of a card seen for the first time now.
    pub fn new(now: OffsetDateTime) -> Self {
        let now = instant(now);
        Memory(Card {
            due: now,
            last_review: now,
            ..Card::default()
        })
    }

    /// As it was kept.
    ///
    /// # Errors
    /// [`NotAMemory`] where it is something else.
    pub fn read(kept: &serde_json::Value) -> Result<Self, NotAMemory> {
        serde_json::from_value(kept.clone()).map_err(|_| NotAMemory)
    }

    /// As it is kept.
    pub fn kept(&self) -> serde_json::Value {
        // Numbers and moments alone: they always have a form.
        serde_json::to_value(self).unwrap_or_default()
    }

    /// How often it was answered.
    pub fn turns(&self) -> u32 {
        self.0.reps.unsigned_abs()
    }

    /// After an answer, right or wrong.
    #[must_use]
    pub fn answered(&self, right: bool, now: OffsetDateTime) -> Self {
        let rating = if right { Rating::Good } else { Rating::Again };
        let parameters = Parameters {
            enable_fuzz: false,
            ..Parameters::default()
        };
        let next = FSRS::new(parameters).next(self.0.clone(), instant(now), rating);
        Memory(next.card)
    }

    /// When it is due.
    pub fn due(&self) -> OffsetDateTime {
        OffsetDateTime::from_unix_timestamp(self.0.due.timestamp())
            .unwrap_or(OffsetDateTime::UNIX_EPOCH)
    }
}

fn instant(at: OffsetDateTime) -> DateTime<Utc> {
    DateTime::from_timestamp(at.unix_timestamp(), 0).unwrap_or_default()
}
