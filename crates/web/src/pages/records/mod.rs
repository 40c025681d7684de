//! Records: closed cases; closing, asking again, opening again.

pub mod again;
pub mod close;
pub mod exchange;
pub mod held;
pub mod learning;
pub mod list;
pub mod own;
pub mod reopen;
mod search;
