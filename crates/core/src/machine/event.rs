//! What can happen to a machine.

use super::journal::{Calibration, Change, QuirkNow, is_false};
use crate::knowledge::History;
use crate::lifting::Lifting;
use crate::measures::Reading;
use crate::series::Keep;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// What a machine is: the latest entry of its log that says so counts.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Described {
    /// Its name on the floor.
    pub name: String,
    /// Its kind, as its maker calls it.
    pub model: String,
    /// Profile fields by identifier; what is not known is left out.
    pub profile: BTreeMap<String, String>,
    /// Where it stands, in words.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub place: String,
    /// What else is worth knowing.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}

/// Something noted about a machine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum MachineEvent {
    /// The counter of printing hours was read.
    Counter {
        /// Hours it showed.
        hours: f64,
        /// Kilograms printed so far, where somebody counts them.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        kilograms: Option<f64>,
        /// Prints so far, where the machine counts them.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        prints: Option<f64>,
        /// It is a new counter, or was set back: it began again at nothing since the last reading.
        #[serde(default, skip_serializing_if = "is_false")]
        restarted: bool,
    },
    /// A part was fitted new.
    Fitted {
        /// Part.
        part: String,
        /// Hours the counter showed.
        hours: f64,
        /// The old one was still sound: its life did not end.
        #[serde(default, skip_serializing_if = "is_false")]
        early: bool,
    },
    /// Upkeep was done, or looked at.
    Kept {
        /// Which task.
        task: String,
        /// Something looked wrong.
        #[serde(default, skip_serializing_if = "is_false")]
        wrong: bool,
        /// A word about it.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        note: String,
    },
    /// A setting or the firmware was changed.
    Changed(Change),
    /// A fix was done in a case, or put back there.
    Worked {
        /// The case.
        case: String,
        /// Which fix.
        fix: String,
        /// The value it changed, as it was before.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        before: Option<String>,
        /// And as it is now.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        after: Option<String>,
        /// It was put back, or taken back as never done.
        #[serde(default, skip_serializing_if = "is_false")]
        undone: bool,
    },
    /// A print came out well: the settings as they stand are good.
    Good {
        /// The case that a print proved, where one did.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        case: String,
        /// A word about it.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        note: String,
    },
    /// What became of something that tends to be wrong with its kind.
    Quirk {
        /// Which quirk of the kind.
        quirk: String,
        /// What became of it.
        now: QuirkNow,
        /// A word about it.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        note: String,
    },
    /// Values were found for a nozzle and a material.
    Calibrated(Calibration),
    /// It is brought into service from now on.
    Commissioning {
        /// Where it comes from.
        history: History,
    },
    /// A step of bringing it into service was done.
    Commissioned {
        /// Which.
        step: String,
        /// It is as it should be.
        well: bool,
        /// A word about it.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        note: String,
    },
    /// Looked over before a print.
    LookedOver {
        /// What was looked at and is well.
        seen: Vec<String>,
        /// What was not.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        wrong: Vec<String>,
    },
    /// Something worth keeping.
    Noted {
        /// What.
        text: String,
    },
    /// It is not used any more and stands for parts.
    Retired {
        /// Why.
        reason: String,
    },
    /// Name, kind, build, place or note were set or changed.
    Described {
        /// What it is from now on.
        #[serde(flatten)]
        machine: Described,
        /// Given when the change ends a stop of the build.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        lifts: Option<Lifting>,
    },
    /// Something of it was measured at the bench.
    Benched {
        /// What was read.
        #[serde(flatten)]
        reading: Reading,
        /// What followed: outputs by name, as the bench reckoned them then.
        found: BTreeMap<String, f64>,
    },
    /// A device of it is reached at an address from now on, or no more.
    Reached {
        /// Which: one of [`DEVICES`].
        device: String,
        /// Where; empty for no more.
        address: String,
    },
    /// The file of a print that came out well: what later ones are compared with.
    Filed {
        /// Identifier of the file.
        file: String,
        /// Its name as it came.
        #[serde(default)]
        name: String,
    },
    /// A test piece was read.
    PieceRead {
        /// Which piece.
        piece: String,
        /// Printed at high speed.
        #[serde(default)]
        fast: bool,
        /// The spool in words.
        #[serde(default)]
        spool: String,
        /// What was read of each feature.
        features: BTreeMap<String, FeatureRead>,
    },
    /// A trial series ended: the settings to keep.
    Settled {
        /// Identifier of the series.
        series: String,
        /// What was looked for.
        name: String,
        /// What is kept, at which value.
        keep: Vec<Keep>,
    },
    /// It stands still until further notice.
    OutOfService {
        /// Why.
        reason: String,
    },
    /// It may be used again.
    BackInService,
    /// Something that was done on an earlier day and is told only now, as [`can_be_earlier`] has
    /// it.
    ///
    /// [`can_be_earlier`]: super::can_be_earlier
    Earlier {
        /// When it was done.
        #[serde(with = "time::serde::rfc3339")]
        at: OffsetDateTime,
        /// What.
        what: Box<MachineEvent>,
    },
}

/// A machine's event with its moment.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct MachineEntry {
    /// 1 for the first entry of the machine, then without gaps.
    pub seq: u32,
    /// When it was recorded.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who was at the screen, when somebody had said so.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// What.
    pub event: MachineEvent,
}

impl MachineEntry {
    /// When what it tells was done.
    pub fn done_at(&self) -> OffsetDateTime {
        match &self.event {
            MachineEvent::Earlier { at, .. } => *at,
            _ => self.at,
        }
    }
}

impl MachineEvent {
    /// A reading of the counter.
    pub fn counter(hours: f64) -> Self {
        Self::Counter {
            hours,
            kilograms: None,
            prints: None,
            restarted: false,
        }
    }

    /// A part fitted new, the old one worn.
    pub fn fitted(part: &str, hours: f64) -> Self {
        Self::Fitted {
            part: part.into(),
            hours,
            early: false,
        }
    }

    /// A reading of the bench with what follows from it; nothing when nothing does.
    pub fn benched(reading: Reading) -> Option<Self> {
        let (_, out) = reading.reckon().ok()?;
        let found = out.numbers();
        Some(Self::Benched { reading, found })
    }

    /// What was done, on whichever day.
    pub fn what(&self) -> &MachineEvent {
        match self {
            MachineEvent::Earlier { what, .. } => what,
            now => now,
        }
    }

    /// Hours the counter showed, where the event tells them.
    pub(crate) fn hours(&self) -> Option<f64> {
        match self {
            MachineEvent::Counter { hours, .. } | MachineEvent::Fitted { hours, .. } => {
                Some(*hours)
            }
            _ => None,
        }
    }
}

/// What was read of a feature of a test piece.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct FeatureRead {
    /// `normal`, or the reading as `sign=state`; empty where only a grade was given.
    pub said: String,
    /// 0 to 5, 5 is the kept piece.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grade: Option<u8>,
}
