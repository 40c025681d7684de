//! "Does anything else look wrong?": the cheapest check there is, planned like any other.
//!
//! With one or two facts a good share of the probability stands on suspects that no fact speaks of.
//! A glance over print and machine tells them from the others before anything is taken in hand.

use super::look_ahead::LookAhead;
use super::network::Network;
use super::preview::state_likelihoods;
use super::{Action, Plan, Present, Workshop, stand};
use crate::evidence::Facts;
use crate::knowledge::{FindingId, Knowledge, Section};
use crate::ranking::Posterior;

/// Signs a glance takes in: the most telling of those not answered.
const SIGNS: usize = 10;
/// Minutes the glance takes.
const MINUTES: f64 = 2.0;
/// It is asked first when it saves more than this many counted minutes.
const WORTH: f64 = 1.0;
/// Steps of the plan that may follow on what is seen.
const FOLLOWING: usize = 6;

/// The glance, with what it is worth.
#[derive(Debug, Clone, PartialEq)]
pub struct LookOver {
    /// Minutes it takes.
    pub minutes: f64,
    /// Counted minutes it saves when it comes before the first step of the plan.
    pub saves: f64,
    /// The most telling signs nobody has spoken of, the most telling first.
    pub signs: Vec<FindingId>,
}

/// Whether the glance comes before the plan's first step. Signs that `spoken_of` knows were
/// answered or passed over.
pub fn look_over(
    knowledge: &Knowledge,
    facts: &Facts,
    posterior: &Posterior,
    workshop: &Workshop,
    present: Present,
    plan: &Plan,
    spoken_of: impl Fn(FindingId) -> bool,
) -> Option<LookOver> {
    let first = plan.steps.first()?;
    if !plan.stops.is_empty() || plan.before_heat || matches!(first.action, Action::ClearStop(_)) {
        return None;
    }
    let (network, here) = stand(knowledge, facts, posterior, workshop, present);
    let signs = telling(knowledge, facts, posterior, &network, spoken_of);
    if signs.is_empty() {
        return None;
    }
    let following: Vec<Action> = plan
        .steps
        .iter()
        .take(FOLLOWING)
        .map(|s| s.action)
        .collect();
    let outcomes = outcomes(&network, &signs);
    let mut ahead = LookAhead::new(&network);
    let now = ahead.value_after(&here, &outcomes, MINUTES, &[&following]);
    // Thought through as deep as the glance itself, so that like is compared with like.
    let without = ahead.value_after(&here, &[vec![1.0; network.mass.len()]], 0.0, &[&following]);
    let saves = without.min(first.value) - now;
    (saves > WORTH).then(|| LookOver {
        minutes: MINUTES,
        saves,
        signs: signs.into_iter().map(|(f, _)| f).collect(),
    })
}

/// The signs not spoken of that tell most, each with P(present | hypothesis) by slot.
fn telling(
    knowledge: &Knowledge,
    facts: &Facts,
    posterior: &Posterior,
    network: &Network,
    spoken_of: impl Fn(FindingId) -> bool,
) -> Vec<(FindingId, Vec<f64>)> {
    let asked = |f: &FindingId| {
        let finding = knowledge.finding(*f);
        matches!(finding.section, Section::Print | Section::Machine)
            && finding.presence()
            && finding.fits(&facts.context)
            && !facts.findings.contains_key(f)
            && !spoken_of(*f)
    };
    let mut signs: Vec<(f64, FindingId, Vec<f64>)> = knowledge
        .finding_ids()
        .filter(asked)
        .map(|f| {
            let states = state_likelihoods(knowledge, &posterior.seen, network.hypotheses(), f);
            let present = states.into_iter().nth(1).unwrap_or_default();
            (spread(&present, &network.mass), f, present)
        })
        .collect();
    signs.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(&b.1)));
    signs.truncate(SIGNS);
    signs
        .into_iter()
        .map(|(_, f, present)| (f, present))
        .collect()
}

/// How far a sign parts the hypotheses: the variance of its chance.
fn spread(chance: &[f64], mass: &[f64]) -> f64 {
    let mean: f64 = chance.iter().zip(mass).map(|(p, m)| p * m).sum();
    chance
        .iter()
        .zip(mass)
        .map(|(p, m)| m * (p - mean) * (p - mean))
        .sum()
}

/// What the glance may show: the first of the signs that is there, or none of them.
fn outcomes(network: &Network, signs: &[(FindingId, Vec<f64>)]) -> Vec<Vec<f64>> {
    let mut none = vec![1.0; network.mass.len()];
    let mut out = Vec::new();
    for (_, present) in signs {
        out.push(none.iter().zip(present).map(|(n, p)| n * p).collect());
        none.iter_mut()
            .zip(present)
            .for_each(|(n, p)| *n *= 1.0 - p);
    }
    out.push(none);
    out
}
