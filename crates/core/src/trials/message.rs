//! What a plan says of the causes of a case: one row of evidence, a likelihood and no posterior.

use super::belief::{Belief, Hypothesis};
use super::course::Course;
use super::grade::Likelihood;
use super::set::Set;
use super::verdict::Finding;

/// A plan's evidence is held within this, dB.
pub const MOST_DB: f64 = 20.0;

/// How likely a look is under one hypothesis.
fn under(hypothesis: Hypothesis, set: Set, said: Likelihood) -> f64 {
    let (one, two) = match hypothesis {
        Hypothesis::Alone(i) => return if set.has(i) { said.clean } else { said.fault },
        Hypothesis::Elsewhere => return said.fault,
        Hypothesis::ComesAndGoes => return said.fickle(),
        Hypothesis::Together(i, j)
        | Hypothesis::SeparateSeen(i, j)
        | Hypothesis::SeparateHidden(i, j) => (set.has(i), set.has(j)),
    };
    match (one, two, hypothesis) {
        (true, true, _) => said.clean,
        (false, false, _) => said.fault,
        (_, _, Hypothesis::Together(..)) => said.clean,
        (_, _, Hypothesis::SeparateSeen(..)) => said.half,
        _ => said.fault,
    }
}

/// How likely a look is if a finding holds.
pub(super) fn of_finding(finding: Finding, set: Set, said: Likelihood) -> f64 {
    let hypothesis = match finding {
        Finding::Set(units) => match units.iter().collect::<Vec<_>>()[..] {
            [i] => Hypothesis::Alone(i),
            [i, j, ..] => Hypothesis::SeparateSeen(i, j),
            [] => Hypothesis::Elsewhere,
        },
        Finding::Together(i, j) => Hypothesis::Together(i, j),
        Finding::Elsewhere => Hypothesis::Elsewhere,
        Finding::ComesAndGoes => Hypothesis::ComesAndGoes,
    };
    under(hypothesis, set, said)
}

/// For a cause that these units name: how much likelier all grades are if it acts than if none of
/// the list does, dB within [`MOST_DB`]. 0 where nothing was printed, or the cause names no unit.
pub fn decibans(course: &Course, units: Set) -> f64 {
    let likelihood = |h: Hypothesis| -> f64 {
        course
            .said
            .iter()
            .map(|&(set, said)| under(h, set, said))
            .product()
    };
    let (mut acts, mut before) = (0.0, 0.0);
    for (hypothesis, prior) in Belief::prior(course.plan).hypotheses() {
        let touched = match hypothesis {
            Hypothesis::Alone(i) => units.has(i),
            Hypothesis::Together(i, j)
            | Hypothesis::SeparateSeen(i, j)
            | Hypothesis::SeparateHidden(i, j) => units.has(i) || units.has(j),
            Hypothesis::Elsewhere | Hypothesis::ComesAndGoes => false,
        };
        if touched && prior > 0.0 {
            acts += prior * likelihood(hypothesis);
            before += prior;
        }
    }
    if before <= 0.0 {
        return 0.0;
    }
    let ratio = acts / before / likelihood(Hypothesis::Elsewhere);
    (10.0 * ratio.log10()).clamp(-MOST_DB, MOST_DB)
}
