//! Motion in X and Y: ribs, ripples, ringing, a sideways step.

mod belt_pluck;
mod rib_spacing;
mod ringing;
mod ripple_two_speeds;
mod shift_size;

use super::Measure;

pub(super) const ALL: &[Measure] = &[
    belt_pluck::MEASURE,
    rib_spacing::MEASURE,
    ripple_two_speeds::MEASURE,
    ringing::MEASURE,
    shift_size::MEASURE,
];
