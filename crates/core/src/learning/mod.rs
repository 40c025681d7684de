//! What outcomes teach: when a fault is proven gone, how long fixes hold, how often each cause
//! strikes here, how surely a fix cures, how long parts live, and whether the advice is calibrated.
//!
//! Pure functions of what was recorded. *Book* is what the knowledge says; everything learned is
//! the book moved by counts, so that a workshop without cases has the book and one odd record moves
//! little.

pub mod calibration;
mod chance;
pub mod cures;
pub mod hold;
pub mod learned;
pub mod links;
pub mod proof;
pub mod rates;
pub mod tally;
pub mod wear;

pub use chance::{Share, beta_quantile, share};
pub use learned::Learned;
pub use links::Links;

/// Share of records that are taken to be wrong.
pub const WRONG: f64 = 0.10;

/// Days after which a case counts half.
pub const HALF_LIFE_DAYS: f64 = 730.0;

/// A learned number lies within this many times the book's, and no further below it.
pub const MOST_FACTOR: f64 = 4.0;
