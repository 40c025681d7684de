//! The handbook: what the knowledge holds, to look up beside a machine or to read in an armchair.

pub mod cautions;
pub mod checks;
pub mod fixes;
pub mod glossary;
pub mod materials;
pub mod measures;
mod parts;
pub mod schools;
pub mod search;
pub mod signs;
pub mod suspects;
mod written;
