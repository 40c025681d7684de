//! A reading as it is kept beside its file.

use super::reading::Reading;
use serde::{Deserialize, Serialize};

/// Counts up whenever a reading would come out otherwise: kept readings are then made anew.
pub const VERSION: u32 = 2;

/// A reading as it is kept: the version says by which way of reading it was made.
#[derive(Serialize, Deserialize)]
struct Stored<R> {
    version: u32,
    reading: R,
}

impl Reading {
    /// As text, to be kept beside the file.
    ///
    /// # Errors
    /// Never, as far as anybody knows: every part can be written.
    pub fn to_stored(&self) -> Result<String, serde_json::Error> {
        serde_json::to_string(&Stored {
            version: VERSION,
            reading: self,
        })
    }

    /// A kept reading, and whether it is as this program would make it. None for what is none.
    pub fn from_stored(text: &str) -> Option<(Reading, bool)> {
        let stored: Stored<Reading> = serde_json::from_str(text).ok()?;
        Some((stored.reading, stored.version == VERSION))
    }
}
