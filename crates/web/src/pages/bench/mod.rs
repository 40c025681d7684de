//! The measuring bench: what is read, what follows, what it says to a case.

pub mod context;
pub mod form;
pub mod keep;
pub mod measure;
pub mod over_time;
pub mod says;
pub mod sheet;
pub mod shelf;
