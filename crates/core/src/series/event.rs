//! What can happen in a series.

use super::end::{How, Keep};
use crate::trials::{Confidence, Difference, Goal, Grade};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// The kept piece that shows no fault.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Baseline {
    /// What it was printed with, in words: settings, firmware, hardware.
    pub settings: String,
    /// Its file by name.
    #[serde(default)]
    pub file: String,
    /// Where it is kept.
    #[serde(default)]
    pub place: String,
}

/// What every piece of the series costs and is printed with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Printed {
    /// Test piece or model, in words or by a piece's identifier.
    #[serde(default)]
    pub piece: String,
    /// Minutes on the machine.
    pub print_minutes: f64,
    /// Minutes of a person's hands.
    pub hands_minutes: f64,
    /// Filament, grams.
    pub grams: f64,
}

impl Default for Printed {
    fn default() -> Printed {
        Printed {
            piece: String::new(),
            print_minutes: 30.0,
            hands_minutes: 5.0,
            grams: 6.0,
        }
    }
}

/// A difference with the suspects it speaks of, by identifier.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Listed {
    /// The difference.
    pub difference: Difference,
    /// Causes that act through it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub causes: Vec<String>,
}

/// A piece as it was printed: tied to exact settings, machine, spool and file.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Made {
    /// Names of the differences that are old in it.
    pub old: Vec<String>,
    /// Speed, nozzle, bed, in words.
    #[serde(default)]
    pub settings: String,
    /// The spool.
    #[serde(default)]
    pub spool: String,
    /// The file by name, with the short hash where it is known.
    #[serde(default)]
    pub file: String,
    /// Where the piece lies.
    #[serde(default)]
    pub place: String,
    /// It was printed before this series, or elsewhere: what it says counts as a hunch.
    #[serde(default)]
    pub earlier: bool,
}

/// One thing that happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Event {
    /// The series was begun.
    Begun {
        /// What is looked for.
        name: String,
        /// The good piece.
        baseline: Baseline,
        /// The grade of the bad piece, 0 to 4.
        bad_grade: u8,
        /// What a piece costs.
        printed: Printed,
        /// Graders see letters and not settings.
        #[serde(default)]
        blind: bool,
    },
    /// The list of differences was set; it replaces the one before.
    Listed {
        /// What differs.
        list: Vec<Listed>,
        /// Pairs known to disturb each other.
        #[serde(default)]
        fights: Vec<(String, String)>,
        /// Minutes once a group, such as a flash.
        #[serde(default)]
        group_minutes: BTreeMap<String, f64>,
    },
    /// What is enough to find out: one that cures, or both of a pair by name.
    Aimed {
        /// From now on.
        goal: Goal,
    },
    /// A piece got its label, to be printed.
    Made {
        /// Its label.
        label: String,
        /// How it is made.
        made: Made,
    },
    /// A piece was looked at.
    Graded {
        /// Its label.
        label: String,
        /// How it looked.
        grade: Grade,
        /// How surely.
        #[serde(default)]
        confidence: Confidence,
        /// A reading it rests on, in words; by eye without one.
        #[serde(default)]
        reading: String,
        /// The grader saw a letter and no settings.
        #[serde(default)]
        blind: bool,
        /// What else was seen.
        #[serde(default)]
        note: String,
    },
    /// A piece was photographed; the bytes are kept beside the log.
    Pictured {
        /// Its label; empty for the baseline.
        label: String,
        /// Identifier of the bytes.
        picture: String,
    },
    /// A piece was put somewhere.
    Placed {
        /// Its label.
        label: String,
        /// Where it lies.
        place: String,
    },
    /// An entry was wrong.
    Retracted {
        /// Its number.
        entry: u32,
    },
    /// The series was ended.
    Ended {
        /// What it found.
        how: How,
        /// Settings to keep.
        keep: Vec<Keep>,
        /// In words.
        #[serde(default)]
        note: String,
    },
}

/// An event with its number, time and person.
#[derive(Debug, Clone, PartialEq)]
pub struct Entry {
    /// 1, 2, …
    pub seq: u32,
    /// When.
    pub at: OffsetDateTime,
    /// Who was at the screen.
    pub by: Option<String>,
    /// What happened.
    pub event: Event,
}
