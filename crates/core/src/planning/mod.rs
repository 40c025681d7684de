//! What to do next: the check or fix that lowers the expected cost of repair most.
//!
//! Decision-theoretic troubleshooting (Heckerman, Breese & Rommelse 1995; Langseth & Jensen 2003): fixes by gain per cost,
//! checks by the cost they save. Checks and fixes are candidates alike; the best few are thought through two levels deep.

mod cost;
mod look_ahead;
mod repair;

pub use cost::{Present, Workshop, check_cost, fix_cost};
use look_ahead::{LookAhead, Situation};
pub use repair::{Network, Repair, Scratch};

use crate::evidence::{Answer, Confidence, Evidence, Facts, Item, Sighting};
use crate::knowledge::{CauseId, CheckId, FindingId, FixId, Knowledge, MOST_STATES, TryResult};
use crate::ranking::{Column, Hypothesis, LineUp, Posterior, pair_states};

/// Steps offered at most.
const OFFERED: usize = 8;
/// A check must save more than this many counted minutes to be offered.
const WORTH: f64 = 0.05;

/// A fix less likely to cure is not offered beside better steps.
const CURES_SOMETHING: f64 = 0.01;

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

/// What an outcome would do to the line-up: a full re-rank.
#[derive(Debug, Clone)]
pub struct Preview {
    /// State of the check's finding.
    pub state: usize,
    /// How likely the outcome is.
    pub probability: f64,
    /// Who would lead then.
    pub leader: CauseId,
    /// The leader's probability then.
    pub leader_probability: f64,
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
    /// Stops that hold, by place in the knowledge.
    pub stops: Vec<usize>,
}

/// Plans the next step for a ranked case. `stops` are the stop conditions that hold: while any does, only clearing the first is advised.
pub fn plan(knowledge: &Knowledge, facts: &Facts, line_up: &LineUp, workshop: &Workshop, present: Present, stops: &[usize]) -> Plan {
    let mut plan = outline(knowledge, facts, &line_up.posterior, workshop, present, stops);
    for step in &mut plan.steps {
        if let Action::Check(check) = step.action {
            step.outcomes = preview(knowledge, facts, line_up, check);
        }
    }
    plan
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
    let stops_held = stops.to_vec();
    if let Some(first) = stops.first() {
        let action = Action::ClearStop(*first);
        let minutes = minutes(knowledge, workshop, action);
        let step = Step { action, minutes, value: minutes, saves: 0.0, cures: 0.0, outcomes: Vec::new() };
        return Plan { steps: vec![step], expected_minutes: minutes, fixes_alone: minutes, stops: stops_held };
    }
    let network = Network::new(knowledge, posterior, workshop);
    let done = done(knowledge, facts, workshop);
    let here = Situation { mass: network.mass.clone(), present, fixes: done.fixes };
    let mut ahead = LookAhead::new(knowledge, &network, workshop);
    let alone = ahead.fixes_alone(&here);

    let mut steps: Vec<Step> = Vec::new();
    let candidates = (0..knowledge.checks.len()).filter(|q| !done.checks[*q]).map(|q| Action::Check(CheckId(q as u16)));
    let fixes = (0..knowledge.fixes.len() as u16).map(FixId).filter(|x| !here.fixes[x.at()] && network.touched_by(*x));
    for action in candidates.chain(fixes.map(Action::Fix)).chain([Action::GiveUp]) {
        let worth = ahead.worth(&here, action, &[]);
        let saves = alone - worth.value;
        if saves > WORTH || !matches!(action, Action::Check(_)) {
            let minutes = minutes(knowledge, workshop, action);
            steps.push(Step { action, minutes, value: worth.value, saves, cures: worth.cures, outcomes: Vec::new() });
        }
    }
    steps.sort_by(|a, b| a.value.total_cmp(&b.value));
    // The second level: what the best few are worth when after each another of them may follow.
    let best: Vec<Action> = steps.iter().map(|s| s.action).filter(|a| *a != Action::GiveUp).take(workshop.second_level).collect();
    for step in steps.iter_mut().filter(|s| best.contains(&s.action)) {
        step.value = ahead.worth(&here, step.action, &best).value;
        step.saves = alone - step.value;
    }
    // Stable: ties keep knowledge order, checks before fixes.
    steps.sort_by(|a, b| a.value.total_cmp(&b.value));
    let end = steps.iter().position(|s| s.action == Action::GiveUp).map_or(steps.len(), |p| p + 1);
    steps.truncate(end);
    let mut place = 0;
    steps.retain(|s| {
        place += 1;
        place == 1 || !matches!(s.action, Action::Fix(_)) || s.cures >= CURES_SOMETHING
    });
    steps.truncate(OFFERED);
    let expected_minutes = steps.first().map_or(0.0, |s| s.value);
    Plan { steps, expected_minutes, fixes_alone: alone, stops: stops_held }
}

/// Hands-on and waiting minutes of a step, a fix with its verification.
fn minutes(knowledge: &Knowledge, workshop: &Workshop, action: Action) -> f64 {
    match action {
        Action::Check(check) => knowledge.check(check).work.minutes + knowledge.check(check).work.waiting,
        Action::Fix(fix) => {
            let fix = knowledge.fix(fix);
            fix.work.minutes + fix.work.waiting + fix.verify_minutes + fix.verify_waiting
        }
        Action::ClearStop(stop) => knowledge.stops[stop].work.minutes + knowledge.stops[stop].work.waiting,
        Action::GiveUp => workshop.give_up,
    }
}

