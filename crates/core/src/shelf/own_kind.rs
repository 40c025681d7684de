//! A kind of machine as the workshop itself describes it, beside those of the knowledge.

use super::{Shelved, Shelving};
use crate::knowledge::parts::{PARTS, part};
use crate::knowledge::{Knowledge, MachineKind, Quirk, QuirkTime};
use crate::refusal::{NotNow, Problem, Refusal};
use crate::text;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Highest price, most minutes.
const MOST_MONEY: f64 = 100_000.0;
const MOST_MINUTES: f64 = 10_000.0;
/// A quirk makes a suspect likelier by 1 to 4 times, and never decides.
const RAISES: (f64, f64) = (1.0, 4.0);
/// Lives of parts, in hours.
const LIVES: (f64, f64) = (10.0, 100_000.0);
/// Most quirks of one kind.
const MOST_QUIRKS: usize = 60;

/// Something that tends to be wrong, as the workshop tells it. Its name is its identifier: a
/// machine's log then reads well without this one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct OwnQuirk {
    /// What is wrong.
    pub name: String,
    /// When to see to it.
    pub when: QuirkTime,
    /// What it does as long as it stays.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub effect: String,
    /// What mending it takes.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub mend: String,
    /// Price of parts.
    #[serde(default)]
    pub money: f64,
    /// Minutes of work.
    #[serde(default)]
    pub minutes: f64,
    /// Suspects it makes likelier until mended, each with what their weight is multiplied by.
    #[serde(default)]
    pub raises: BTreeMap<String, f64>,
}

/// What may happen to a kind of the workshop's own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum OwnKindEvent {
    /// What it is: set once, and again where something was wrong.
    Described {
        /// Its name, as machines bear it.
        name: String,
        /// What it is like.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        text: String,
        /// Price of a new one.
        #[serde(default)]
        price: f64,
        /// Usual lives of its parts in hours, where its maker says so.
        #[serde(default)]
        lives: BTreeMap<String, f64>,
    },
    /// Something tends to be wrong with it; one of the same name is replaced.
    Quirk(OwnQuirk),
    /// That is not so after all.
    Without {
        /// Name of the quirk.
        quirk: String,
    },
    /// It is not used any more; machines keep what was written of them.
    Removed,
    /// It is used again.
    BackAgain,
}

/// A kind of the workshop's own as it is.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct OwnKind {
    /// Its name.
    pub name: String,
    /// What it is like.
    pub text: String,
    /// Price of a new one.
    pub price: f64,
    /// Usual lives of its parts.
    pub lives: BTreeMap<String, f64>,
    /// What tends to be wrong, in the order in which it was told.
    pub quirks: Vec<OwnQuirk>,
    /// It is not used any more.
    pub removed: bool,
}

impl OwnKind {
    /// It as a kind like those of the knowledge; suspects that are not known any more are left out.
    pub fn as_kind(&self, knowledge: &Knowledge, id: &str) -> MachineKind {
        let quirk = |q: &OwnQuirk| Quirk {
            id: q.name.clone(),
            name: q.name.clone(),
            when: q.when,
            effect: q.effect.clone(),
            mend: q.mend.clone(),
            money: q.money,
            minutes: q.minutes,
            risk: String::new(),
            warranty: String::new(),
            fix: None,
            part: String::new(),
            raises: q
                .raises
                .iter()
                .filter_map(|(cause, factor)| Some((knowledge.cause_id(cause)?, *factor)))
                .collect(),
        };
        let mut quirks: Vec<Quirk> = self.quirks.iter().map(quirk).collect();
        quirks.sort_by_key(|q| q.when as usize);
        MachineKind {
            id: id.to_string(),
            name: self.name.clone(),
            text: self.text.clone(),
            profile: BTreeMap::new(),
            facts: Vec::new(),
            melt_limit_mm3_s: None,
            price: self.price,
            lives: self.lives.clone(),
            every: BTreeMap::new(),
            quirks,
        }
    }
}

