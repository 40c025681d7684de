//! What keeps machines running: upkeep tasks, kinds of machines, and what tends to be wrong with a
//! kind.

use super::{CauseId, FindingId, FixId, Region};
use crate::identified::identified;
use crate::profile::Condition;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How often a task comes round; the earliest of those given counts.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
pub struct Interval {
    /// Printing hours.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
    /// Days.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub days: Option<f64>,
    /// Kilograms printed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kilograms: Option<f64>,
    /// Prints.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub prints: Option<f64>,
}

/// Something wrong that may be seen at a task, and what it tells a case.
#[derive(Debug, Clone, PartialEq)]
pub struct Wrong {
    /// In the words of whoever stands there.
    pub say: String,
    /// The sign it is, with its state by place.
    pub sign: (FindingId, usize),
}

/// A piece of upkeep: look, clean, oil, tighten.
#[derive(Debug, Clone, PartialEq)]
pub struct UpkeepTask {
    /// Identifier.
    pub id: String,
    /// Its name.
    pub name: String,
    /// What is done, and how it should be after.
    pub text: String,
    /// Minutes it takes.
    pub minutes: f64,
    /// Where on the machine.
    pub region: Region,
    /// How often.
    pub every: Interval,
    /// The part that is looked at: due as well once it is worn with a chance of one in five since
    /// it was last found sound.
    pub part: Option<String>,
    /// Looks, among the upkeep tasks or before a print, at marks: once one has moved, this is due.
    pub marks: Vec<String>,
    /// Conditions of the context under which a machine needs it.
    pub needs: Vec<Condition>,
    /// Cautions to read before it, by index.
    pub cautions: Vec<usize>,
    /// What may be seen that is wrong.
    pub wrong: Vec<Wrong>,
}

identified! {
    /// When a quirk is best seen to.
    pub enum QuirkTime {
        /// Before anything is printed.
        First = "before-first-print",
        /// In the first weeks.
        Soon = "soon",
        /// When there is time.
        SomeDay = "some-day",
    }
}

/// Something that tends to be wrong with a kind of machine.
#[derive(Debug, Clone, PartialEq)]
pub struct Quirk {
    /// Identifier, unique within its kind.
    pub id: String,
    /// What is wrong.
    pub name: String,
    /// When to see to it.
    pub when: QuirkTime,
    /// What it does as long as it stays.
    pub effect: String,
    /// What mending it takes, in words.
    pub mend: String,
    /// Price of parts.
    pub money: f64,
    /// Minutes of work.
    pub minutes: f64,
    /// What can go wrong while mending it.
    pub risk: String,
    /// What the warranty says to it; empty where it says nothing.
    pub warranty: String,
    /// The fix that mends it.
    pub fix: Option<FixId>,
    /// The part it needs.
    pub part: String,
    /// Suspects it makes likelier until mended, each with what their weight is multiplied by.
    pub raises: Vec<(CauseId, f64)>,
}

/// A kind of machine, as its makers build it.
#[derive(Debug, Clone, PartialEq)]
pub struct MachineKind {
    /// Identifier.
    pub id: String,
    /// Its name, as machines bear it.
    pub name: String,
    /// What it is like, in a sentence.
    pub text: String,
    /// Profile fields by identifier.
    pub profile: BTreeMap<String, String>,
    /// Facts of its build with their units, in the order to be read: name, value.
    pub facts: Vec<(String, String)>,
    /// Most plastic it melts, mm³/s.
    pub melt_limit_mm3_s: Option<f64>,
    /// Price of a new one.
    pub price: f64,
    /// Usual lives of its parts in hours, where its maker says so.
    pub lives: BTreeMap<String, f64>,
    /// Its own intervals, by task.
    pub every: BTreeMap<String, Interval>,
    /// What tends to be wrong, in the order in which to see to it.
    pub quirks: Vec<Quirk>,
}

impl MachineKind {
    /// A quirk by its identifier.
    pub fn quirk(&self, id: &str) -> Option<&Quirk> {
        self.quirks.iter().find(|q| q.id == id)
    }
}
