//! What people said of an evening: who is there, who took what, what is left for another day, and
//! the page that is handed over at its end.

use crate::knowledge::Knowledge;
use crate::people::Role;
use crate::refusal::{NotNow, Problem, Refusal};
use crate::shelf::{Shelved, Shelving};
use crate::text;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::fmt;
use std::str::FromStr;
use time::OffsetDateTime;

/// Longest evening, in minutes.
pub const MOST_MINUTES: f64 = 1_440.0;
/// Most people of one.
pub const MOST_PEOPLE: usize = 40;
/// Longest word that goes with something handed over, in characters.
pub const LONGEST_WORD: usize = 300;

/// An entry of an evening.
pub type ShiftEntry = Shelving<ShiftEvent>;

/// Something to be done, by name: a case, the round of upkeep, the question whether fixes held.
/// Written `case/…`, `round`, `ask`.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub enum JobId {
    /// A case, by its identifier.
    Case(String),
    /// The round.
    Round,
    /// Closed cases that ask whether their fix held.
    Ask,
}

/// A text that names nothing to be done.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("`{0}` is nothing that a shift does")]
pub struct NoJob(String);

impl FromStr for JobId {
    type Err = NoJob;

    fn from_str(text: &str) -> Result<Self, NoJob> {
        match text.split_once('/') {
            Some(("case", id)) if !id.is_empty() => Ok(JobId::Case(id.to_string())),
            None if text == "round" => Ok(JobId::Round),
            None if text == "ask" => Ok(JobId::Ask),
            _ => Err(NoJob(crate::nearest::short(text))),
        }
    }
}

impl TryFrom<String> for JobId {
    type Error = NoJob;

    fn try_from(text: String) -> Result<Self, NoJob> {
        text.parse()
    }
}

impl From<JobId> for String {
    fn from(id: JobId) -> Self {
        id.to_string()
    }
}

impl fmt::Display for JobId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            JobId::Case(id) => write!(f, "case/{id}"),
            JobId::Round => f.write_str("round"),
            JobId::Ask => f.write_str("ask"),
        }
    }
}

/// Somebody who is there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Who {
    /// As entries name them.
    pub by: String,
    /// What they may.
    pub role: Role,
}

/// A line of a page that is handed over. It names nobody: who did it stands beside, as entries
/// have it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct JobLine {
    /// In words.
    pub text: String,
    /// Address of its page.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub href: String,
    /// Who, as entries name them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
}

/// The page at the end of an evening, as it was then.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct HandOver {
    /// What was done.
    pub done: Vec<JobLine>,
    /// What waits: timers that run, proofs that print.
    pub waits: Vec<JobLine>,
    /// Machines that are locked.
    pub locked: Vec<JobLine>,
    /// What to look at first.
    pub first: Vec<JobLine>,
    /// A word for whoever comes next.
    pub word: String,
}

/// What may happen of an evening.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum ShiftEvent {
    /// Who is there, and for how long; told again where that changes.
    Begun {
        /// Who.
        people: Vec<Who>,
        /// When they go.
        #[serde(with = "time::serde::rfc3339")]
        until: OffsetDateTime,
        /// Minutes from now until then.
        minutes: f64,
    },
    /// Somebody takes something.
    Took {
        /// What.
        job: JobId,
        /// Who.
        who: String,
    },
    /// Somebody hands it on, to whom they name or to whoever comes.
    HandedOver {
        /// What.
        job: JobId,
        /// To whom.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        to: Option<String>,
        /// A word with it.
        #[serde(default)]
        word: String,
    },
    /// It is left for another day.
    NotTonight {
        /// What.
        job: JobId,
        /// Why.
        #[serde(default)]
        word: String,
    },
    /// It is on the list again.
    Again {
        /// What.
        job: JobId,
    },
    /// The evening is over: what is handed over.
    Ended {
        /// The page.
        page: HandOver,
    },
}

/// A word that was said of something.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Said {
    /// Who, as entries name them.
    pub by: Option<String>,
    /// What.
    pub word: String,
}

