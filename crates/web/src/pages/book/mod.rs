//! The machine's book: its page, what is written into its journal, the round, what is due as a
//! calendar, labels, kinds of machines.

mod book_view;
pub mod commission;
pub mod describe;
pub mod feed;
pub mod kinds;
pub mod label;
mod open_book;
pub mod own_kind;
pub mod retire;
pub mod round;
pub mod service;
pub mod show;
mod view;
pub mod write;
