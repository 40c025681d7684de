//! Amounts of plastic: walls, feed, filament, first layer, melt, restart, coasting.

mod coasting_volume;
mod extruder_steps;
mod feed_free_and_hot;
mod first_layer_thickness;
mod insert_length;
mod measure_filament;
mod melt_demand;
mod missing_restart;
mod wall_thickness;

use super::Measure;

pub(super) const ALL: &[Measure] = &[
    wall_thickness::MEASURE,
    extruder_steps::FREE,
    extruder_steps::HOT,
    feed_free_and_hot::MEASURE,
    melt_demand::MEASURE,
    measure_filament::MEASURE,
    missing_restart::MEASURE,
    coasting_volume::MEASURE,
    insert_length::MEASURE,
    first_layer_thickness::MEASURE,
];
