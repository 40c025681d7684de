//! Print files taken in within limits, and the made-up files of the demo.
//!
//! - [`intake`]: bytes as they come, plain, gzipped or in a container, become text
//! - [`kept`]: the text put aside while it is read, until it is known to be whole
//! - [`made`]: a very small slicer for one piece, the lighthouse of the demo
//!
//! What the text says is for `suspect_core::gcode`.

#![warn(missing_docs)]

pub mod intake;
pub mod kept;
pub mod made;

pub use intake::{Intake, Limits, Refused, Taken};
pub use kept::{Keeper, Kept};