fn within(field: &str, given: f64, (least, most): (f64, f64)) -> Result<(), Refusal> {
    match (least..=most).contains(&given) {
        true => Ok(()),
        false => Err(Refusal::invalid(field, Problem::Amount { given, most })),
    }
}

fn quirk(knowledge: &Knowledge, quirk: &OwnQuirk) -> Result<(), Refusal> {
    text::words(&quirk.name, text::LONGEST_NAME).map_err(|e| Refusal::invalid("quirk", e))?;
    for (field, text) in [("effect", &quirk.effect), ("mend", &quirk.mend)] {
        text::optional(text, text::LONGEST_TEXT).map_err(|e| Refusal::invalid(field, e))?;
    }
    within("money", quirk.money, (0.0, MOST_MONEY))?;
    within("minutes", quirk.minutes, (0.0, MOST_MINUTES))?;
    for (cause, factor) in &quirk.raises {
        if knowledge.cause_id(cause).is_none() {
            let known = knowledge.causes.iter().map(|c| c.id.as_str());
            let problem = Problem::unknown("cause", cause, known);
            return Err(Refusal::invalid("raises", problem));
        }
        within("raises", *factor, RAISES)?;
    }
    Ok(())
}

impl Shelved for OwnKind {
    const KIND: &'static str = "kind";
    const MOVES_SUSPECTS: bool = true;
    type Event = OwnKindEvent;

    fn accept(&self, k: &Knowledge, event: &OwnKindEvent, new: bool) -> Result<(), Refusal> {
        match event {
            OwnKindEvent::Described {
                name,
                text: words,
                price,
                lives,
            } => {
                text::words(name, text::LONGEST_NAME).map_err(|e| Refusal::invalid("name", e))?;
                text::optional(words, text::LONGEST_TEXT)
                    .map_err(|e| Refusal::invalid("text", e))?;
                within("price", *price, (0.0, MOST_MONEY))?;
                for (id, hours) in lives {
                    if part(id).is_none() {
                        let problem = Problem::unknown("part", id, PARTS.iter().map(|p| p.id));
                        return Err(Refusal::invalid("lives", problem));
                    }
                    within("lives", *hours, LIVES)?;
                }
                Ok(())
            }
            _ if new => Err(NotNow::OpenedOnce.into()),
            OwnKindEvent::Quirk(_) if self.quirks.len() >= MOST_QUIRKS => {
                let (given, most) = (self.quirks.len() as f64 + 1.0, MOST_QUIRKS as f64);
                Err(Refusal::invalid("quirk", Problem::Amount { given, most }))
            }
            OwnKindEvent::Quirk(of) => quirk(k, of),
            OwnKindEvent::Without { quirk } => match self.quirks.iter().any(|q| q.name == *quirk) {
                true => Ok(()),
                false => {
                    let known = self.quirks.iter().map(|q| q.name.as_str());
                    let problem = Problem::unknown("quirk", quirk, known);
                    Err(Refusal::invalid("quirk", problem))
                }
            },
            OwnKindEvent::Removed | OwnKindEvent::BackAgain => Ok(()),
        }
    }

    fn take(&mut self, entry: &Shelving<OwnKindEvent>) {
        match &entry.event {
            OwnKindEvent::Described {
                name,
                text,
                price,
                lives,
            } => {
                self.name.clone_from(name);
                self.text.clone_from(text);
                self.price = *price;
                self.lives.clone_from(lives);
            }
            OwnKindEvent::Quirk(of) => {
                self.quirks.retain(|q| q.name != of.name);
                self.quirks.push(of.clone());
            }
            OwnKindEvent::Without { quirk } => self.quirks.retain(|q| q.name != *quirk),
            OwnKindEvent::Removed => self.removed = true,
            OwnKindEvent::BackAgain => self.removed = false,
        }
    }

    fn stands_alone(event: &OwnKindEvent) -> bool {
        !matches!(event, OwnKindEvent::Described { .. })
    }
}
