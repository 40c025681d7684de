//! Sizes of a piece: lengths, roundness, squareness, heights.

mod diagonals;
mod fit_lengths;
mod round_four_ways;
pub(super) mod same_height;

use super::Measure;

pub(super) const ALL: &[Measure] = &[
    fit_lengths::MEASURE,
    round_four_ways::MEASURE,
    diagonals::MEASURE,
    same_height::MEASURE,
];
