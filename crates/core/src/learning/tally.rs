//! Sums over lessons: what is kept so that a ranking reads numbers and not cases.
//!
//! Counts are whole numbers of a small part of a case, as it would weigh at a fixed moment: sums of
//! them do not hang on their order, and what is taken out again leaves nothing behind.

use super::HALF_LIFE_DAYS;
use super::cures::Use;
use super::learned::{Counted, Learned, LearnedCause};
use super::links::Links;
use super::rates::{Cell, Counts, Rates};
use crate::knowledge::Knowledge;
use crate::profile::Context;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;
use time::macros::datetime;
use time::{Duration, OffsetDateTime};

/// Parts of a case that are told apart.
const PARTS: f64 = 1_048_576.0;
/// The moment at which a case weighs as it counts. Later ones weigh more, and all fade alike.
const MOMENT: OffsetDateTime = datetime!(2026-01-01 00:00 UTC);
/// Cases further from that moment are taken as so far.
const FARTHEST_DAYS: f64 = 10_950.0;

fn half_lives(at: OffsetDateTime) -> f64 {
    let days = (at - MOMENT) / Duration::DAY;
    days.clamp(-FARTHEST_DAYS, FARTHEST_DAYS) / HALF_LIFE_DAYS
}

/// A count of a case closed at a moment, in parts.
pub fn parts(counts: f64, closed: OffsetDateTime) -> i64 {
    (counts * half_lives(closed).exp2() * PARTS).round() as i64
}

/// Parts as a count at another moment.
pub fn faded(parts: i64, now: OffsetDateTime) -> f64 {
    parts as f64 / PARTS / half_lives(now).exp2()
}

/// A number that does not fade, in parts.
pub fn steady(value: f64) -> i64 {
    (value * PARTS).round() as i64
}

/// And back.
pub fn unsteady(parts: i64) -> f64 {
    parts as f64 / PARTS
}

/// What was counted for a cause on a machine in one context.
#[derive(Debug, Clone, PartialEq)]
pub struct TallyCell {
    /// The machine.
    pub machine: String,
    /// Build and material, by field.
    pub context: BTreeMap<String, String>,
    /// The cause recorded.
    pub cause: String,
    /// Parts.
    pub parts: i64,
}

/// Uses of a fix for a cause.
#[derive(Debug, Clone, PartialEq)]
pub struct TallyUse {
    /// The fix.
    pub fix: String,
    /// The cause.
    pub cause: String,
    /// Uses, each weighed by the chance that it was this cause.
    pub uses: f64,
    /// Those that cured, weighed so.
    pub worked: f64,
}

/// Looks for a finding in cases of a cause.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct TallyLook {
    /// The cause recorded.
    pub cause: String,
    /// The finding.
    pub finding: String,
    /// The state seen.
    pub state: String,
    /// Looks, each weighed by how much of its case counts.
    pub looks: f64,
}

/// Everything a shop's closed cases say, summed up.
#[derive(Debug, Clone, Default)]
pub struct Tally {
    /// Counts.
    pub cells: Vec<TallyCell>,
    /// Uses of fixes.
    pub uses: Vec<TallyUse>,
    /// Looks that were asked for.
    pub looks: Vec<TallyLook>,
    /// Closed cases that counted.
    pub cases: usize,
    /// The book did better here: learned numbers are shown and not used.
    pub resting: bool,
}

/// What a shop learned, ready to be asked for any of its machines.
#[derive(Debug, Clone, Default)]
pub struct Shop {
    rates: Rates,
    machines: BTreeMap<String, u32>,
    kinds: BTreeMap<String, u32>,
    uses: Vec<TallyUse>,
    links: Arc<Links>,
    cases: usize,
    resting: bool,
}

impl Tally {
    /// Reckons rates at a moment. `kinds` names the kind of each machine; a machine without one is
    /// its own kind.
    pub fn learn(
        self,
        knowledge: &Knowledge,
        kinds: &BTreeMap<String, String>,
        now: OffsetDateTime,
    ) -> Shop {
        let kind_of = |machine: &str| kind_name(machine, kinds.get(machine).map_or("", |k| k));
        let mut shop = Shop {
            cases: self.cases,
            resting: self.resting,
            links: Arc::new(links(knowledge, &self.looks)),
            ..Shop::default()
        };
        let mut books: Vec<(BTreeMap<String, String>, Vec<f64>)> = Vec::new();
        let mut places: Vec<(u32, u32, usize, usize, f64)> = Vec::new();
        for cell in self.cells.iter().filter(|c| c.parts > 0) {
            let Some(cause) = knowledge.cause_id(&cell.cause) else {
                continue;
            };
            let machine = number(&mut shop.machines, &cell.machine);
            let kind = number(&mut shop.kinds, &kind_of(&cell.machine));
            let known = books.iter().position(|(c, _)| *c == cell.context);
            let book = known.unwrap_or_else(|| {
                books.push((cell.context.clone(), book(knowledge, &cell.context)));
                books.len() - 1
            });
            let counts = faded(cell.parts, now);
            places.push((machine, kind, book, cause.at(), counts));
        }
        let cells: Vec<Cell> = places
            .iter()
            .map(|(machine, kind, book, cause, counts)| Cell {
                machine: *machine,
                kind: *kind,
                book: &books[*book].1,
                recorded: vec![(*cause, *counts)],
            })
            .collect();
        shop.rates = Rates::learn(&cells);
        shop.uses = self.uses;
        shop
    }
}

