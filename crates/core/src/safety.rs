//! Stop conditions and cautions: what must not run, and what to mind before a step.

use crate::evidence::{Confidence, Facts};
use crate::knowledge::{CheckId, FindingId, Knowledge, Stop, StopTerm, Work};
use crate::profile::{Context, MATERIAL};
use crate::settings::NumberId;

/// One fact that a stop may hang on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Fact {
    /// A finding.
    Finding(FindingId),
    /// A number, by its place in [`crate::settings::NUMBERS`].
    Number(NumberId),
    /// A field of the profile or the material, by its place in [`crate::profile::FIELDS`].
    Field(usize),
}

/// Stops that hold for the facts, in knowledge order, whatever they hang on.
///
/// A stop holds with whatever confidence its fact was given: a hunch of loose heater wires is
/// enough to switch off.
pub fn stops(knowledge: &Knowledge, facts: &Facts) -> Vec<usize> {
    stops_where(knowledge, facts, |_, _| true, |_| true)
}

/// Stops of a case: those that hang on nothing but the machine's build belong to the machine and
/// are left out. Only facts accepted by `counts(stop, fact)` raise one, so that a stop that was
/// lifted comes back when its own fact is stated anew and not otherwise.
pub fn stops_of_case(
    knowledge: &Knowledge,
    facts: &Facts,
    counts: impl Fn(usize, Fact) -> bool,
) -> Vec<usize> {
    stops_where(knowledge, facts, counts, |all| !of_the_build(all))
}

/// Stops that the machine's build alone holds, whatever its cases say: lifted by changing the
/// build.
pub fn stops_of_build(knowledge: &Knowledge, build: &Context) -> Vec<usize> {
    let facts = Facts {
        context: *build,
        ..Facts::default()
    };
    stops_where(knowledge, &facts, |_, _| true, of_the_build)
}

fn stops_where(
    knowledge: &Knowledge,
    facts: &Facts,
    counts: impl Fn(usize, Fact) -> bool,
    looked_at: impl Fn(&[StopTerm]) -> bool,
) -> Vec<usize> {
    let raised = |s: usize, all: &[StopTerm]| {
        all.iter().all(|t| holds(facts, t))
            && all.iter().flat_map(facts_of).any(|fact| counts(s, fact))
    };
    (0..knowledge.stops.len())
        .filter(|s| {
            let alternatives = &knowledge.stops[*s].holds;
            let mut looked = alternatives.iter().filter(|all| looked_at(all));
            looked.any(|all| raised(*s, all)) && !settled(knowledge, facts, *s)
        })
        .collect()
}

/// Whether a stop's alternative hangs on nothing but how the machine is built.
fn of_the_build(all: &[StopTerm]) -> bool {
    all.iter()
        .all(|t| matches!(t, StopTerm::Context(c) if c.field() < MATERIAL))
}

/// Whether a finding that lifts a stop by itself was made for sure: the check that leads to its
/// clearing found all well.
pub fn settled(knowledge: &Knowledge, facts: &Facts, stop: usize) -> bool {
    knowledge.stops[stop].until.iter().any(|t| match t {
        StopTerm::Finding(f, state) => facts
            .findings
            .get(f)
            .is_some_and(|s| s.answer.says(*state) && s.confidence == Confidence::Sure),
        _ => holds(facts, t),
    })
}

/// The facts a term looks at.
fn facts_of(term: &StopTerm) -> Vec<Fact> {
    match term {
        StopTerm::Finding(f, _) => vec![Fact::Finding(*f)],
        StopTerm::Context(condition) => vec![Fact::Field(condition.field())],
        StopTerm::AtLeast(number, limit, _) => std::iter::once(*number)
            .chain(*limit)
            .map(Fact::Number)
            .collect(),
    }
}

fn holds(facts: &Facts, term: &StopTerm) -> bool {
    match term {
        StopTerm::Finding(f, state) => facts.findings.get(f).is_some_and(|s| s.answer.says(*state)),
        StopTerm::Context(condition) => condition.holds(&facts.context) == Some(true),
        StopTerm::AtLeast(number, limit, usual) => {
            let own = limit.and_then(|l| facts.settings.get(l));
            let least = own.unwrap_or(*usual);
            facts.settings.get(*number).is_some_and(|v| v >= least)
        }
    }
}

/// Cautions of a step, in knowledge order, each once: its own, and those the context calls for
/// whenever something is heated. One that speaks of a build this machine does not have is left out.
pub fn cautions(knowledge: &Knowledge, facts: &Facts, work: &Work) -> Vec<usize> {
    (0..knowledge.cautions.len())
        .filter(|c| {
            let when = &knowledge.cautions[*c].when;
            let called_for =
                !when.is_empty() && when.iter().all(|w| w.holds(&facts.context) == Some(true));
            (work.cautions.contains(c) && concerns(knowledge, facts, *c))
                || (work.heats && called_for)
        })
        .collect()
}

/// Whether a caution may concern the machine: its context is not contradicted.
pub fn concerns(knowledge: &Knowledge, facts: &Facts, caution: usize) -> bool {
    let when = &knowledge.cautions[caution].when;
    when.iter().all(|w| w.holds(&facts.context) != Some(false))
}

/// Whether a check may be done under the stops that hold: only the one that leads to the clearing.
pub fn allowed_under(stops: &[&Stop], check: CheckId) -> bool {
    stops.iter().all(|s| s.check == Some(check))
}
