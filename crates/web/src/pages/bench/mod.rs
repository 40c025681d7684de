//! The measuring bench: what is read, what follows, what it says to a case.

pub mod context;
mod desk;
mod device;
mod follows;
pub mod form;
pub mod hear;
pub mod keep;
pub mod live;
pub mod measure;
mod over_time;
pub mod photo;
mod points;
mod says;
pub mod sheet;
pub mod shelf;
pub mod take;
pub mod trace;
