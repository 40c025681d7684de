//! Photos of a case: taken in within limits, stripped of metadata, re-encoded, judged; and the
//! made-up photos of the demo.
#![warn(missing_docs)]

pub mod render;
mod take_in;

pub use take_in::{Kept, LARGEST_FILE, LONGEST_SIDE, MOST_PIXELS, Refused, take_in};
