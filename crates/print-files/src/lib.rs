//! Print files taken in within limits, and the made-up files of the demo.
//!
//! - [`intake`]: bytes as they come, plain, gzipped or in a container, become text
//! - [`made`]: a very small slicer for one piece, the lighthouse of the demo
//!
//! What the text says is for `suspect_core::gcode`.

#![warn(missing_docs)]

pub mod intake;
pub mod made;

pub use intake::{Intake, Limits, Refused, Taken};
