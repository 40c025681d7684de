//! What is in stock: filament, how dry it is, how much is left; parts that wear.

mod drying;
mod filament_amount;
mod spool_remaining;
mod wear_left;

use super::Measure;

pub(super) const ALL: &[Measure] = &[
    drying::MEASURE,
    filament_amount::MEASURE,
    spool_remaining::MEASURE,
    wear_left::MEASURE,
];
