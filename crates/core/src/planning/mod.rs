//! What to do next: the check or fix that lowers the expected cost of repair most.
//!
//! Decision-theoretic troubleshooting (Heckerman, Breese & Rommelse 1995; Langseth & Jensen 2003):
//! fixes by gain per cost, checks by the cost they save. Checks and fixes are candidates alike; the
//! best few are thought through two levels deep.

mod checklist;
mod cost;
mod course;
mod look_ahead;
mod look_over;
mod network;
mod open;
mod preview;
mod repair;
mod rules;
mod workshop;

pub use checklist::{checklist, checklist_minutes, odd};
pub use cost::{Cost, Present, check_cost, fix_cost};
pub use course::{Branch, Course, Node, Turn, course};
pub use look_ahead::{LookAhead, Situation, Weighed};
pub use look_over::{LookOver, look_over};
pub use network::{Done, Network, Test};
pub use open::Out;
pub use preview::{Preview, preview, preview_answers, state_likelihoods};
pub use repair::{MAX_FIXES, Repair, Scratch};
pub use rules::chosen;
pub use workshop::{RATE_GROUPS, RATES, Rate, RateProblem, Workshop};

use crate::evidence::Facts;
use crate::knowledge::{CheckId, FixId, Knowledge, Work};
use crate::ranking::{LineUp, Posterior};

/// Steps offered at most.
const OFFERED: usize = 8;
/// A check must save more than this many counted minutes to be offered.
const WORTH: f64 = 0.05;
/// A fix less likely to cure is not offered beside better steps.
const CURES_SOMETHING: f64 = 0.01;
/// Checks offered beside the first step because the machine is in their state anyway.
const TOGETHER: usize = 3;

/// What kind of step.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Action {
    /// Do a check.
    Check(CheckId),
    /// Apply a fix.
    Fix(FixId),
    /// Clear a stop, by its place in the knowledge.
    ClearStop(usize),
    /// Ask the maker, replace the part.
    GiveUp,
}

impl Action {
    /// What doing it takes; nothing for giving up.
    pub fn work(self, knowledge: &Knowledge) -> Option<&Work> {
        match self {
            Action::Check(check) => Some(&knowledge.check(check).work),
            Action::Fix(fix) => Some(&knowledge.fix(fix).work),
            Action::ClearStop(stop) => Some(&knowledge.stops[stop].work),
            Action::GiveUp => None,
        }
    }

    /// What to do, in words.
    pub fn name(self, knowledge: &Knowledge) -> &str {
        self.work(knowledge)
            .map_or("Ask the maker", |w| w.name.as_str())
    }
}

/// A step worth doing.
#[derive(Debug, Clone)]
pub struct Step {
    /// What to do.
    pub action: Action,
    /// Hands-on and waiting minutes.
    pub minutes: f64,
    /// Expected counted minutes from here to the end when this is done first.
    pub value: f64,
    /// Counted minutes saved against trying fixes in turn.
    pub saves: f64,
    /// Probability that it cures now (fixes, and checks that are also fixes).
    pub cures: f64,
    /// Outcomes with what they would do; empty for fixes.
    pub outcomes: Vec<Preview>,
}

/// The plan: steps in order, best first.
#[derive(Debug, Clone)]
pub struct Plan {
    /// Best step first.
    pub steps: Vec<Step>,
    /// Expected counted minutes to the end when the advice is followed.
    pub expected_minutes: f64,
    /// The same with fixes alone.
    pub fixes_alone: f64,
    /// Checks worth doing while the machine is in the state the first step leaves it in: nothing
    /// more is paid for the state.
    pub together: Vec<CheckId>,
    /// Stops that hold, by place in the knowledge.
    pub stops: Vec<usize>,
    /// The first step stands there for safety's sake, whatever minutes it saves: nothing is heated
    /// before it.
    pub before_heat: bool,
}

impl Plan {
    /// Counted minutes the first step saves against the second best, which is named with them.
    pub fn ahead_of_second(&self) -> Option<(f64, Action)> {
        match self.steps.as_slice() {
            [first, second, ..] => Some(((second.value - first.value).max(0.0), second.action)),
            _ => None,
        }
    }
}

/// Plans the next step for a ranked case. `stops` are the stop conditions that hold: while any
/// does, only clearing the first is advised.
pub fn plan(
    knowledge: &Knowledge,
    facts: &Facts,
    line_up: &LineUp,
    workshop: &Workshop,
    present: Present,
    stops: &[usize],
) -> Plan {
    let mut plan = outline(
        knowledge,
        facts,
        &line_up.posterior,
        workshop,
        present,
        stops,
    );
    for step in &mut plan.steps {
        if let Action::Check(check) = step.action {
            step.outcomes = preview(knowledge, facts, line_up, check);
        }
    }
    plan
}

