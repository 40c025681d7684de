//! A case: who stands in the line-up and why, what is to be done, what happened.

pub mod build;
pub mod clear;
mod facts_line;
mod glance;
pub mod join;
mod ledger;
pub mod move_case;
mod next_step;
pub mod note;
pub mod picture;
pub mod plan;
pub mod retract;
pub mod same_spool;
pub mod shortly;
pub mod show;
pub mod why;
