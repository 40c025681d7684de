//! What is read from a photo with a reference of known length on it.

mod photo_distance;
mod photo_heights;
mod photo_rhythm;
mod rhythm;
mod scale;

use super::Measure;
pub(super) use rhythm::Profile;

pub(super) const ALL: &[Measure] = &[
    photo_rhythm::MEASURE,
    photo_distance::MEASURE,
    photo_heights::MEASURE,
];
