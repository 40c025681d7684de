//! The workshop's own settings for counting minutes, with the range of each in one table.

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What a minute, a gram and giving up are worth here, and which tools are not at hand.
///
/// Any value is survived: what makes no sense counts as nothing, so that a plan always ends.
/// [`Workshop::problems`] says what to mend.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct Workshop {
    /// Share of waiting minutes that counts.
    pub waiting: f64,
    /// What an hour of a person's time is worth, in the shop's currency.
    pub money_per_hour: f64,
    /// What a kilogram of filament costs.
    pub money_per_kg: f64,
    /// What an hour of a machine costs: current and wear.
    pub money_per_machine_hour: f64,
    /// What an hour is worth in which a machine is back and could print.
    pub money_per_standing_hour: f64,
    /// Minutes for none, some, much taking apart.
    pub dismantling: [f64; 3],
    /// Minutes for none, some, high risk of making it worse.
    pub risk: [f64; 3],
    /// Minutes to heat up.
    pub heat: f64,
    /// Minutes to cool down.
    pub cool: f64,
    /// Minutes to unload or load filament.
    pub unload: f64,
    /// Minutes to open or close the hot end or a cover.
    pub open: f64,
    /// Minutes that giving up costs: ask the maker, replace the part.
    pub give_up: f64,
    /// How many of the best steps are thought through two levels deep; 0 for one level only.
    pub second_level: usize,
    /// Names of tools that are not at hand.
    pub missing_tools: Vec<String>,
    /// Name of the time zone in which dates are told; empty for the one of the computer that
    /// serves.
    pub time_zone: String,
    /// The sign or code of the shop's currency, written after an amount.
    pub currency: String,
    /// What was named in own words and is known by now: `own/…` to an identifier of the knowledge.
    pub own_links: BTreeMap<String, String>,
    /// The side chosen where practice differs: school, side.
    pub sides: BTreeMap<String, String>,
    /// The workshop learns from its closed cases.
    pub learning: bool,
    /// Machines whose suspects are weighed by the book, by identifier.
    pub by_the_book: Vec<String>,
    /// Identifiers of checks and fixes put off for now; of one case, never stored with the
    /// settings.
    #[serde(skip)]
    pub not_now: Vec<String>,
}

impl Default for Workshop {
    fn default() -> Self {
        Self {
            waiting: 0.25,
            money_per_hour: 20.0,
            money_per_kg: 20.0,
            money_per_machine_hour: 0.5,
            money_per_standing_hour: 2.0,
            dismantling: [0.0, 5.0, 20.0],
            risk: [0.0, 10.0, 30.0],
            heat: 2.0,
            cool: 10.0,
            unload: 2.0,
            open: 3.0,
            give_up: 240.0,
            second_level: 8,
            missing_tools: Vec::new(),
            time_zone: String::new(),
            currency: "€".into(),
            own_links: BTreeMap::new(),
            sides: BTreeMap::new(),
            learning: true,
            by_the_book: Vec::new(),
            not_now: Vec::new(),
        }
    }
}

/// A rate a workshop may set.
#[derive(Debug)]
pub struct Rate {
    /// Identifier in forms.
    pub id: &'static str,
    /// The words a person reads.
    pub plain: &'static str,
    /// Unit; "money" in it stands for the workshop's currency.
    pub unit: &'static str,
    /// What it does.
    pub why: &'static str,
    /// Least and greatest value that makes sense.
    pub range: (f64, f64),
    get: fn(&Workshop) -> f64,
    set: fn(&mut Workshop, f64),
}

/// What groups of rates answer, each with how many of [`RATES`] it holds.
pub const RATE_GROUPS: [(&str, usize); 3] = [
    ("What is time worth, and when is it enough?", 6),
    ("How long does the machine take?", 4),
    ("What speaks against taking things apart?", 4),
];

