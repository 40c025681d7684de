//! Z: its steps, its travel, bands at even heights.

mod axis_steps;
mod band_spacing;
mod z_resolution;
mod z_travel;

use super::Measure;

pub(super) const ALL: &[Measure] = &[
    z_resolution::MEASURE,
    axis_steps::MEASURE,
    z_travel::MEASURE,
    band_spacing::MEASURE,
];
