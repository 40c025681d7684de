//! What closed cases teach: a lesson of each, and the open formats of learning.

pub mod lesson;
pub mod rule;
pub mod sheet;
pub mod spent;

use crate::case::Outcome;

/// What an outcome is worth: with its proof complete, or compared with the reference piece.
pub fn worth(outcome: Outcome, proven: bool) -> f64 {
    match outcome {
        Outcome::FixedAndVerified | Outcome::NotAFault if proven => 1.0,
        Outcome::FixedAndVerified | Outcome::NotAFault | Outcome::Improved => 0.5,
        _ => 0.0,
    }
}
