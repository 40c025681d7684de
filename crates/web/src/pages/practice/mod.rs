//! Practice, apart from the records: drawn cases that are played and judged, drills of looking.
//!
//! `list` is the place in the rail, `begin` draws, `show` plays or looks back (`debrief`), `act`
//! does something, `work` shows a procedure, `drill` lays cards, `past` offers closed cases, `own`
//! is what belongs to whoever practises: what they passed, wishes, a file, deletion.

pub mod act;
pub mod begin;
mod debrief;
pub mod drill;
mod known;
mod line_up;
pub mod list;
mod listed;
mod open;
pub mod own;
pub mod past;
pub mod show;
pub mod tone;
mod wanted;
pub mod wishes;
pub mod work;

use crate::screen;

/// Whose practice this is where nobody signs in.
const HERE: &str = "here";

/// Whose practice is on the screen.
pub(super) fn owner() -> String {
    screen::owner().unwrap_or_else(|| HERE.to_string())
}
