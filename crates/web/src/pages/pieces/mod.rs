//! Test pieces: all of them, one with its drawing and its reading sheet, its files, what was read.

pub mod files;
pub mod list;
mod over_time;
pub mod read;
pub mod show;