/// Links by their looks; what the knowledge does not know any more is passed over.
pub fn links(knowledge: &Knowledge, looks: &[TallyLook]) -> Links {
    let known = looks.iter().filter_map(|l| {
        let (cause, finding) = (
            knowledge.cause_id(&l.cause)?,
            knowledge.finding_id(&l.finding)?,
        );
        let state = knowledge.finding(finding).state(&l.state)?;
        Some((cause, finding, state, l.looks))
    });
    Links::of(knowledge, known)
}

/// The name of a machine's kind; one without a kind is its own.
fn kind_name(machine: &str, kind: &str) -> String {
    match kind {
        "" => format!("machine {machine}"),
        kind => kind.to_string(),
    }
}

fn number(names: &mut BTreeMap<String, u32>, name: &str) -> u32 {
    let next = names.len() as u32;
    *names.entry(name.to_string()).or_insert(next)
}

/// Weight × factor of each cause in a context; fields that are not known any more are passed over.
fn book(knowledge: &Knowledge, fields: &BTreeMap<String, String>) -> Vec<f64> {
    let mut context = Context::default();
    for (field, value) in fields {
        // What the present knowledge does not know any more says nothing.
        let _ = context.set(field, value);
    }
    let causes = knowledge.cause_ids();
    causes.map(|c| knowledge.weight(c, &context)).collect()
}

impl Shop {
    /// Whether the book did better than what was learned.
    pub fn rests(&self) -> bool {
        self.resting
    }

    /// Whether nothing was learned: the book speaks.
    pub fn is_empty(&self) -> bool {
        self.cases == 0
    }

    /// Numbers for a machine of a kind.
    pub fn for_machine(&self, knowledge: &Knowledge, machine: &str, kind: &str) -> Learned {
        const NOBODY: u32 = u32::MAX;
        let at = |of: &BTreeMap<String, u32>, name: &str| of.get(name).copied().unwrap_or(NOBODY);
        let kind = at(&self.kinds, &kind_name(machine, kind));
        let machine = at(&self.machines, machine);
        let counted = |counts: Option<&Counts>, cause: usize| Counted {
            n: counts.and_then(|c| c.n.get(cause)).copied().unwrap_or(0.0),
            expected: counts
                .and_then(|c| c.expected.get(cause))
                .copied()
                .unwrap_or(0.0),
        };
        let of = |cause: usize| LearnedCause {
            factor: self.rates.factor(cause, machine, kind, false),
            wear: 1.0,
            quirk: 1.0,
            machine: counted(self.rates.machines.get(&machine), cause),
            kind: counted(self.rates.kinds.get(&kind), cause),
            shop: counted(Some(&self.rates.shop), cause),
        };
        let causes = (0..knowledge.causes.len()).map(of).collect();
        let uses = self.uses.iter().filter_map(|u| {
            let (fix, cause) = (knowledge.fix_id(&u.fix)?, knowledge.cause_id(&u.cause)?);
            let success = if u.uses > 0.0 { u.worked / u.uses } else { 0.0 };
            let weight = u.uses;
            Some((fix, cause, Use { weight, success }))
        });
        let links = Arc::clone(&self.links);
        Learned::new(knowledge, causes, self.cases)
            .with_uses(knowledge, uses)
            .with_links(links)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_count_fades_by_half_in_two_years_whenever_it_is_read() {
        let closed = datetime!(2027-03-01 00:00 UTC);
        let kept = parts(0.8, closed);
        assert!((faded(kept, closed) - 0.8).abs() < 1e-5);
        assert!((faded(kept, closed + Duration::days(730)) - 0.4).abs() < 1e-5);
    }

    #[test]
    fn sums_do_not_hang_on_their_order_and_leave_nothing_behind() {
        let days = [3, 700, 41, 365, 12];
        let kept = days.map(|d| parts(0.37, MOMENT + Duration::days(d)));
        let there: i64 = kept.iter().sum();
        let back: i64 = kept.iter().rev().sum();
        assert_eq!(there, back);
        assert_eq!(there - kept.iter().sum::<i64>(), 0);
    }
}
