//! Photos of a case: taken in within limits, stripped of metadata, re-encoded, judged; and the
//! made-up photos of the demo.
//!
//! `take_in` holds the limits and the way of a photo; [`render`] draws the demo's.
#![warn(missing_docs)]

mod along;
pub mod render;
mod take_in;

pub use along::{Grey, LONGEST_LINE, Place};
pub use take_in::{Kept, LARGEST_FILE, LONGEST_SIDE, MOST_PIXELS, Refused, kept_size, take_in};
