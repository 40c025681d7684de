//! Print files: added, looked at by height and by layer, asked, compared, made into ladders.

pub mod add;
pub mod against;
mod figures;
mod findings;
pub mod from_spool;
pub mod ladder;
pub mod layer;
pub mod lost;
mod open_file;
pub mod remove;
pub mod show;
pub mod take_over;
