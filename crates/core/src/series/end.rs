//! How a series ends.

use serde::{Deserialize, Serialize};

/// What a series found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum How {
    /// What is guilty is known and put back.
    Solved,
    /// The whole list is cleared.
    Elsewhere,
    /// It comes and goes by itself.
    ComesAndGoes,
    /// The old values stay: cheaper than finding out.
    LivingWithIt,
    /// Left unfinished.
    LeftOff,
}

impl How {
    /// Every end, with its identifier.
    pub const ALL: [(How, &'static str); 5] = [
        (How::Solved, "solved"),
        (How::Elsewhere, "elsewhere"),
        (How::ComesAndGoes, "comes-and-goes"),
        (How::LivingWithIt, "living-with-it"),
        (How::LeftOff, "left-off"),
    ];

    /// By its identifier.
    pub fn of(id: &str) -> Option<How> {
        How::ALL
            .iter()
            .find(|(_, known)| *known == id)
            .map(|(how, _)| *how)
    }
}

/// A setting to keep.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Keep {
    /// Which.
    pub name: String,
    /// At which value, in words.
    pub value: String,
    /// It is the old value.
    pub old: bool,
}
