//! May a log that comes from elsewhere be kept? It was accepted once, perhaps by an earlier program
//! and knowledge: what they knew and this one does not is no fault. What could never be is.

use crate::case::{CaseState, Entry, Event, Problem, Refusal, accept};
use crate::knowledge::Knowledge;
use crate::text::{LONGEST_TEXT, TextProblem};
use time::{Duration, OffsetDateTime};

/// Entries of one case at most.
pub const MOST_ENTRIES: usize = 20_000;
/// Days an entry may lie ahead of this computer's clock: clocks differ, and time zones.
pub const LATEST_DAYS: i64 = 2;
/// Days an entry may lie before the one it follows: clocks were set, computers differ.
const BACK_DAYS: i64 = 1;
/// Characters of one text at most: the longest there ever was is far below.
const LONGEST: usize = 4 * LONGEST_TEXT;

/// What a log could never be.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Fault {
    /// It holds nothing.
    #[error("the log is empty")]
    Empty,
    /// More entries than a case can have.
    #[error("the log has {0} entries: at most {MOST_ENTRIES} are read")]
    TooMany(usize),
    /// Numbers have a gap, or come twice.
    #[error("entry {found} stands where entry {expected} should")]
    Gap {
        /// The number there should be.
        expected: u32,
        /// The number there is.
        found: u32,
    },
    /// The first entry does not open the case, or a later one does.
    #[error("entry {0}: a case is opened by its first entry and by no other")]
    Opening(u32),
    /// An entry is older than the one before it.
    #[error("entry {0} is over a day older than an entry before it")]
    BackInTime(u32),
    /// An entry is older than any machine.
    #[error("entry {0} lies before 1970")]
    Ancient(u32),
    /// An entry lies in the future.
    #[error("entry {0} lies in the future")]
    Future(u32),
    /// An entry holds what could never be.
    #[error("entry {seq}, {field}: {problem}")]
    Value {
        /// Which entry.
        seq: u32,
        /// Which part of it.
        field: String,
        /// What is wrong with it.
        problem: String,
    },
}

/// Checks a log that comes from elsewhere.
///
/// # Errors
/// The first thing that could never be.
pub fn check(knowledge: &Knowledge, log: &[Entry], now: OffsetDateTime) -> Result<(), Fault> {
    let Some(first) = log.first() else {
        return Err(Fault::Empty);
    };
    if log.len() > MOST_ENTRIES {
        return Err(Fault::TooMany(log.len()));
    }
    let mut before = first.at;
    for (expected, entry) in (1..).zip(log) {
        let seq = entry.seq;
        if seq != expected {
            return Err(Fault::Gap {
                expected,
                found: seq,
            });
        }
        if matches!(entry.event, Event::Opened { .. }) != (seq == 1) {
            return Err(Fault::Opening(seq));
        }
        if entry.at + Duration::days(BACK_DAYS) < before {
            return Err(Fault::BackInTime(seq));
        }
        if entry.at < OffsetDateTime::UNIX_EPOCH {
            return Err(Fault::Ancient(seq));
        }
        if entry.at > now + Duration::days(LATEST_DAYS) {
            return Err(Fault::Future(seq));
        }
        before = before.max(entry.at);
        values(knowledge, entry)?;
    }
    Ok(())
}

/// Whether every value of an entry could be: asked of a case to which anything may happen.
fn values(knowledge: &Knowledge, entry: &Entry) -> Result<(), Fault> {
    let fault = |field: String, problem: String| Fault::Value {
        seq: entry.seq,
        field,
        problem,
    };
    let whole = serde_json::to_value(entry).unwrap_or_default();
    if let Some(problem) = texts(&whole) {
        return Err(fault("text".into(), problem.to_string()));
    }
    let mut open = CaseState::default();
    open.opened_at = (entry.seq > 1).then_some(entry.at);
    match accept(knowledge, &open, &entry.event) {
        Err(Refusal::Invalid { field, problem }) if impossible(&problem) => {
            Err(fault(field, problem.to_string()))
        }
        _ => Ok(()),
    }
}

/// Whether a problem is one of any program, and not of what this one knows.
fn impossible(problem: &Problem) -> bool {
    matches!(
        problem,
        Problem::Amount { .. }
            | Problem::Strikes { .. }
            | Problem::Wait { .. }
            | Problem::Number(_)
    )
}

/// What is wrong with any text in an entry.
fn texts(value: &serde_json::Value) -> Option<TextProblem> {
    match value {
        serde_json::Value::String(text) if text.contains('\0') => Some(TextProblem::Null),
        serde_json::Value::String(text) => {
            let length = text.chars().count();
            (length > LONGEST).then_some(TextProblem::TooLong {
                length,
                most: LONGEST,
            })
        }
        serde_json::Value::Array(all) => all.iter().find_map(texts),
        serde_json::Value::Object(all) => all.values().find_map(texts),
        _ => None,
    }
}
