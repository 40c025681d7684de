//! Short drills of looking: signs, what is ordinary, what is mistaken for what, cautions, readings.
//!
//! `deck` lists the cards and lays one out, `schedule` says when one comes again.

mod deck;
mod readings;
mod schedule;

pub use deck::{Card, Kind, deck, lay};
pub use schedule::{Memory, NotAMemory};
