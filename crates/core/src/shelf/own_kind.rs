//! A kind of machine as the workshop itself describes it, beside those of the knowledge.

use super::{Shelved, Shelving};
use crate::knowledge::parts::PARTS;
use crate::knowledge::{Interval, Knowledge, MachineKind, Quirk, QuirkTime};
use crate::profile::Context;
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
/// Most facts of one kind.
const MOST_FACTS: usize = 60;
/// What hot ends melt at most, in mm³/s.
const MELT_LIMITS: (f64, f64) = (0.5, 200.0);
/// An interval of upkeep in hours, days, kilograms or prints.
const INTERVALS: (f64, f64) = (0.1, 100_000.0);

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
    /// The fix of the handbook that mends it; empty where there is none.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub fix: String,
    /// The part that it needs; empty for none.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub part: String,
    /// What may go wrong in mending it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub risk: String,
    /// What mending means for the warranty.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub warranty: String,
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

/// What the workshop says of a kind.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct OwnDescription {
    /// Its name, as machines bear it.
    pub name: String,
    /// What it is like.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub text: String,
    /// Price of a new one.
    pub price: f64,
    /// How it is built: fields of the profile by identifier.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub profile: BTreeMap<String, String>,
    /// What else one looks up: "Frame screws", "M5 in slots".
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub facts: Vec<(String, String)>,
    /// What its hot end melts at most, in mm³/s.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub melt_limit_mm3_s: Option<f64>,
    /// Usual lives of its parts in hours, where its maker says so.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub lives: BTreeMap<String, f64>,
    /// How often its upkeep comes round, by task, where its maker says otherwise than the handbook.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub every: BTreeMap<String, Interval>,
}

/// What may happen to a kind of the workshop's own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum OwnKindEvent {
    /// What it is: set once, and again where something was wrong.
    Described(OwnDescription),
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
    /// What the workshop says of it.
    #[serde(flatten)]
    pub described: OwnDescription,
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
            risk: q.risk.clone(),
            warranty: q.warranty.clone(),
            fix: knowledge.fix_id(&q.fix),
            part: q.part.clone(),
            raises: q
                .raises
                .iter()
                .filter_map(|(cause, factor)| Some((knowledge.cause_id(cause)?, *factor)))
                .collect(),
        };
        let mut quirks: Vec<Quirk> = self.quirks.iter().map(quirk).collect();
        quirks.sort_by_key(|q| q.when as usize);
        let is = self.described.clone();
        MachineKind {
            id: id.to_string(),
            name: is.name,
            text: is.text,
            profile: is.profile,
            facts: is.facts,
            melt_limit_mm3_s: is.melt_limit_mm3_s,
            price: is.price,
            lives: is.lives,
            every: is.every,
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

/// A description with values that make sense, of parts, fields and tasks that there are.
fn described(k: &Knowledge, of: &OwnDescription) -> Result<(), Refusal> {
    text::words(&of.name, text::LONGEST_NAME).map_err(|e| Refusal::invalid("name", e))?;
    text::optional(&of.text, text::LONGEST_TEXT).map_err(|e| Refusal::invalid("text", e))?;
    within("price", of.price, (0.0, MOST_MONEY))?;
    let mut context = Context::default();
    for (field, value) in &of.profile {
        context
            .set(field, value)
            .map_err(|e| Refusal::invalid(field, e))?;
    }
    if of.facts.len() > MOST_FACTS {
        let (given, most) = (of.facts.len() as f64, MOST_FACTS as f64);
        return Err(Refusal::invalid("facts", Problem::Amount { given, most }));
    }
    for text in of.facts.iter().flat_map(|(name, value)| [name, value]) {
        text::words(text, text::LONGEST_NAME).map_err(|e| Refusal::invalid("facts", e))?;
    }
    if let Some(limit) = of.melt_limit_mm3_s {
        within("melt_limit_mm3_s", limit, MELT_LIMITS)?;
    }
    for (id, hours) in &of.lives {
        known("part", "lives", id, PARTS.iter().map(|p| p.id))?;
        within("lives", *hours, LIVES)?;
    }
    for (id, every) in &of.every {
        known("task", "every", id, k.upkeep.iter().map(|t| t.id.as_str()))?;
        let given = [every.hours, every.days, every.kilograms, every.prints];
        for given in given.into_iter().flatten() {
            within("every", given, INTERVALS)?;
        }
    }
    Ok(())
}

/// One of those there are.
fn known<'a>(
    what: &'static str,
    field: &str,
    id: &str,
    mut all: impl Iterator<Item = &'a str> + Clone,
) -> Result<(), Refusal> {
    match all.clone().any(|known| known == id) {
        true => Ok(()),
        false => Err(Refusal::invalid(
            field,
            Problem::unknown(what, id, all.by_ref()),
        )),
    }
}

fn quirk(knowledge: &Knowledge, quirk: &OwnQuirk) -> Result<(), Refusal> {
    text::words(&quirk.name, text::LONGEST_NAME).map_err(|e| Refusal::invalid("quirk", e))?;
    let texts = [
        ("effect", &quirk.effect),
        ("mend", &quirk.mend),
        ("part", &quirk.part),
        ("risk", &quirk.risk),
        ("warranty", &quirk.warranty),
    ];
    for (field, text) in texts {
        text::optional(text, text::LONGEST_TEXT).map_err(|e| Refusal::invalid(field, e))?;
    }
    if !quirk.fix.is_empty() {
        let fixes = knowledge.fixes.iter().map(|f| f.id.as_str());
        known("fix", "fix", &quirk.fix, fixes)?;
    }
    within("money", quirk.money, (0.0, MOST_MONEY))?;
    within("minutes", quirk.minutes, (0.0, MOST_MINUTES))?;
    for (cause, factor) in &quirk.raises {
        let causes = knowledge.causes.iter().map(|c| c.id.as_str());
        known("cause", "raises", cause, causes)?;
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
            OwnKindEvent::Described(of) => described(k, of),
            _ if new => Err(NotNow::OpenedOnce.into()),
            OwnKindEvent::Quirk(_) if self.quirks.len() >= MOST_QUIRKS => {
                let (given, most) = (self.quirks.len() as f64 + 1.0, MOST_QUIRKS as f64);
                Err(Refusal::invalid("quirk", Problem::Amount { given, most }))
            }
            OwnKindEvent::Quirk(of) => quirk(k, of),
            OwnKindEvent::Without { quirk } => {
                let quirks = self.quirks.iter().map(|q| q.name.as_str());
                known("quirk", "quirk", quirk, quirks)
            }
            OwnKindEvent::Removed | OwnKindEvent::BackAgain => Ok(()),
        }
    }

    fn take(&mut self, entry: &Shelving<OwnKindEvent>) {
        match &entry.event {
            OwnKindEvent::Described(of) => self.described.clone_from(of),
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
        !matches!(event, OwnKindEvent::Described(_))
    }
}
