//! A small kit of charts for the workshop's figures. Each is one drawing with a name; what it shows
//! stands in a table beside it, which is what a screen reader reads. Parts are told apart by a
//! pattern as well as by colour.

mod axes;
mod curves;
mod ranked;
mod stacked;

pub use curves::{Curve, Curves, Point};
pub use ranked::{Ranked, Row};
pub use stacked::{Place, Stacked, swatch};
