//! Telling others: the brief and links to it, what helpers suggest, a case as a sheet, the account
//! of a solved one.

pub mod account;
mod brief;
pub mod brief_page;
pub mod by_link;
pub mod links;
pub mod markdown;
pub mod sheet;
pub mod suggestions;
