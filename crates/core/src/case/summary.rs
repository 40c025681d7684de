//! A case in one line: what lists, floor and statistics read.

use super::event::Entry;
use super::next::{Next, What, next, next_under};
use super::outcome::Outcome;
use super::replay::replay;
use super::state::{CaseState, Standing, Status, Timer};
use crate::knowledge::Knowledge;
use crate::learning::Learned;
use crate::planning::{Course, LookOver, Plan, Workshop, course, look_over, outline, plan};
use crate::profile::FieldId;
use crate::ranking::{LineUp, rank};
use crate::similar::Answers;
use std::sync::Arc;
use time::OffsetDateTime;

/// The ranking and the plan of a case as it is now.
#[derive(Debug, Clone)]
pub struct Analysis {
    /// Who, and why.
    pub line_up: LineUp,
    /// What next, as reckoned.
    pub plan: Plan,
    /// What next, locks and proofs included.
    pub next: Next,
    /// "Does anything else look wrong?", where that comes before the next step.
    pub look_over: Option<LookOver>,
}

/// Ranks and plans a case.
pub fn analyse(knowledge: &Knowledge, case: &CaseState, workshop: &Workshop) -> Analysis {
    let line_up = rank(knowledge, &case.facts);
    let plan = plan(
        knowledge,
        &case.facts,
        &line_up,
        &own(case, workshop),
        case.present,
        &case.held(),
    );
    let next = next(case, &plan);
    let planned = matches!(next.what, What::Check(_) | What::Fix(_));
    let glance = || {
        look_over(
            knowledge,
            &case.facts,
            &line_up.posterior,
            &own(case, workshop),
            case.present,
            &plan,
            |f| case.passed.contains(&f),
        )
    };
    Analysis {
        look_over: planned.then(glance).flatten(),
        line_up,
        plan,
        next,
    }
}

/// Follows the advice of a ranked case to its end, shown `depth` steps deep.
pub fn follow(
    knowledge: &Knowledge,
    case: &CaseState,
    analysis: &Analysis,
    workshop: &Workshop,
    depth: usize,
) -> Course {
    let posterior = &analysis.line_up.posterior;
    course(
        knowledge,
        &case.facts,
        posterior,
        &own(case, workshop),
        case.present,
        &analysis.plan,
        depth,
    )
}

/// The line-up before the last thing that happened: what it moved can be seen against it. Facts
/// recorded together count as one step; what is only noted while work goes on moves nobody.
///
/// `learned` are the numbers the present line-up reads: both are weighed alike.
pub fn before_last(
    knowledge: &Knowledge,
    log: &[Entry],
    learned: Option<&Arc<Learned>>,
) -> Option<LineUp> {
    let last_at = log.iter().rev().find(|e| !e.event.is_upkeep())?.at;
    let earlier: Vec<Entry> = log.iter().filter(|e| e.at < last_at).cloned().collect();
    (!earlier.is_empty()).then(|| {
        let mut facts = replay(knowledge, &earlier).facts;
        facts.learned = learned.cloned();
        rank(knowledge, &facts)
    })
}

/// The workshop's settings with what this case put off.
fn own(case: &CaseState, workshop: &Workshop) -> Workshop {
    let put_off = case.set_aside.keys().filter_map(|step| step.id());
    let put_off = put_off.map(str::to_string);
    workshop.for_case(put_off)
}

/// What is kept beside the log so that lists need no replay.
#[derive(Debug, Clone, PartialEq)]
pub struct Summary {
    /// Title.
    pub title: String,
    /// Where it stands.
    pub status: Standing,
    /// Material family.
    pub material: Option<String>,
    /// Leading suspect and its probability.
    pub leader: Option<(String, f64)>,
    /// What is to be done next as far as the case itself knows, as [`What::written`] writes it.
    pub next_step: Option<String>,
    /// Left for another day.
    pub resting: bool,
    /// Suggestions nobody answered yet.
    pub hearsay: usize,
    /// The wait that ends last.
    pub wait: Option<Timer>,
    /// Stops that hold, by identifier.
    pub stops: Vec<String>,
    /// How it ended.
    pub outcome: Option<Outcome>,
    /// The cause it was.
    pub cause: Option<String>,
    /// The fix that did it.
    pub fix: Option<String>,
    /// Minutes spent.
    pub minutes: f64,
    /// Grams used.
    pub grams: f64,
    /// Money spent.
    pub money: f64,
    /// Opened.
    pub opened_at: OffsetDateTime,
    /// Last event.
    pub updated_at: OffsetDateTime,
    /// Closed.
    pub closed_at: Option<OffsetDateTime>,
    /// What was answered, for finding similar cases.
    pub answers: Answers,
    /// When a closed case asks whether its fix held.
    pub ask_at: Option<OffsetDateTime>,
}

/// Sums up a case.
pub fn summary(knowledge: &Knowledge, case: &CaseState, workshop: &Workshop) -> Summary {
    let (leader, next_step) = if case.resolved() {
        (None, None)
    } else {
        let line_up = rank(knowledge, &case.facts);
        let next = next_step(knowledge, case, &line_up, workshop);
        let leader = line_up
            .leader()
            .map(|l| (knowledge.cause(l.cause).id.clone(), l.probability));
        (leader, Some(next))
    };
    let resolution = match &case.status {
        Status::Resolved(r) => Some(r),
        _ => None,
    };
    let opened_at = case.opened_at.unwrap_or(OffsetDateTime::UNIX_EPOCH);
    Summary {
        title: case.title.clone(),
        status: case.status.standing(),
        material: case.facts.context.id(FieldId::Material).map(str::to_string),
        leader,
        next_step,
        resting: case.resting.is_some() && !case.resolved(),
        hearsay: match case.resolved() {
            true => 0,
            false => case
                .suggestions
                .iter()
                .filter(|s| s.taken.is_none())
                .count(),
        },
        wait: case.timers.iter().max_by_key(|t| t.until).cloned(),
        stops: case
            .stops
            .iter()
            .map(|s| knowledge.stops[*s].id.clone())
            .collect(),
        outcome: resolution.map(|r| r.outcome),
        cause: resolution.and_then(|r| r.cause.clone()),
        fix: resolution.and_then(|r| r.fix.clone()),
        minutes: case.minutes,
        grams: case.grams,
        money: case.money,
        opened_at,
        updated_at: case.updated_at.unwrap_or(opened_at),
        closed_at: resolution.map(|r| r.at),
        answers: answers(knowledge, case),
        ask_at: case.ask_at(),
    }
}

/// Answers that count, by identifiers.
pub fn answers(knowledge: &Knowledge, case: &CaseState) -> Answers {
    let findings = case.facts.findings.iter();
    findings
        .map(|(f, s)| {
            (
                knowledge.finding(*f).id.clone(),
                s.answer.id(knowledge, *f).to_string(),
            )
        })
        .collect()
}

/// What is to be done next for all the case itself knows: what else locks the machine is known to
/// whoever reads the list.
fn next_step(
    knowledge: &Knowledge,
    case: &CaseState,
    line_up: &LineUp,
    workshop: &Workshop,
) -> String {
    let plan = outline(
        knowledge,
        &case.facts,
        &line_up.posterior,
        &own(case, workshop),
        case.present,
        &case.stops,
    );
    let next = next_under(case, None, &plan);
    next.what.written(knowledge).to_string()
}
