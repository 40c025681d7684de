//! What can happen in a case. Identifiers are kept as text, so that an old log stays readable when the knowledge grows.

use crate::evidence::Confidence;
use crate::knowledge::TryResult;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// How a case ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Outcome {
    /// The fault is gone and a print proved it.
    FixedAndVerified,
    /// The fault is weaker and that will do.
    Improved,
    /// The fault stays, the print succeeds another way.
    WorkedAround,
    /// An ordinary trait of the process.
    NotAFault,
    /// Left unsolved.
    Unsolved,
}

impl Outcome {
    /// All outcomes.
    pub const ALL: [Outcome; 5] =
        [Outcome::FixedAndVerified, Outcome::Improved, Outcome::WorkedAround, Outcome::NotAFault, Outcome::Unsolved];

    /// Identifier in logs and links.
    pub fn id(self) -> &'static str {
        ["fixed-and-verified", "improved", "worked-around", "not-a-fault", "unsolved"][self as usize]
    }

    /// The outcome with this identifier.
    pub fn from_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|o| o.id() == id)
    }
}

/// One thing that happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Event {
    /// The case was opened on a machine as it then was.
    Opened {
        /// What the trouble is called.
        title: String,
        /// The machine's name.
        machine_name: String,
        /// Profile fields by identifier.
        machine: BTreeMap<String, String>,
        /// Material family.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        material: Option<String>,
        /// The spool in words: colour, maker.
        #[serde(default)]
        spool: String,
    },
    /// A number became known or was corrected.
    Measured {
        /// Identifier with unit.
        number: String,
        /// Its value.
        value: f64,
    },
    /// A finding was answered.
    Observed {
        /// Finding.
        finding: String,
        /// State.
        state: String,
        /// How surely.
        #[serde(default)]
        confidence: Confidence,
    },
    /// A check was done.
    Checked {
        /// Check.
        check: String,
        /// Outcome.
        outcome: String,
        /// How surely.
        #[serde(default)]
        confidence: Confidence,
        /// Minutes it took.
        minutes: f64,
    },
    /// A fix had been tried before the case was opened.
    Tried {
        /// Fix.
        fix: String,
        /// What happened.
        result: TryResult,
    },
    /// A fix was applied; the print that proves it is still to come.
    Fixed {
        /// Fix.
        fix: String,
        /// Minutes it took.
        minutes: f64,
        /// Money it cost.
        money: f64,
    },
    /// The print after a fix.
    Printed {
        /// What became of the fault.
        result: TryResult,
        /// Minutes it took, waiting included.
        minutes: f64,
        /// Grams used.
        grams: f64,
    },
    /// A part was found sound without a listed check.
    Cleared {
        /// Cause.
        cause: String,
        /// How surely.
        #[serde(default)]
        confidence: Confidence,
    },
    /// Something worth keeping.
    Noted {
        /// Text.
        text: String,
    },
    /// An earlier event was taken back.
    Retracted {
        /// Its sequence number.
        seq: u32,
    },
    /// A named person cleared a stop.
    StopCleared {
        /// Stop.
        stop: String,
        /// Who.
        by: String,
        /// Why the machine is safe again.
        reason: String,
    },
    /// The case was closed.
    Resolved {
        /// How it ended.
        outcome: Outcome,
        /// The cause it was.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        cause: Option<String>,
        /// The fix that did it.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        fix: Option<String>,
        /// A word for the next person.
        #[serde(default)]
        note: String,
    },
    /// The case was opened again.
    Reopened {
        /// Why.
        reason: String,
    },
}

/// An event with its place in the log.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Entry {
    /// 1 for the first event of the case, then without gaps.
    pub seq: u32,
    /// When it was recorded.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// What happened.
    pub event: Event,
}
