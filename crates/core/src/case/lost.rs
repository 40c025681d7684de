//! What the failed print cost: asked once, when a case opens.

use serde::{Deserialize, Serialize};

/// What went with the failed print, as far as somebody told.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
pub struct Lost {
    /// Hours the machine had printed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
    /// Grams of filament.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grams: Option<f64>,
    /// It was caught in the first layer.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub first_layer: bool,
}

impl Lost {
    /// Whether it says anything.
    pub fn says_anything(&self) -> bool {
        self.first_layer || self.hours.is_some() || self.grams.is_some()
    }
}
