//! A spool of filament: what it is, how it was dried and kept, how much is left, where it is.

use super::{Shelved, Shelving};
use crate::knowledge::Knowledge;
use crate::profile::{Context, FieldId};
use crate::refusal::{NotNow, Problem, Refusal};
use crate::text;
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};

/// Most grams on a spool.
const MOST_GRAMS: f64 = 20_000.0;
/// Hottest and longest that filament is dried.
const DRIED: (f64, f64) = (120.0, 72.0);
/// Nearly out from here on, in grams.
const NEARLY_OUT: f64 = 80.0;
/// Days after which open filament wants to be dried again: thirsty families, and the others.
const DRY_FOR: (i64, i64) = (7, 60);
/// Kept dry it lasts so many times longer.
const KEPT_DRY: i64 = 4;
/// Families that take water up quickly.
const THIRSTY: [&str; 4] = ["pa", "tpu", "petg", "pc"];

/// How spools are kept: identifier, words.
pub const KEEPING: [(&str, &str); 4] = [
    ("open", "open in the room"),
    ("bag", "closed bag with a dry sachet"),
    ("box", "dry box"),
    ("dryer", "dryer, printed from it"),
];

/// What may happen to a spool.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum SpoolEvent {
    /// What it is: set once, and again where something was wrong.
    Described {
        /// Material family.
        family: String,
        /// Its maker, in the workshop's words.
        maker: String,
        /// Its colour.
        colour: String,
        /// Grams of filament when it was new.
        net_g: f64,
        /// Grams of the empty spool; unknown where nobody weighed one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        tare_g: Option<f64>,
    },
    /// It was opened.
    Opened,
    /// It was dried.
    Dried {
        /// At how many degrees.
        celsius: f64,
        /// For how many hours.
        hours: f64,
    },
    /// It is kept otherwise from now on.
    Kept {
        /// One of [`KEEPING`].
        how: String,
    },
    /// It was weighed with its spool.
    Weighed {
        /// Grams on the scale.
        gross_g: f64,
    },
    /// A print took some of it.
    Used {
        /// Grams.
        grams: f64,
        /// The case it belongs to, or the file printed; empty where neither.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        of: String,
    },
    /// It is on a machine from now on; on none where empty.
    Put {
        /// The machine's identifier.
        machine: String,
    },
    /// Nothing is left of it, or it was thrown away.
    Finished,
    /// There was more than thought: it is in use again.
    FoundAgain {
        /// Grams left.
        grams: f64,
    },
}

/// When and how a spool was dried.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Dried {
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// At how many degrees.
    pub celsius: f64,
    /// For how many hours.
    pub hours: f64,
}

/// A spool as it is.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct Spool {
    /// Material family.
    pub family: String,
    /// Its maker.
    pub maker: String,
    /// Its colour.
    pub colour: String,
    /// Grams when new.
    pub net_g: f64,
    /// Grams of the empty spool.
    pub tare_g: Option<f64>,
    /// When it was opened.
    #[serde(with = "time::serde::rfc3339::option")]
    pub opened: Option<OffsetDateTime>,
    /// When it was dried last.
    pub dried: Option<Dried>,
    /// How it is kept.
    pub kept: String,
    /// Grams left, by weighing and by prints since.
    pub left_g: f64,
    /// The machine it is on; empty for none.
    pub machine: String,
    /// Machines it was on before, in their order, each once.
    pub was_on: Vec<String>,
    /// Nothing is left.
    pub finished: bool,
}

impl Spool {
    /// "grey PLA, Quayside".
    pub fn name(&self) -> String {
        let family = self.family_name();
        match self.maker.is_empty() {
            true => format!("{} {family}", self.colour),
            false => format!("{} {family}, {}", self.colour, self.maker),
        }
    }

    /// The family as people write it.
    pub fn family_name(&self) -> &'static str {
        let mut context = Context::default();
        let _ = context.set(FieldId::Material.id(), &self.family);
        context.get(FieldId::Material).map_or("?", |v| v.plain)
    }

    /// Less is left than a print of usual size takes.
    pub fn nearly_out(&self) -> bool {
        !self.finished && self.left_g < NEARLY_OUT
    }

    /// Whether so many grams are still on it.
    pub fn enough_for(&self, grams: f64) -> bool {
        !self.finished && self.left_g >= grams
    }

    /// Days it has been open since it was dried, or since it was opened; none while it is sealed.
    pub fn open_days(&self, now: OffsetDateTime) -> Option<i64> {
        let since = match &self.dried {
            Some(dried) => Some(dried.at.max(self.opened.unwrap_or(dried.at))),
            None => self.opened,
        };
        since.map(|at| (now - at).whole_days().max(0))
    }

    /// Whether it wants to be dried before a print that matters.
    pub fn wants_drying(&self, now: OffsetDateTime) -> bool {
        if self.finished || self.kept == "dryer" {
            return false;
        }
        let thirsty = THIRSTY.contains(&self.family.as_str());
        let days = if thirsty { DRY_FOR.0 } else { DRY_FOR.1 };
        let dry = matches!(self.kept.as_str(), "bag" | "box");
        let days = Duration::days(if dry { days * KEPT_DRY } else { days });
        self.open_days(now)
            .is_some_and(|open| open >= days.whole_days())
    }
}

