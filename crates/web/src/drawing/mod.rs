//! Drawings made in Rust: coloured by classes and attributes, so that dark theme and print work under a strict policy.

pub mod line_up;
pub mod pictogram;
