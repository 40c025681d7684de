//! What a failure, a fix, a trial costs; what an old machine is worth; what proves a fix.

mod cost_of_failure;
mod cost_of_fix;
mod cost_of_trial;
mod proof_prints;
mod repair_or_retire;

use super::Measure;

pub(super) const ALL: &[Measure] = &[
    cost_of_failure::MEASURE,
    cost_of_fix::MEASURE,
    cost_of_trial::MEASURE,
    repair_or_retire::MEASURE,
    proof_prints::MEASURE,
];
