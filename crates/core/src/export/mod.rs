//! The knowledge in open formats: JSON of our own with a published schema, and BIF for outside
//! Bayesian software.

mod bif;
mod json;

pub use bif::bif;
pub use json::{FORMAT, json};
