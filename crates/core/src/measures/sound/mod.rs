//! Sound: the tone of a plucked belt.

mod pitch;
mod tone;

use super::Measure;

pub(super) use tone::spectrum;

pub(super) const ALL: &[Measure] = &[tone::MEASURE];
