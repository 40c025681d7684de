//! The bed: its tram, its screws, its probe.

mod plane;
mod probe_repeat;
mod tram;
mod witness_marks;

use super::Measure;

pub(super) const ALL: &[Measure] = &[tram::MEASURE, witness_marks::MEASURE, probe_repeat::MEASURE];
