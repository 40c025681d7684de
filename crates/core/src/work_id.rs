//! A piece of work by name: what a timer, a part or a reason belongs to.

use serde::{Deserialize, Serialize};
use std::fmt;
use std::str::FromStr;

/// A check, a fix, the clearing of a stop, or a proof by printing. Written `check/cold-pull`,
/// `fix/dry-filament`, `stop/burning`, `verify`, in logs as in addresses. Identifiers are kept as
/// text, so that an old log stays readable when the knowledge grows.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub enum WorkId {
    /// A check.
    Check(String),
    /// A fix.
    Fix(String),
    /// What clears a stop.
    Stop(String),
    /// The print that proves a fix.
    Proof,
}

/// A text that names no piece of work.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("`{0}` is no check, fix or stop")]
pub struct NoWork(pub String);

impl WorkId {
    /// The identifier of the check, when it is one.
    pub fn check(&self) -> Option<&str> {
        match self {
            WorkId::Check(id) => Some(id),
            _ => None,
        }
    }

    /// The identifier of the check, fix or stop; nothing for a proof.
    pub fn id(&self) -> Option<&str> {
        match self {
            WorkId::Check(id) | WorkId::Fix(id) | WorkId::Stop(id) => Some(id),
            WorkId::Proof => None,
        }
    }
}

impl FromStr for WorkId {
    type Err = NoWork;

    fn from_str(text: &str) -> Result<Self, NoWork> {
        match text.split_once('/') {
            Some(("check", id)) => Ok(WorkId::Check(id.to_string())),
            Some(("fix", id)) => Ok(WorkId::Fix(id.to_string())),
            Some(("stop", id)) => Ok(WorkId::Stop(id.to_string())),
            None if text == "verify" => Ok(WorkId::Proof),
            _ => Err(NoWork(crate::nearest::short(text))),
        }
    }
}

impl fmt::Display for WorkId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            WorkId::Check(id) => write!(f, "check/{id}"),
            WorkId::Fix(id) => write!(f, "fix/{id}"),
            WorkId::Stop(id) => write!(f, "stop/{id}"),
            WorkId::Proof => f.write_str("verify"),
        }
    }
}

impl TryFrom<String> for WorkId {
    type Error = NoWork;

    fn try_from(text: String) -> Result<Self, NoWork> {
        text.parse()
    }
}

impl From<WorkId> for String {
    fn from(work: WorkId) -> Self {
        work.to_string()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn work_is_written_and_read_the_same_way() {
        for text in [
            "check/cold-pull",
            "fix/dry-filament",
            "stop/burning",
            "verify",
        ] {
            let work: WorkId = text.parse().unwrap();
            assert_eq!(work.to_string(), text);
            let json = serde_json::to_string(&work).unwrap();
            assert_eq!(serde_json::from_str::<WorkId>(&json).unwrap(), work);
        }
        for none in ["", "verify/x", "cold-pull", "part/x"] {
            assert!(none.parse::<WorkId>().is_err(), "{none}");
        }
    }
}
