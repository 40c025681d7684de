//! What to do next: the check or fix that lowers the expected cost of repair most.
//!
//! Decision-theoretic troubleshooting (Heckerman, Breese & Rommelse 1995; Langseth & Jensen 2003): fixes by gain per cost,
//! checks by the cost they save, one level of look-ahead.

mod cost;
mod repair;

pub use cost::{Present, Workshop, check_cost, fix_cost};
pub use repair::{Network, Repair, Scratch};

use crate::evidence::{Answer, Confidence, Evidence, Facts, Item, Sighting};
use crate::knowledge::{CauseId, CheckId, FixId, Knowledge, MOST_STATES, TryResult};
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
        let work = &knowledge.stops[*first].work;
        let minutes = work.minutes + work.waiting;
        let step = Step { action: Action::ClearStop(*first), minutes, value: minutes, saves: 0.0, cures: 0.0, outcomes: Vec::new() };
        return Plan { steps: vec![step], expected_minutes: minutes, fixes_alone: minutes, stops: stops_held };
    }
    let network = Network::new(knowledge, posterior, workshop);
    let done = done(knowledge, facts, workshop);
    let mut scratch = Scratch::default();
    let alone = network.repair(&network.mass, &done.fixes, present, &mut scratch);
    let total: f64 = network.mass.iter().sum();

    let mut steps: Vec<Step> = Vec::new();
    let mut outcome = vec![0.0; network.mass.len()];
    for (q, check) in knowledge.checks.iter().enumerate() {
        if done.checks[q] {
            continue;
        }
        let (cost, after) = check_cost(check, present, workshop);
        let mut done_then = None;
        if let Some(fix) = knowledge.finding(check.finding).also_fix {
            let mut fixes = done.fixes.clone();
            fixes[fix.at()] = true;
            done_then = Some(fixes);
        }
        let likelihoods = check_likelihoods(knowledge, &network, check.finding);
        let mut value = cost * total;
        let mut cures = 0.0;
        for (s, column) in likelihoods.iter().enumerate() {
            for (o, (m, l)) in outcome.iter_mut().zip(network.mass.iter().zip(column)) {
                *o = m * l;
            }
            if check.ends_case.contains(&s) {
                cures += outcome.iter().sum::<f64>();
                continue;
            }
            value += network.repair(&outcome, done_then.as_ref().unwrap_or(&done.fixes), after, &mut scratch).cost;
        }
        let saves = alone.cost - value;
        if saves > WORTH {
            let minutes = check.work.minutes + check.work.waiting;
            steps.push(Step { action: Action::Check(CheckId(q as u16)), minutes, value, saves, cures, outcomes: Vec::new() });
        }
    }
    let mut changed = Vec::new();
    for x in (0..knowledge.fixes.len()).map(|x| FixId(x as u16)) {
        if done.fixes[x.at()] || !network.touched_by(x) {
            continue;
        }
        let mut mass = network.mass.clone();
        let cures = network.apply(&mut mass, x, &mut changed);
        let mut fixes = done.fixes.clone();
        fixes[x.at()] = true;
        let value = network.cost(x, present) * total + network.repair(&mass, &fixes, Present::PRINTED, &mut scratch).cost;
        let fix = knowledge.fix(x);
        let minutes = fix.work.minutes + fix.work.waiting + fix.verify_minutes + fix.verify_waiting;
        steps.push(Step { action: Action::Fix(x), minutes, value, saves: alone.cost - value, cures, outcomes: Vec::new() });
    }
    let give_up = workshop.give_up * total;
    steps.push(Step {
        action: Action::GiveUp,
        minutes: workshop.give_up,
        value: give_up,
        saves: alone.cost - give_up,
        cures: 0.0,
        outcomes: Vec::new(),
    });
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
    Plan { steps, expected_minutes, fixes_alone: alone.cost, stops: stops_held }
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

/// P(state | hypothesis) per state, over the kept hypotheses; ungrouped.
fn check_likelihoods(knowledge: &Knowledge, network: &Network, finding: crate::knowledge::FindingId) -> Vec<Vec<f64>> {
    let states = knowledge.finding(finding).states.len();
    let mut columns = vec![Vec::with_capacity(network.mass.len()); states];
    let mut pair = [0.0; MOST_STATES];
    for h in network.hypotheses() {
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
    let finding = knowledge.check(check).finding;
    let states = knowledge.finding(finding).states.len();
    let regroups = !line_up.plain && (line_up.evidence.shares_group(knowledge, finding) || !knowledge.check(check).supersedes.is_empty());
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
