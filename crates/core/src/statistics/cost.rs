//! What failures cost, by month.

use super::{Counted, Sums};
use crate::planning::Workshop;
use std::collections::BTreeMap;

/// What went with failed prints and the search.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Loss {
    /// Cases closed.
    pub cases: i64,
    /// Of so many the failed print's cost is known.
    pub told: i64,
    /// Hours of failed prints.
    pub hours: f64,
    /// Grams of failed prints, of search and proof.
    pub grams: f64,
    /// Minutes of people.
    pub minutes: f64,
    /// Money for parts.
    pub parts: f64,
}

/// The same in the shop's money.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Priced {
    /// Filament.
    pub filament: f64,
    /// Hours of machines.
    pub machine: f64,
    /// Minutes of people.
    pub work: f64,
    /// Parts.
    pub parts: f64,
}

impl Priced {
    /// All together.
    pub fn total(&self) -> f64 {
        self.filament + self.machine + self.work + self.parts
    }
}

impl Loss {
    /// What cases lost together.
    pub fn of(sums: &Sums) -> Self {
        let spent = |key| sums.amount(Counted::Spent, key);
        let lost = |key| sums.amount(Counted::Lost, key);
        Self {
            cases: sums.n(Counted::Spent, "minutes"),
            told: sums.n(Counted::Lost, "hours"),
            hours: lost("hours"),
            grams: lost("grams") + spent("grams"),
            minutes: spent("minutes"),
            parts: spent("money"),
        }
    }

    /// In the shop's money.
    ///
    /// # Formula
    /// grams · price + machine hours · rate + minutes · wage + parts
    pub fn priced(&self, workshop: &Workshop) -> Priced {
        Priced {
            filament: self.grams * workshop.money_per_kg / 1000.0,
            machine: self.hours * workshop.money_per_machine_hour,
            work: self.minutes * workshop.money_per_hour / 60.0,
            parts: self.parts,
        }
    }
}

/// What one month cost.
#[derive(Debug, Clone, PartialEq)]
pub struct MonthCost {
    /// "2026-11".
    pub month: String,
    /// What was lost.
    pub loss: Loss,
    /// In money.
    pub priced: Priced,
}

/// What failures cost, month by month.
pub fn costs(months: &BTreeMap<String, Sums>, workshop: &Workshop) -> Vec<MonthCost> {
    let of = |(month, sums): (&String, &Sums)| {
        let loss = Loss::of(sums);
        MonthCost {
            month: month.clone(),
            priced: loss.priced(workshop),
            loss,
        }
    };
    months.iter().map(of).collect()
}