struct DoneSteps {
    checks: Vec<bool>,
    fixes: Vec<bool>,
}

/// Steps that are out: done, contradicted by the context, put off, or lacking a tool.
fn done(knowledge: &Knowledge, facts: &Facts, workshop: &Workshop) -> DoneSteps {
    let lacks = |work: &crate::knowledge::Work| work.tools.iter().any(|t| workshop.missing_tools.contains(t));
    let contradicted = |needs: &[crate::profile::Condition]| needs.iter().any(|n| n.holds(&facts.context) == Some(false));
    // Never advise heating past the window: in a lined hot end that would lead straight into a stop.
    let hottest = crate::evidence::nozzle_window(knowledge, &facts.context).map_or(f64::INFINITY, |(_, high)| high);
    let too_hot = |work: &crate::knowledge::Work| {
        work.raises_nozzle_c > 0.0 && facts.settings.get("nozzle_c").is_some_and(|t| t + work.raises_nozzle_c > hottest)
    };
    let put_off = |id: &str| workshop.not_now.iter().any(|n| n == id);
    let tried: Vec<FixId> = facts.tried.iter().filter(|t| !came_undone(knowledge, facts, t.result)).map(|t| t.fix).collect();
    let mut fixes: Vec<bool> = knowledge
        .fixes
        .iter()
        .enumerate()
        .map(|(x, f)| tried.contains(&FixId(x as u16)) || contradicted(&f.needs) || lacks(&f.work) || too_hot(&f.work) || put_off(&f.id))
        .collect();
    let checks = knowledge
        .checks
        .iter()
        .map(|c| {
            let finding = knowledge.finding(c.finding);
            let answered = facts.findings.contains_key(&c.finding);
            if let (true, Some(fix)) = (answered, finding.also_fix) {
                fixes[fix.at()] = true;
            }
            let fix_done = finding.also_fix.is_some_and(|fix| tried.contains(&fix));
            answered || fix_done || contradicted(&finding.needs) || lacks(&c.work) || too_hot(&c.work) || put_off(&finding.id)
        })
        .collect();
    DoneSteps { checks, fixes }
}

/// A fix that cured, when the trouble has since returned, may be advised again.
fn came_undone(knowledge: &Knowledge, facts: &Facts, result: TryResult) -> bool {
    let Some(finding) = knowledge.finding_id("held-before") else { return false };
    result == TryResult::Cured && facts.findings.get(&finding).is_some_and(|s| s.answer.id(knowledge, finding) == "held-then-returned")
}

/// P(state | hypothesis) per state, over some hypotheses; ungrouped.
pub(crate) fn state_likelihoods(knowledge: &Knowledge, hypotheses: impl Iterator<Item = Hypothesis>, finding: FindingId) -> Vec<Vec<f64>> {
    let states = knowledge.finding(finding).states.len();
    let mut columns = vec![Vec::with_capacity(hypotheses.size_hint().0); states];
    let mut pair = [0.0; MOST_STATES];
    for h in hypotheses {
        let row: &[f64] = match h {
            Hypothesis::Unlisted => knowledge.table.unlisted(finding),
            Hypothesis::One(c) => knowledge.table.states(c, finding),
            Hypothesis::Two(i, j) => {
                pair_states(knowledge, finding, i, j, &mut pair);
                &pair
            }
        };
        for (column, value) in columns.iter_mut().zip(row) {
            column.push(*value);
        }
    }
    columns
}

/// What each outcome of a check would do to the line-up: probability of the outcome, leader after it.
pub fn preview(knowledge: &Knowledge, facts: &Facts, line_up: &LineUp, check: CheckId) -> Vec<Preview> {
    preview_answers(knowledge, facts, line_up, knowledge.check(check).finding)
}

/// The same for the answers of any finding.
pub fn preview_answers(knowledge: &Knowledge, facts: &Facts, line_up: &LineUp, finding: FindingId) -> Vec<Preview> {
    let states = knowledge.finding(finding).states.len();
    let supersedes = knowledge.finding(finding).check.is_some_and(|c| !knowledge.check(c).supersedes.is_empty());
    let regroups = !line_up.plain && (line_up.evidence.shares_group(knowledge, finding) || supersedes);
    let mut previews: Vec<Preview> = (0..states)
        .map(|state| {
            let sighting = Sighting { answer: Answer::State(state), confidence: Confidence::Sure };
            let column = Column::new(knowledge, &Item::finding(knowledge, finding, sighting));
            let (ratio, mut involved) = line_up.posterior.after(knowledge, &column);
            let probability = ratio * knowledge.table.unlisted(finding)[state];
            if regroups {
                let mut then = facts.clone();
                then.findings.insert(finding, sighting);
                involved = crate::ranking::posterior(knowledge, &Evidence::of(knowledge, &then), true).involved();
            }
            let (leader, leader_probability) = leader(knowledge, &involved);
            Preview { state, probability, leader, leader_probability }
        })
        .collect();
    previews.sort_by(|a, b| b.probability.total_cmp(&a.probability).then(a.state.cmp(&b.state)));
    previews
}

/// The most involved cause that is not merely a consequence.
fn leader(knowledge: &Knowledge, involved: &[f64]) -> (CauseId, f64) {
    let mut best = (CauseId(0), -1.0);
    for c in knowledge.cause_ids() {
        let only_follows = knowledge.cause(c).consequence_of.iter().any(|(root, _)| involved[root.at()] > 0.0);
        if involved[c.at()] > best.1 && !only_follows {
            best = (c, involved[c.at()]);
        }
    }
    best
}
