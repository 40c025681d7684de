//! Trial series: begun, listed, the next piece, pieces made and graded, labels, the tray, the end;
//! ladders of one number.

pub mod begin;
pub mod differences;
pub mod finish;
pub mod ladder;
pub mod list;
pub mod make;
mod next_piece;
mod open_series;
pub mod piece;
pub mod show;
pub mod tray;
mod wall;
