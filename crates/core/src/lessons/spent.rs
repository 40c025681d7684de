//! What a closed case cost, and what it says of the care around it.

use crate::case::{CaseState, HeldAnswer, Lost, Shows, Status};
use serde::{Deserialize, Serialize};

/// What a closed case cost.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Spent {
    /// Minutes of search and repair.
    pub minutes: f64,
    /// Grams of filament of search and proof.
    pub grams: f64,
    /// Money for parts.
    pub money: f64,
    /// Minutes of a printed guide to the same signs; none where no cause was recorded.
    pub listed: Option<f64>,
    /// What the failed print cost, where somebody told.
    pub lost: Option<Lost>,
    /// The fault shows in the first layer.
    pub shows_first: bool,
    /// Somebody answered whether the fix held.
    pub answered: bool,
}

impl Spent {
    /// What a case cost as it stands.
    pub(super) fn of(case: &CaseState, listed: Option<f64>) -> Self {
        let answered = match &case.status {
            Status::Resolved(r) => r.asked.iter().any(|(_, a)| *a == HeldAnswer::Held),
            _ => false,
        };
        Self {
            minutes: case.minutes,
            grams: case.grams,
            money: case.money,
            listed,
            lost: case.lost,
            shows_first: case.struck().shows == Shows::FirstLayer,
            answered,
        }
    }
}
