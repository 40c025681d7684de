//! The shift: what needs hands now, planned for those who are there, and handed over at its end.

pub mod atom;
pub mod begin;
pub mod end;
mod evening;
pub mod pages;
pub mod say;
pub mod show;
mod tasks;
pub mod waits;
