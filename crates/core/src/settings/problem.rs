//! What is wrong with a number.

use crate::nearest::did_you_mean;

/// What a number is called, and between which values it makes sense.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Range {
    /// "nozzle temperature".
    pub plain: &'static str,
    /// "°C", empty for numbers without one.
    pub unit: &'static str,
    /// Smallest value.
    pub min: f64,
    /// Largest value.
    pub max: f64,
}

impl Range {
    /// The unit as it stands behind a number, nothing for numbers without one.
    fn unit_behind(&self) -> String {
        match self.unit {
            "" => String::new(),
            unit => format!(" {unit}"),
        }
    }
}

/// Why a number was not taken.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum NumberProblem {
    /// There is no such number.
    #[error("`{given}` is not a known number{}", near.map(did_you_mean).unwrap_or_default())]
    Unknown {
        /// What was given, cut short.
        given: String,
        /// The most alike.
        near: Option<&'static str>,
    },
    /// What was given is no number.
    #[error(
        "{} must be a number between {} and {}{}{}",
        range.plain, range.min, range.max, range.unit_behind(), but_given(given.as_deref())
    )]
    NotANumber {
        /// What would do.
        range: Range,
        /// The text given, cut short; nothing when it was no text.
        given: Option<String>,
    },
    /// What was given is no number, where any number will do.
    #[error("{plain} must be a number, but \"{given}\" was given")]
    NoNumber {
        /// What it is called.
        plain: String,
        /// The text given, cut short.
        given: String,
    },
    /// It lies outside of all sense.
    #[error(
        "{} must be between {} and {}{u}, but {given}{u} was given",
        range.plain, range.min, range.max, u = range.unit_behind()
    )]
    Outside {
        /// What would do.
        range: Range,
        /// What was given.
        given: f64,
    },
    /// A bare number that makes sense only in inches.
    #[error(
        "{} must be between {} and {}{u}, but {given}{u} was given; if that is in inches, write \
         {given} in",
        range.plain, range.min, range.max, u = range.unit_behind()
    )]
    PerhapsInches {
        /// What would do.
        range: Range,
        /// What was given.
        given: f64,
    },
    /// Only whole numbers make sense.
    #[error("{plain} must be a whole number, but {given} was given")]
    NotWhole {
        /// What it is called.
        plain: &'static str,
        /// What was given.
        given: f64,
    },
    /// The unit behind it is of another kind.
    #[error(
        "{} must be a number between {} and {}{}, but \"{given}\" was given; the unit \"{unit}\" \
         does not fit here",
        range.plain, range.min, range.max, range.unit_behind()
    )]
    WrongUnit {
        /// What would do.
        range: Range,
        /// The text given, cut short.
        given: String,
        /// The unit in it.
        unit: String,
    },
    /// It can be read in two ways.
    #[error("{plain}: \"{given}\" can be read as {small} or as {large}; write {small} or {large}")]
    TwoWays {
        /// What it is called.
        plain: String,
        /// The text given.
        given: String,
        /// With a decimal comma.
        small: f64,
        /// With thousands parted.
        large: f64,
    },
}

fn but_given(given: Option<&str>) -> String {
    given.map_or_else(String::new, |given| format!(", but \"{given}\" was given"))
}