/// An evening as it is.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct Shift {
    /// Who is there.
    pub people: Vec<Who>,
    /// When it began.
    #[serde(with = "time::serde::rfc3339::option")]
    pub began: Option<OffsetDateTime>,
    /// When people go.
    #[serde(with = "time::serde::rfc3339::option")]
    pub until: Option<OffsetDateTime>,
    /// Who took what.
    pub taken: BTreeMap<JobId, String>,
    /// Words that go with what was handed over.
    pub words: BTreeMap<JobId, Said>,
    /// Left for another day.
    pub not_tonight: BTreeMap<JobId, Said>,
    /// The page that was handed over.
    pub ended: Option<HandOver>,
}

/// Checks whether something may happen; see [`Shelved`].
///
/// # Errors
/// Which value is wrong, and what would do.
pub fn accept(shift: &Shift, event: &ShiftEvent, new: bool) -> Result<(), Refusal> {
    let word = |field: &str, word: &str| {
        text::optional(word, LONGEST_WORD).map_err(|e| Refusal::invalid(field, e))
    };
    if shift.ended.is_some() {
        return Err(Refusal::invalid("shift", Problem::ShiftOver));
    }
    match event {
        ShiftEvent::Begun {
            people, minutes, ..
        } => {
            if people.is_empty() || people.len() > MOST_PEOPLE {
                return Err(Refusal::invalid("people", Problem::Nobody(MOST_PEOPLE)));
            }
            let (given, most) = (*minutes, MOST_MINUTES);
            match (1.0..=most).contains(&given) {
                true => Ok(()),
                false => Err(Refusal::invalid("minutes", Problem::Amount { given, most })),
            }
        }
        _ if new => Err(NotNow::OpenedOnce.into()),
        ShiftEvent::Took { job, who } => match shift.taken.get(job) {
            Some(other) if other != who => {
                Err(Refusal::invalid("job", Problem::Taken(other.clone())))
            }
            _ => Ok(()),
        },
        ShiftEvent::HandedOver { word: said, .. } | ShiftEvent::NotTonight { word: said, .. } => {
            word("word", said)
        }
        ShiftEvent::Again { .. } => Ok(()),
        ShiftEvent::Ended { page } => {
            text::optional(&page.word, text::LONGEST_TEXT).map_err(|e| Refusal::invalid("word", e))
        }
    }
}

/// An evening after all of its log.
pub fn replay(log: &[ShiftEntry]) -> Shift {
    Shift::of(log)
}

impl Shelved for Shift {
    const KIND: &'static str = "shift";
    const TELLS: bool = true;
    type Event = ShiftEvent;

    fn accept(&self, _: &Knowledge, event: &ShiftEvent, new: bool) -> Result<(), Refusal> {
        accept(self, event, new)
    }

    fn take(&mut self, entry: &ShiftEntry) {
        let said = |word: &str| Said {
            by: entry.by.clone(),
            word: word.to_string(),
        };
        match &entry.event {
            ShiftEvent::Begun { people, until, .. } => {
                self.people.clone_from(people);
                self.began.get_or_insert(entry.at);
                self.until = Some(*until);
            }
            ShiftEvent::Took { job, who } => {
                self.taken.insert(job.clone(), who.clone());
                self.not_tonight.remove(job);
            }
            ShiftEvent::HandedOver { job, to, word } => {
                self.taken.remove(job);
                if let Some(to) = to {
                    self.taken.insert(job.clone(), to.clone());
                }
                match word.is_empty() {
                    true => self.words.remove(job),
                    false => self.words.insert(job.clone(), said(word)),
                };
            }
            ShiftEvent::NotTonight { job, word } => {
                self.taken.remove(job);
                self.not_tonight.insert(job.clone(), said(word));
            }
            ShiftEvent::Again { job } => {
                self.not_tonight.remove(job);
            }
            ShiftEvent::Ended { page } => self.ended = Some(page.clone()),
        }
    }

    /// Two people may speak of different things at once; of the same one the first is right.
    fn stands_alone(_: &ShiftEvent) -> bool {
        true
    }
}
