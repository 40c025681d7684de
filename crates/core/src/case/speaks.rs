//! What an outcome in the workshop's own words says of a suspect.

use crate::identified::identified;
use serde::{Deserialize, Serialize};

identified! {
    /// How strongly an outcome in own words speaks of a suspect.
    pub enum SpeaksHow {
        /// Clearly for it: ten times likelier.
        ClearlyFor = "clearly-for",
        /// Rather for it: twice as likely.
        RatherFor = "rather-for",
        /// Rather against it.
        RatherAgainst = "rather-against",
        /// Clearly against it.
        ClearlyAgainst = "clearly-against",
    }
}

impl SpeaksHow {
    /// Decibans, below 0 against.
    pub fn decibans(self) -> f64 {
        match self {
            SpeaksHow::ClearlyFor => 10.0,
            SpeaksHow::RatherFor => 3.0,
            SpeaksHow::RatherAgainst => -3.0,
            SpeaksHow::ClearlyAgainst => -10.0,
        }
    }
}

/// Whom an outcome in own words speaks of.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Speaks {
    /// A cause by identifier, or [`Speaks::SOMEONE_ELSE`].
    pub cause: String,
    /// How strongly.
    pub how: SpeaksHow,
}

impl Speaks {
    /// Whoever is not listed.
    pub const SOMEONE_ELSE: &'static str = "someone-else";
}
