//! Spools and spare parts.

pub mod spool;
pub mod spools;
pub mod stock;
