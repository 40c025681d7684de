//! What a closed case tells others: what was known when it was decided, what misled, what told, how
//! long it held.

use super::event::{Entry, Event};
use super::outcome::HeldAnswer;
use super::replay::{active, replay};
use super::state::{CaseState, Status};
use crate::evidence::{Facts, Item, Tried};
use crate::knowledge::{CauseId, Knowledge, TryResult};
use crate::ranking::{LineUp, rank};
use time::OffsetDateTime;

/// Facts named as telling or misleading at most.
const NAMED: usize = 5;
/// A fact that weighs less, in decibans, told nothing.
const TELLS: f64 = 1.0;
const DAY: f64 = 86_400.0;

/// A fact with its weight for the cause it was, in decibans.
#[derive(Debug, Clone)]
pub struct Weighed {
    /// The fact.
    pub item: Item,
    /// For the cause above 0, against it below.
    pub decibans: f64,
}

/// What a closed case tells others.
#[derive(Debug, Clone)]
pub struct Account {
    /// The cause it was, where the knowledge knows it.
    pub cause: Option<CauseId>,
    /// What was known when it was decided: before the fix that ended it.
    pub facts: Facts,
    /// The line-up then.
    pub line_up: LineUp,
    /// Who led before the first check or fix, where that was another: whom the signs seemed to
    /// speak for.
    pub seemed: Option<(CauseId, f64)>,
    /// Fixes that changed nothing or made it worse.
    pub in_vain: Vec<Tried>,
    /// Facts that spoke for the cause, the strongest first.
    pub told: Vec<Weighed>,
    /// Facts that spoke against it, the strongest first.
    pub misled: Vec<Weighed>,
    /// Days from the last clean print to the last word that it held.
    pub held_days: Option<f64>,
}

/// What a closed case tells others; None while it is open.
pub fn account(knowledge: &Knowledge, log: &[Entry], case: &CaseState) -> Option<Account> {
    let Status::Resolved(end) = &case.status else {
        return None;
    };
    let cause = end.cause.as_deref().and_then(|id| knowledge.cause_id(id));
    let decided = before(log, |event| match event {
        Event::Fixed { fix, .. } => Some(fix) == end.fix.as_ref(),
        _ => false,
    });
    let facts = replay(knowledge, decided).facts;
    let line_up = rank(knowledge, &facts);
    let leader = rank(knowledge, &told_first(knowledge, log));
    let leader = leader.leader().map(|l| (l.cause, l.probability));
    let weighed = cause.map_or_else(Vec::new, |c| weighed(&line_up, c));
    let strongest = |sign: f64| {
        let mut some: Vec<Weighed> = weighed
            .iter()
            .filter(|w| w.decibans * sign >= TELLS)
            .cloned()
            .collect();
        some.sort_by(|a, b| b.decibans.abs().total_cmp(&a.decibans.abs()));
        some.truncate(NAMED);
        some
    };
    let vain = |t: &&Tried| matches!(t.result, TryResult::Same | TryResult::Worse);
    Some(Account {
        seemed: leader.filter(|(c, _)| cause.is_some_and(|cause| cause != *c)),
        in_vain: case.facts.tried.iter().filter(vain).copied().collect(),
        told: strongest(1.0),
        misled: strongest(-1.0),
        held_days: held_days(case, &end.asked),
        cause,
        facts,
        line_up,
    })
}

/// The log before the last entry of a kind that counts; before the closing where there is none.
fn before(log: &[Entry], wanted: impl Fn(&Event) -> bool) -> &[Entry] {
    let counts = active(log);
    let last = |wanted: &dyn Fn(&Event) -> bool| {
        let mut all = log.iter().zip(&counts).enumerate().rev();
        all.find(|(_, (e, counts))| **counts && wanted(&e.event))
            .map(|(at, _)| at)
    };
    let closing = |e: &Event| matches!(e, Event::Resolved { .. });
    let at = last(&wanted).or_else(|| last(&closing));
    &log[..at.unwrap_or(log.len())]
}

/// What was told before the first check or fix.
pub fn told_first(knowledge: &Knowledge, log: &[Entry]) -> Facts {
    let acts = |e: &Entry| {
        matches!(
            e.event,
            Event::Checked { .. }
                | Event::Gauged { .. }
                | Event::Benched { .. }
                | Event::Fixed { .. }
                | Event::OwnChecked { .. }
                | Event::OwnFixed { .. }
                | Event::Resolved { .. }
        )
    };
    let told = log.iter().position(acts).unwrap_or(log.len());
    replay(knowledge, &log[..told]).facts
}

fn weighed(line_up: &LineUp, cause: CauseId) -> Vec<Weighed> {
    let Some(line) = line_up.line(cause) else {
        return Vec::new();
    };
    let items = line_up.evidence.items.iter().zip(&line.ledger);
    items
        .map(|(item, decibans)| Weighed {
            item: item.clone(),
            decibans: *decibans,
        })
        .collect()
}

fn held_days(case: &CaseState, asked: &[(OffsetDateTime, HeldAnswer)]) -> Option<f64> {
    let yes = asked.iter().filter(|(_, a)| *a == HeldAnswer::Held);
    let last = yes.map(|(at, _)| *at).max()?;
    let since = case.clean_at()?;
    Some(((last - since).as_seconds_f64() / DAY).max(0.0))
}
