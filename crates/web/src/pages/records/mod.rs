//! Records: closed cases; closing and opening again.

pub mod close;
pub mod list;
pub mod own;
pub mod reopen;
