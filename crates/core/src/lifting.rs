//! Who may lift a stop: a person with a name, who says why and has seen to every step.

use crate::refusal::{Problem, Refusal};
use crate::text;
use serde::{Deserialize, Serialize};

/// A named person's word that a stop of the build may end.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Lifting {
    /// Who.
    pub by: String,
    /// Why the machine is safe again.
    pub reason: String,
    /// Steps of the stop that were done, from 1.
    pub seen: Vec<u32>,
}

/// Whoever lifts a stop writes a name and a reason that are words, and has seen each of its steps.
///
/// # Errors
/// Names the field (`by`, `reason`, `steps`) and what would do.
pub fn lifting_holds(by: &str, reason: &str, seen: &[u32], steps: usize) -> Result<(), Refusal> {
    text::words(by, text::LONGEST_NAME).map_err(|e| Refusal::invalid("by", e))?;
    text::words(reason, text::LONGEST_TEXT).map_err(|e| Refusal::invalid("reason", e))?;
    match (1..=steps as u32).find(|n| !seen.contains(n)) {
        None => Ok(()),
        Some(step) => {
            let problem = Problem::NotTicked { step, steps };
            Err(Refusal::invalid("steps", problem))
        }
    }
}