/// How a family is dried, in words; nothing where the knowledge does not say.
pub fn drying_hint<'k>(knowledge: &'k Knowledge, family: &str) -> Option<&'k str> {
    let material = knowledge.materials.iter().find(|m| m.id == family)?;
    Some(material.drying.as_str())
}

fn grams(field: &str, given: f64) -> Result<(), Refusal> {
    within(field, given, MOST_GRAMS)
}

fn within(field: &str, given: f64, most: f64) -> Result<(), Refusal> {
    match (0.0..=most).contains(&given) {
        true => Ok(()),
        false => Err(Refusal::invalid(field, Problem::Amount { given, most })),
    }
}

impl Shelved for Spool {
    const KIND: &'static str = "spool";
    type Event = SpoolEvent;

    fn accept(&self, _: &Knowledge, event: &SpoolEvent, new: bool) -> Result<(), Refusal> {
        let described = matches!(event, SpoolEvent::Described { .. });
        if new && !described {
            return Err(NotNow::OpenedOnce.into());
        }
        let used = matches!(
            event,
            SpoolEvent::Used { .. } | SpoolEvent::Put { .. } | SpoolEvent::Finished
        );
        if self.finished && used {
            return Err(NotNow::SpoolFinished.into());
        }
        match event {
            SpoolEvent::Described {
                family,
                maker,
                colour,
                net_g,
                tare_g,
            } => {
                let mut context = Context::default();
                let set = context.set(FieldId::Material.id(), family);
                set.map_err(|e| Refusal::invalid("family", e))?;
                text::optional(maker, text::LONGEST_NAME)
                    .map_err(|e| Refusal::invalid("maker", e))?;
                text::words(colour, text::LONGEST_NAME)
                    .map_err(|e| Refusal::invalid("colour", e))?;
                grams("net_g", *net_g)?;
                grams("tare_g", tare_g.unwrap_or(0.0))
            }
            SpoolEvent::Dried { celsius, hours } => {
                within("celsius", *celsius, DRIED.0)?;
                within("hours", *hours, DRIED.1)
            }
            SpoolEvent::Kept { how } => match KEEPING.iter().any(|(id, _)| id == how) {
                true => Ok(()),
                false => {
                    let problem = Problem::unknown("keeping", how, KEEPING.map(|(id, _)| id));
                    Err(Refusal::invalid("how", problem))
                }
            },
            SpoolEvent::Weighed { gross_g } => {
                grams("gross_g", *gross_g)?;
                let Some(tare) = self.tare_g else {
                    return Err(NotNow::NoTare.into());
                };
                match *gross_g < tare - 1.0 {
                    true => Err(Refusal::invalid("gross_g", Problem::LighterThanEmpty(tare))),
                    false => Ok(()),
                }
            }
            SpoolEvent::Used { grams: g, .. } => grams("grams", *g),
            SpoolEvent::FoundAgain { grams: g } => match self.finished {
                true => grams("grams", *g),
                false => Err(NotNow::SpoolInUse.into()),
            },
            SpoolEvent::Put { .. } | SpoolEvent::Opened | SpoolEvent::Finished => Ok(()),
        }
    }

    fn take(&mut self, entry: &Shelving<SpoolEvent>) {
        match &entry.event {
            SpoolEvent::Described {
                family,
                maker,
                colour,
                net_g,
                tare_g,
            } => {
                // What was used before stays used.
                let used = if entry.seq == 1 {
                    0.0
                } else {
                    self.net_g - self.left_g
                };
                self.family.clone_from(family);
                self.maker.clone_from(maker);
                self.colour.clone_from(colour);
                self.net_g = *net_g;
                self.tare_g = *tare_g;
                self.left_g = (net_g - used).max(0.0);
                if self.kept.is_empty() {
                    self.kept = "open".into();
                }
            }
            SpoolEvent::Opened => self.opened = self.opened.or(Some(entry.at)),
            SpoolEvent::Dried { celsius, hours } => {
                self.dried = Some(Dried {
                    at: entry.at,
                    celsius: *celsius,
                    hours: *hours,
                });
            }
            SpoolEvent::Kept { how } => self.kept.clone_from(how),
            SpoolEvent::Weighed { gross_g } => {
                self.left_g = (gross_g - self.tare_g.unwrap_or(0.0)).max(0.0);
            }
            SpoolEvent::Used { grams, .. } => self.left_g = (self.left_g - grams).max(0.0),
            SpoolEvent::Put { machine } => {
                self.opened = self
                    .opened
                    .or(Some(entry.at).filter(|_| !machine.is_empty()));
                self.machine.clone_from(machine);
                if !machine.is_empty() && !self.was_on.contains(machine) {
                    self.was_on.push(machine.clone());
                }
            }
            SpoolEvent::Finished => {
                self.finished = true;
                self.machine.clear();
                self.left_g = 0.0;
            }
            SpoolEvent::FoundAgain { grams } => {
                self.finished = false;
                self.left_g = *grams;
            }
        }
    }

    fn stands_alone(event: &SpoolEvent) -> bool {
        !matches!(event, SpoolEvent::Described { .. })
    }
}
