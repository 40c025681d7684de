//! Stop conditions and cautions: what must not run, and what to mind before a step.

use crate::evidence::{Answer, Facts};
use crate::knowledge::{FindingId, Knowledge, Stop, StopTerm, Work};

/// Stops that hold for the facts, in knowledge order.
pub fn stops(knowledge: &Knowledge, facts: &Facts) -> Vec<usize> {
    stops_where(knowledge, facts, |_, _| true)
}

/// Stops that hold when only facts accepted by `counts(stop, finding)` are looked at. A finding of `None` is the profile or a number.
///
/// A stop holds with whatever confidence its fact was given: a hunch of loose heater wires is enough to switch off.
pub fn stops_where(
    knowledge: &Knowledge,
    facts: &Facts,
    counts: impl Fn(usize, Option<FindingId>) -> bool,
) -> Vec<usize> {
    (0..knowledge.stops.len())
        .filter(|s| {
            let stop = &knowledge.stops[*s];
            let held = stop.holds.iter().any(|all| {
                all.iter().all(|t| holds(facts, t)) && all.iter().any(|t| counts(*s, finding_of(t)))
            });
            held && !stop.until.iter().any(|t| holds(facts, t))
        })
        .collect()
}

/// Whether a finding that lifts a stop by itself was made: the check that leads to its clearing found all well.
pub fn settled(knowledge: &Knowledge, facts: &Facts, stop: usize) -> bool {
    knowledge.stops[stop].until.iter().any(|t| holds(facts, t))
}

fn finding_of(term: &StopTerm) -> Option<FindingId> {
    match term {
        StopTerm::Finding(f, _) => Some(*f),
        _ => None,
    }
}

fn holds(facts: &Facts, term: &StopTerm) -> bool {
    match term {
        StopTerm::Finding(f, state) => facts
            .findings
            .get(f)
            .is_some_and(|s| s.answer == Answer::State(*state)),
        StopTerm::Context(condition) => condition.holds(&facts.context) == Some(true),
        StopTerm::AtLeast(number, limit, usual) => {
            let least = limit
                .as_ref()
                .and_then(|l| facts.settings.get(l))
                .unwrap_or(*usual);
            facts.settings.get(number).is_some_and(|v| v >= least)
        }
    }
}

/// Cautions of a step, in knowledge order, each once: its own, and those the context calls for whenever something is heated.
pub fn cautions(knowledge: &Knowledge, facts: &Facts, work: &Work) -> Vec<usize> {
    let heats = work.prints || work.state.hot == Some(true);
    (0..knowledge.cautions.len())
        .filter(|c| {
            let when = &knowledge.cautions[*c].when;
            let called_for =
                !when.is_empty() && when.iter().all(|w| w.holds(&facts.context) == Some(true));
            work.cautions.contains(c) || (heats && called_for)
        })
        .collect()
}

/// Whether a check may be done under the stops that hold: only the one that leads to the clearing.
pub fn allowed_under(stops: &[&Stop], check: crate::knowledge::CheckId) -> bool {
    stops.iter().all(|s| s.check == Some(check))
}
