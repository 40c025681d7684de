//! Spools and spare parts.

pub mod spool;
pub mod spools;
pub mod stock;
pub mod stock_thing;
