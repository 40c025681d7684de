//! What brings a machine into service.

use super::upkeep::Wrong;
use crate::identified::identified;
use crate::profile::Condition;

identified! {
    /// Where a machine comes from.
    pub enum History {
        /// Put together by hand.
        Assembled = "assembled",
        /// Bought used.
        Used = "used",
        /// Nobody knows.
        Unknown = "unknown",
        /// Taken apart and built anew.
        Rebuilt = "rebuilt",
    }
}

/// A step of bringing a machine into service.
#[derive(Debug, Clone, PartialEq)]
pub struct CommissionStep {
    /// Identifier.
    pub id: String,
    /// Its name.
    pub name: String,
    /// What is done, and how it should be.
    pub text: String,
    /// Minutes it takes.
    pub minutes: f64,
    /// It heats: offered once every cold step is answered and well.
    pub heats: bool,
    /// Machines it is there for; empty for all.
    pub history: Vec<History>,
    /// Conditions of the build.
    pub needs: Vec<Condition>,
    /// Cautions to read before it, by index.
    pub cautions: Vec<usize>,
    /// Field and value of the build that follow when it is not well.
    pub unless: Option<(String, String)>,
    /// What may be seen that is wrong.
    pub wrong: Vec<Wrong>,
    /// A measure of the bench that belongs to it.
    pub measure: Option<String>,
    /// A test piece that belongs to it.
    pub piece: Option<String>,
    /// Well means that its settings are the first known good ones.
    pub good: bool,
}
