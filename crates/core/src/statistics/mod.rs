//! A workshop's own figures: sums over closed cases, and what follows from them. A figure is told
//! from its least number of cases on, with its interval.
//!
//! Sums are whole numbers and hang on no order, so that a case taken out leaves nothing behind.

mod advice;
mod care;
mod cost;
mod counts;
mod machines;
mod minutes;
mod sums;

pub use advice::{Advice, BINS, Bin, Mistaken, advice};
pub use care::{Care, Ends, care, ends};
pub use cost::{Loss, MonthCost, Priced, costs};
pub use counts::{Count, Counted, counts};
pub use machines::{Exposure, Offender, Pace, offenders, pace};
pub use minutes::{Minutes, Ratio, minutes};
pub use sums::Sums;

/// Causes told apart month by month; the others are one.
pub const DRAWN: usize = 5;

/// A figure, or how many cases are still wanting.
#[derive(Debug, Clone, PartialEq)]
pub enum Told<T> {
    /// Enough cases speak.
    Known(T),
    /// Too few yet.
    TooFew {
        /// Cases there are.
        n: i64,
        /// Cases there must be.
        least: i64,
    },
}

impl<T> Told<T> {
    /// The figure where `n` cases are enough and it can be reckoned.
    fn from(n: i64, least: i64, figure: impl FnOnce() -> Option<T>) -> Self {
        let known = if n >= least { figure() } else { None };
        known.map_or(Told::TooFew { n, least }, Told::Known)
    }

    /// The figure, if it is known.
    pub fn known(&self) -> Option<&T> {
        match self {
            Told::Known(figure) => Some(figure),
            Told::TooFew { .. } => None,
        }
    }
}
