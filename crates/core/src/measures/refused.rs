//! Why nothing follows from what was given.

/// Readings that make no sense, in one line: which input, which value, what would do.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{0}")]
pub struct Refused(pub String);

/// A refusal in words.
pub fn refuse<T>(words: impl Into<String>) -> Result<T, Refused> {
    Err(Refused(words.into()))
}
