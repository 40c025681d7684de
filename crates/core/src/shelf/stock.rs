//! Spare parts in stock: how many there are, when to order more.

use super::{Shelved, Shelving};
use crate::knowledge::Knowledge;
use crate::knowledge::parts::{PARTS, part};
use crate::refusal::{NotNow, Problem, Refusal};
use crate::text;
use serde::{Deserialize, Serialize};

/// Most pieces of one thing.
const MOST: u32 = 10_000;
/// Highest price of one.
const MOST_MONEY: f64 = 100_000.0;

/// What may happen to a thing in stock.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum StockEvent {
    /// What it is: set once, and again where something was wrong.
    Described {
        /// In the workshop's words: "brass nozzle 0.4".
        name: String,
        /// The part of a machine it is; empty where it is none that wears.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        part: String,
        /// The kind of machine it fits, as its machines are called; empty for all.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        fits: String,
        /// Order more once so few are left; where it is left out, the wear of the machines says it.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        reorder_at: Option<u32>,
        /// Price of one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        money: Option<f64>,
    },
    /// Some came in.
    Came {
        /// How many.
        pieces: u32,
    },
    /// Some were used up.
    Used {
        /// How many.
        pieces: u32,
        /// The machine they were used on, or the case; empty where neither.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        of: String,
    },
    /// They were counted.
    Counted {
        /// How many there are.
        pieces: u32,
    },
}

/// A thing in stock as it is.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct Stock {
    /// In the workshop's words.
    pub name: String,
    /// The part of a machine it is.
    pub part: String,
    /// The kind of machine it fits; empty for all.
    pub fits: String,
    /// Order more once so few are left, as somebody said.
    pub reorder_at: Option<u32>,
    /// Price of one.
    pub money: Option<f64>,
    /// How many there are.
    pub pieces: u32,
}

impl Stock {
    /// Whether it fits a kind of machine.
    pub fn suits(&self, kind: &str) -> bool {
        self.fits.is_empty() || text::look(&self.fits) == text::look(kind)
    }
}

fn counted(pieces: u32) -> Result<(), Refusal> {
    match pieces <= MOST {
        true => Ok(()),
        false => {
            let (given, most) = (f64::from(pieces), f64::from(MOST));
            Err(Refusal::invalid("pieces", Problem::Amount { given, most }))
        }
    }
}

impl Shelved for Stock {
    const KIND: &'static str = "stock";
    type Event = StockEvent;

    fn accept(&self, _: &Knowledge, event: &StockEvent, new: bool) -> Result<(), Refusal> {
        match event {
            StockEvent::Described {
                name,
                part: of,
                fits,
                reorder_at,
                money,
            } => {
                text::words(name, text::LONGEST_NAME).map_err(|e| Refusal::invalid("name", e))?;
                text::optional(fits, text::LONGEST_NAME)
                    .map_err(|e| Refusal::invalid("fits", e))?;
                if !of.is_empty() && part(of).is_none() {
                    let problem = Problem::unknown("part", of, PARTS.iter().map(|p| p.id));
                    return Err(Refusal::invalid("part", problem));
                }
                counted(reorder_at.unwrap_or(0))?;
                let given = money.unwrap_or(0.0);
                let most = MOST_MONEY;
                match (0.0..=most).contains(&given) {
                    true => Ok(()),
                    false => Err(Refusal::invalid("money", Problem::Amount { given, most })),
                }
            }
            _ if new => Err(NotNow::OpenedOnce.into()),
            StockEvent::Came { pieces } => counted(self.pieces.saturating_add(*pieces)),
            StockEvent::Counted { pieces } => counted(*pieces),
            StockEvent::Used { pieces, .. } => match *pieces <= self.pieces {
                true => counted(*pieces),
                false => Err(Refusal::invalid("pieces", Problem::NotSoMany(self.pieces))),
            },
        }
    }

    fn take(&mut self, entry: &Shelving<StockEvent>) {
        match &entry.event {
            StockEvent::Described {
                name,
                part,
                fits,
                reorder_at,
                money,
            } => {
                self.name.clone_from(name);
                self.part.clone_from(part);
                self.fits.clone_from(fits);
                self.reorder_at = *reorder_at;
                self.money = *money;
            }
            StockEvent::Came { pieces } => self.pieces = self.pieces.saturating_add(*pieces),
            StockEvent::Used { pieces, .. } => self.pieces = self.pieces.saturating_sub(*pieces),
            StockEvent::Counted { pieces } => self.pieces = *pieces,
        }
    }

    fn stands_alone(event: &StockEvent) -> bool {
        !matches!(event, StockEvent::Described { .. })
    }
}
