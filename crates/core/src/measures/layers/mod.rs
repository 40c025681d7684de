//! What follows from layers and infill: towers, top skins, starts, the time of a layer.

mod infill_starts;
mod layer_time;
mod skin_ways;
mod top_layers_count;
mod tower_reading;

use super::Measure;

pub(super) const ALL: &[Measure] = &[
    tower_reading::MEASURE,
    top_layers_count::MEASURE,
    skin_ways::MEASURE,
    infill_starts::MEASURE,
    layer_time::MEASURE,
];