/// The network of a ranked case, and where one stands in it.
fn stand(
    knowledge: &Knowledge,
    facts: &Facts,
    posterior: &Posterior,
    workshop: &Workshop,
    present: Present,
) -> (Network, Situation) {
    let out = Out::of(knowledge, facts, workshop);
    let network = Network::new(knowledge, posterior, workshop, &out.checks);
    let here = Situation::start(&network, present, out);
    (network, here)
}

/// Expected counted minutes to the end when an action is done first, whether or not a plan would
/// offer it.
pub fn worth_of(
    knowledge: &Knowledge,
    facts: &Facts,
    posterior: &Posterior,
    workshop: &Workshop,
    present: Present,
    action: Action,
) -> f64 {
    let (network, here) = stand(knowledge, facts, posterior, workshop, present);
    match action {
        Action::GiveUp | Action::ClearStop(_) => workshop.give_up,
        action => LookAhead::new(&network).worth(&here, action, &[]).value,
    }
}

/// The plan without previews: the part that is timed by the bench.
pub fn outline(
    knowledge: &Knowledge,
    facts: &Facts,
    posterior: &Posterior,
    workshop: &Workshop,
    present: Present,
    stops: &[usize],
) -> Plan {
    if let Some(first) = stops.first() {
        return only_clear(knowledge, workshop, *first, stops);
    }
    let (network, here) = stand(knowledge, facts, posterior, workshop, present);
    let mut ahead = LookAhead::new(&network);
    let alone = ahead.fixes_alone(&here);
    let mut weighed = ahead.weigh(&here, workshop.second_level);
    let before_heat = rules::order(knowledge, facts, &mut weighed);

    let end = weighed
        .iter()
        .position(|w| w.action == Action::GiveUp)
        .map_or(weighed.len(), |p| p + 1);
    let asked_for = |action| rules::asked_for(knowledge, facts, action);
    let worth_offering = |(place, w): &(usize, &Weighed)| match w.action {
        Action::Check(_) => alone - w.worth.value > WORTH || asked_for(w.action),
        Action::Fix(_) => *place == 0 || w.worth.cures >= CURES_SOMETHING,
        _ => true,
    };
    let steps: Vec<Step> = weighed[..end]
        .iter()
        .enumerate()
        .filter(worth_offering)
        .take(OFFERED)
        .map(|(_, w)| Step {
            action: w.action,
            minutes: minutes(knowledge, workshop, w.action),
            value: w.worth.value,
            saves: alone - w.worth.value,
            cures: w.worth.cures,
            outcomes: Vec::new(),
        })
        .collect();
    let together = steps.first().map_or_else(Vec::new, |first| {
        together(knowledge, &here, first.action, &weighed, alone)
    });
    let expected_minutes = steps.first().map_or(0.0, |s| s.value);
    Plan {
        steps,
        expected_minutes,
        fixes_alone: alone,
        together,
        stops: Vec::new(),
        before_heat,
    }
}

/// Nothing is planned under a stop but its clearing.
fn only_clear(knowledge: &Knowledge, workshop: &Workshop, first: usize, stops: &[usize]) -> Plan {
    let action = Action::ClearStop(first);
    let minutes = minutes(knowledge, workshop, action);
    let step = Step {
        action,
        minutes,
        value: minutes,
        saves: 0.0,
        cures: 0.0,
        outcomes: Vec::new(),
    };
    Plan {
        steps: vec![step],
        expected_minutes: minutes,
        fixes_alone: minutes,
        together: Vec::new(),
        stops: stops.to_vec(),
        before_heat: false,
    }
}

/// Checks worth their time that need just the state a first check brings the machine into.
fn together(
    knowledge: &Knowledge,
    here: &Situation,
    first: Action,
    weighed: &[Weighed],
    alone: f64,
) -> Vec<CheckId> {
    let Action::Check(check) = first else {
        return Vec::new();
    };
    let work = &knowledge.check(check).work;
    // A print leaves no state to make use of, and where nothing was changed nothing is shared.
    if work.prints || here.present.suits(work) {
        return Vec::new();
    }
    let reached = here.present.after(work);
    let shares = |w: &&Weighed| match w.action {
        Action::Check(other) if other != check => {
            let other = &knowledge.check(other).work;
            !other.prints
                && reached.suits(other)
                && !here.present.suits(other)
                && alone - w.worth.value > WORTH
        }
        _ => false,
    };
    let checks = weighed
        .iter()
        .filter(shares)
        .filter_map(|w| match w.action {
            Action::Check(c) => Some(c),
            _ => None,
        });
    checks.take(TOGETHER).collect()
}

/// Hands-on and waiting minutes of a step, a fix with its verification.
pub fn minutes(knowledge: &Knowledge, workshop: &Workshop, action: Action) -> f64 {
    let own = action
        .work(knowledge)
        .map_or(workshop.give_up, |work| work.minutes + work.waiting);
    match action {
        Action::Fix(fix) => {
            let (hands_on, waiting, _) = knowledge.fix(fix).proof();
            own + hands_on + waiting
        }
        _ => own,
    }
}
