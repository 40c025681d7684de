//! Lines of a workshop's log.

use crate::case::Entry;
use crate::machine::MachineEntry;
use crate::planning::Workshop;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// Name and version of the format.
pub const LOG_FORMAT: &str = "usual-suspect-log/1";

/// One line: the first is a head, then machines, then settings, then cases.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Line {
    /// What the file is.
    Head(HeadLine),
    /// A machine with its log.
    Machine(MachineLine),
    /// Settings as they were set once.
    Workshop(WorkshopLine),
    /// A case with its log.
    Case(CaseLine),
}

/// What the file is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct HeadLine {
    /// [`LOG_FORMAT`].
    pub format: String,
    /// When it was written.
    #[serde(with = "time::serde::rfc3339")]
    pub written: OffsetDateTime,
    /// Version of the program that wrote it.
    #[serde(default)]
    pub program: String,
}

/// A machine with its log.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct MachineLine {
    /// Identifier.
    pub id: String,
    /// Its name on the floor.
    pub name: String,
    /// Its kind.
    #[serde(default)]
    pub model: String,
    /// Profile fields by identifier.
    #[serde(default)]
    pub profile: BTreeMap<String, String>,
    /// Place in the order of the floor.
    #[serde(default)]
    pub position: i32,
    /// Where it stands.
    #[serde(default)]
    pub place: String,
    /// What else is worth knowing.
    #[serde(default)]
    pub note: String,
    /// Why it stands still.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub out_of_service: Option<String>,
    /// What was noted about it.
    #[serde(default)]
    pub log: Vec<MachineEntry>,
}

/// Settings as they were set once.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct WorkshopLine {
    /// 1 for the first, then without gaps.
    pub seq: u32,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// All of them.
    pub settings: Workshop,
}

/// A case with its log.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct CaseLine {
    /// Identifier.
    pub id: String,
    /// Running number of the workshop it comes from.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub number: Option<i64>,
    /// Identifier of its machine.
    pub machine: String,
    /// Everything that happened.
    pub log: Vec<Entry>,
}

/// Why a line cannot be read.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum LineError {
    /// It is no line of a log.
    #[error("{path}: {problem}")]
    Unread {
        /// Where in the line.
        path: String,
        /// What was found.
        problem: String,
    },
    /// It is of another format, or of another version of it.
    #[error("`{0}` is not a format known here: expected `{LOG_FORMAT}`")]
    Format(String),
}

/// Reads a line.
///
/// # Errors
/// What is wrong, and where.
pub fn read(text: &str) -> Result<Line, LineError> {
    let mut json = serde_json::Deserializer::from_str(text);
    let line: Result<Line, _> = serde_path_to_error::deserialize(&mut json);
    match line {
        Ok(Line::Head(head)) if head.format != LOG_FORMAT => {
            Err(LineError::Format(crate::nearest::short(&head.format)))
        }
        Ok(line) => Ok(line),
        Err(e) => {
            let path = e.path().to_string();
            let plain = |c: char| if c.is_control() { ' ' } else { c };
            let problem = e.into_inner().to_string();
            Err(LineError::Unread {
                path: if path == "." { "line".into() } else { path },
                problem: problem.chars().map(plain).take(300).collect(),
            })
        }
    }
}
