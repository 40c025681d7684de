//! Taking a case in: places to touch on print and machine, words understood, questions worth asking
//! now, what is still missing, what can be carried over from the machine's last case.

mod carried;
mod completeness;
mod field;
mod height;
mod places;
mod questions;
mod twins;
mod words;

pub use carried::{Carried, carried};
pub use completeness::{Completeness, Lack, Missing, completeness};
pub use height::{Reach, layer_at};
pub use places::{PLACES, Place, marked_at, place, signs_at};
pub use questions::{AT_ONCE, Answer, Question, questions};
pub use twins::shared;
pub use words::{Matcher, Proposal, Read, title};
