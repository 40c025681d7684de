//! A trial series: a kept baseline, what differs from it, pieces with labels, grades; as a log of
//! its own, belonging to a case or a machine.
//!
//! [`Event`] is what happens, [`replay`] what the series then is, [`accept`] whether an event may
//! happen now. The reckoning is [`crate::trials`]; here it meets pieces, people and a case.

mod accept;
mod end;
mod event;
mod label;
mod pasted;
mod report;
mod state;
mod weight;

pub use accept::{LONGEST, Refused, accept};
pub use end::{How, Keep};
pub use event::{Baseline, Entry, Event, Listed, Made, Printed};
pub use label::{LABEL_HELP, Label};
pub use pasted::{pasted, suspects_of};
pub use report::report;
pub use state::{Look, Piece, Series, replay};
pub use weight::{Weight, Word};
