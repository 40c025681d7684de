//! What stands around faults and work: windows, stops, looks before a print, words.

use super::{CauseId, CheckId, FindingId, Work};
use crate::profile::Condition;
use crate::settings::NumberId;

/// Window of a material family. Temperatures in °C, fan in per cent.
#[derive(Debug, Clone)]
pub struct Material {
    /// Identifier of the family.
    pub id: String,
    /// Nozzle window, low to high.
    pub nozzle_c: (f64, f64),
    /// Bed window.
    pub bed_c: (f64, f64),
    /// Chamber window; the low end is absent where an open machine will do.
    pub chamber_c: (f64, f64),
    /// Part fan window.
    pub fan_percent: (f64, f64),
    /// Whether it wants a closed enclosure.
    pub closed: bool,
    /// Drying: temperature and hours in words.
    pub drying: String,
}

/// One term of a stop's condition.
#[derive(Debug, Clone)]
pub enum StopTerm {
    /// A finding shows a state, with whatever confidence.
    Finding(FindingId, usize),
    /// The context holds.
    Context(Condition),
    /// A setting is at or above a limit: another setting of the case, or where that is not known a
    /// value.
    AtLeast(NumberId, Option<NumberId>, f64),
}

/// A stop condition: the machine is locked until a named person clears it.
#[derive(Debug, Clone)]
pub struct Stop {
    /// Identifier.
    pub id: String,
    /// Short name for tag and list.
    pub name: String,
    /// Why the machine must not run.
    pub why: String,
    /// Alternatives, each a list of terms that hold together.
    pub holds: Vec<Vec<StopTerm>>,
    /// Terms that lift it, any one of them.
    pub until: Vec<StopTerm>,
    /// The check that leads to the clearing, when there is one; it may be done under the stop.
    pub check: Option<CheckId>,
    /// The step that clears it.
    pub work: Work,
}

/// A look before a print starts: seconds to minutes, nothing taken apart.
#[derive(Debug, Clone)]
pub struct Precaution {
    /// Identifier.
    pub id: String,
    /// What to look at and how it should be.
    pub text: String,
    /// Minutes it takes.
    pub minutes: f64,
    /// Causes it finds out, each with the chance that it does.
    pub catches: Vec<(CauseId, f64)>,
    /// Done whatever it saves, for safety's sake.
    pub always: bool,
    /// Cautions to read before it, by index.
    pub cautions: Vec<usize>,
    /// Conditions of the context under which it makes sense.
    pub needs: Vec<Condition>,
}

/// A word of the field, for the glossary.
#[derive(Debug, Clone)]
pub struct Term {
    /// Identifier, for links.
    pub id: String,
    /// The word as the field says it.
    pub term: String,
    /// A plain phrase.
    pub plain: String,
    /// What it means, in a sentence or two.
    pub text: String,
    /// Other forms of the word by which it is known in a text: "decibans".
    pub forms: Vec<String>,
    /// What to look at: identifiers of causes, findings, checks or fixes, as they stand.
    pub see: Vec<String>,
}

/// Words by which people tell of a finding's state.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Phrase {
    /// The finding.
    pub finding: FindingId,
    /// Identifier of the state, or of an answer that stands for several.
    pub state: String,
    /// The words.
    pub text: String,
}