/// Every rate a workshop may set, in the order of its page.
pub const RATES: [Rate; 14] = [
    rate(
        "money_per_hour",
        "An hour of your time",
        "money/h",
        "Money is turned into minutes at this rate.",
        (0.1, 10_000.0),
        |w| w.money_per_hour,
        |w, v| w.money_per_hour = v,
    ),
    rate(
        "money_per_kg",
        "A kilogram of filament",
        "money/kg",
        "What prints and purging cost.",
        (0.0, 10_000.0),
        |w| w.money_per_kg,
        |w, v| w.money_per_kg = v,
    ),
    rate(
        "money_per_machine_hour",
        "An hour of a machine",
        "money/h",
        "Current and wear: what the hours of a failed print are worth.",
        (0.0, 10_000.0),
        |w| w.money_per_machine_hour,
        |w, v| w.money_per_machine_hour = v,
    ),
    rate(
        "money_per_standing_hour",
        "An hour in which a machine could print",
        "money/h",
        "What it is worth that a machine is back: the shift is planned by it.",
        (0.0, 10_000.0),
        |w| w.money_per_standing_hour,
        |w, v| w.money_per_standing_hour = v,
    ),
    rate(
        "waiting",
        "A minute of waiting counts as",
        "of a minute",
        "While a print runs you do something else.",
        (0.0, 1.0),
        |w| w.waiting,
        |w, v| w.waiting = v,
    ),
    rate(
        "give_up",
        "Giving up costs",
        "min",
        "Asking the maker, replacing the part. Steps that cost more than they spare against this \
            are not advised.",
        (1.0, 100_000.0),
        |w| w.give_up,
        |w, v| w.give_up = v,
    ),
    rate(
        "heat",
        "Heating up takes",
        "min",
        "Paid once for steps that share a hot machine.",
        (0.0, 240.0),
        |w| w.heat,
        |w, v| w.heat = v,
    ),
    rate(
        "cool",
        "Cooling down takes",
        "min",
        "",
        (0.0, 240.0),
        |w| w.cool,
        |w, v| w.cool = v,
    ),
    rate(
        "unload",
        "Unloading or loading takes",
        "min",
        "",
        (0.0, 240.0),
        |w| w.unload,
        |w, v| w.unload = v,
    ),
    rate(
        "open",
        "Opening or closing a cover takes",
        "min",
        "",
        (0.0, 240.0),
        |w| w.open,
        |w, v| w.open = v,
    ),
    rate(
        "dismantling_some",
        "Some taking apart counts as",
        "min",
        "Beside the minutes it takes: what can go wrong putting it back.",
        (0.0, 1_000.0),
        |w| w.dismantling[1],
        |w, v| w.dismantling[1] = v,
    ),
    rate(
        "dismantling_much",
        "Much taking apart counts as",
        "min",
        "",
        (0.0, 1_000.0),
        |w| w.dismantling[2],
        |w, v| w.dismantling[2] = v,
    ),
    rate(
        "risk_some",
        "Some risk counts as",
        "min",
        "The chance of making it worse.",
        (0.0, 1_000.0),
        |w| w.risk[1],
        |w, v| w.risk[1] = v,
    ),
    rate(
        "risk_high",
        "High risk counts as",
        "min",
        "",
        (0.0, 1_000.0),
        |w| w.risk[2],
        |w, v| w.risk[2] = v,
    ),
];

const fn rate(
    id: &'static str,
    plain: &'static str,
    unit: &'static str,
    why: &'static str,
    range: (f64, f64),
    get: fn(&Workshop) -> f64,
    set: fn(&mut Workshop, f64),
) -> Rate {
    Rate {
        id,
        plain,
        unit,
        why,
        range,
        get,
        set,
    }
}

/// A rate outside its range.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error(
    "\"{}\" must lie between {least} and {most} {unit}, but {given} was given",
    plain.to_lowercase()
)]
pub struct RateProblem {
    /// What the rate is, in plain words.
    pub plain: &'static str,
    /// Its unit.
    pub unit: &'static str,
    /// The least that makes sense.
    pub least: f64,
    /// The most that makes sense.
    pub most: f64,
    /// What was given.
    pub given: f64,
}

impl Rate {
    /// Its value in a workshop.
    pub fn of(&self, workshop: &Workshop) -> f64 {
        (self.get)(workshop)
    }

    /// Sets it.
    ///
    /// # Errors
    /// Says which value was given and which would do.
    pub fn put(&self, workshop: &mut Workshop, value: f64) -> Result<(), RateProblem> {
        let (least, most) = self.range;
        if !(least..=most).contains(&value) {
            return Err(RateProblem {
                plain: self.plain,
                unit: self.unit,
                least,
                most,
                given: value,
            });
        }
        (self.set)(workshop, value);
        Ok(())
    }
}

impl Workshop {
    /// The settings as one case sees them.
    pub fn for_case(&self, not_now: impl IntoIterator<Item = String>) -> Self {
        let mut own = self.clone();
        own.not_now.extend(not_now);
        own
    }

    /// Whether what was learned counts on a machine.
    pub fn learns_on(&self, machine: &str) -> bool {
        self.learning && !self.by_the_book.iter().any(|m| m == machine)
    }

    /// Rates outside their range, by identifier, with what would do.
    pub fn problems(&self) -> Vec<(&'static str, RateProblem)> {
        let mut trial = self.clone();
        RATES
            .iter()
            .filter_map(|r| r.put(&mut trial, r.of(self)).err().map(|e| (r.id, e)))
            .collect()
    }

    /// Counted minutes that an amount of money is worth. Where time is worth nothing, money counts
    /// for nothing beside it.
    pub fn minutes_for(&self, money: f64) -> f64 {
        if self.money_per_hour > 0.0 {
            sane(money) * 60.0 / self.money_per_hour
        } else {
            0.0
        }
    }

    /// Money for an amount of filament in grams.
    pub fn money_for(&self, grams: f64) -> f64 {
        sane(grams) * sane(self.money_per_kg) / 1000.0
    }
}

/// A rate or an amount that counts: finite and not below zero, else nothing.
pub(super) fn sane(value: f64) -> f64 {
    if value.is_finite() && value > 0.0 {
        value
    } else {
        0.0
    }
}
