//! Practice: made-up cases to solve before one touches a machine.
//!
//! `draw` draws a case by its seed: what acts, what a member tells of it; `past` makes one of a
//! closed case; `case` is what both give and how it is kept. `play` answers what the trainee does,
//! always the same; `reading` is what an instrument shows. `judge` says what each step cost against
//! the advice, with the same luck; `belief` scores what one believed. `ways` lets known ways play
//! many cases. `drill` trains looking by itself.

mod belief;
mod case;
mod draw;
pub mod drill;
mod judge;
mod past;
mod play;
mod reading;
mod ways;

pub use belief::{Band, calibration, log_score, shares, truth};
pub use case::{Kept, LEVELS, Level, OtherKnowledge, Past, PracticeCase};
pub use draw::{NoCase, Wanted, any_level, draw, seed_of};
pub use judge::{Judged, Paid, Result, action_id, judge, result, step};
pub use past::{NoPast, of_past};
pub use play::{Act, Answered, Begun, Desk, End, Play, wants_off};
pub use reading::Reading;
pub use ways::{PracticeReport, WayReport, ways};
