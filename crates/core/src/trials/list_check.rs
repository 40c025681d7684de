//! What makes no plan: names, values, numbers of a list looked through.

use super::list::{Difference, List, MOST_DIFFERENCES};
use super::plan::Shares;
use super::set::MOST_UNITS;
use crate::nearest::{did_you_mean, short};
use std::collections::HashSet;

/// Why no plan can be made of a list.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum ListProblem {
    /// Nothing differs.
    #[error("the list is empty: name at least one thing that differs between good and bad")]
    Empty,
    /// Too long to be planned.
    #[error(
        "{count} differences that go alone are too many, at most {most} can be told apart: \
        join those that go together, or leave out what cannot matter"
    )]
    TooMany {
        /// How many.
        count: usize,
        /// At most.
        most: usize,
    },
    /// A name that is not there.
    #[error("difference {0} has no name")]
    NoName(usize),
    /// Two of one name.
    #[error("two differences are called \"{0}\": give each a name of its own")]
    Twice(String),
    /// It is no difference.
    #[error("\"{name}\" is \"{value}\" on both sides: that is no difference, leave it out")]
    Same {
        /// The difference.
        name: String,
        /// Both values.
        value: String,
    },
    /// Something names a difference that is not on the list.
    #[error("\"{of}\" speaks of \"{named}\", which is not on the \
        list{}", maybe.as_deref().map(did_you_mean).unwrap_or_default())]
    Unknown {
        /// What speaks of it.
        of: String,
        /// What was named.
        named: String,
        /// What may have been meant.
        maybe: Option<String>,
    },
    /// A number out of range.
    #[error("{of}: {what} is {value}, it must be from {least} to {most}")]
    Number {
        /// Whose.
        of: String,
        /// Which number.
        what: &'static str,
        /// What was given.
        value: f64,
        /// From.
        least: f64,
        /// To.
        most: f64,
    },
    /// The shares leave nothing for one alone.
    #[error(
        "the shares sum to {0}: they must be at least 0 and leave something for one alone, so \
        less than 1 in all"
    )]
    Shares(f64),
}

impl List {
    /// Looks names and numbers through.
    pub(super) fn check(&self) -> Result<(), ListProblem> {
        if self.differences.is_empty() {
            return Err(ListProblem::Empty);
        }
        if self.differences.len() > MOST_DIFFERENCES {
            return Err(ListProblem::TooMany {
                count: self.differences.len(),
                most: MOST_UNITS,
            });
        }
        let mut names = HashSet::new();
        for (i, difference) in self.differences.iter().enumerate() {
            if difference.name.trim().is_empty() {
                return Err(ListProblem::NoName(i + 1));
            }
            if !names.insert(difference.name.as_str()) {
                return Err(ListProblem::Twice(short(&difference.name)));
            }
            difference.check()?;
        }
        for (name, &minutes) in &self.group_minutes {
            within(name, "its minutes", minutes, 0.0, MOST_MINUTES)?;
        }
        within(
            "a piece",
            "its price in minutes",
            self.piece_minutes,
            0.1,
            MOST_MINUTES,
        )?;
        within("the bad piece", "its grade", self.bad_grade, 0.0, 4.0)?;
        within("the eye", "the chance of a slip", self.slip, 0.0, 0.45)?;
        within(
            "living with it",
            "its minutes",
            self.give_up_minutes,
            0.0,
            100_000.0,
        )?;
        self.shares.check()
    }
}

/// Longest change-over or piece, minutes.
const MOST_MINUTES: f64 = 10_000.0;

fn within(
    of: &str,
    what: &'static str,
    value: f64,
    least: f64,
    most: f64,
) -> Result<(), ListProblem> {
    if value.is_finite() && (least..=most).contains(&value) {
        return Ok(());
    }
    Err(ListProblem::Number {
        of: short(of),
        what,
        value,
        least,
        most,
    })
}

impl Difference {
    fn check(&self) -> Result<(), ListProblem> {
        if let (Some(old), Some(new)) = (&self.old, &self.new)
            && old.trim() == new.trim()
        {
            return Err(ListProblem::Same {
                name: short(&self.name),
                value: short(old),
            });
        }
        within(
            &self.name,
            "minutes to change it over",
            self.swap_minutes,
            0.0,
            MOST_MINUTES,
        )?;
        within(
            &self.name,
            "the price of its old value",
            self.live_minutes,
            0.0,
            100_000.0,
        )
    }
}

impl Shares {
    fn check(&self) -> Result<(), ListProblem> {
        let all = [
            self.elsewhere,
            self.comes_and_goes,
            self.together,
            self.separate,
        ];
        let sum: f64 = all.iter().sum();
        if all.iter().all(|s| s.is_finite() && *s >= 0.0) && sum < 1.0 {
            return Ok(());
        }
        Err(ListProblem::Shares(sum))
    }
}
