//! How entries meet what others wrote since their sender looked.

use crate::stamp::Stamp;
use suspect_core::case::{self, Entry, Event};

/// How events meet what others wrote since their sender looked.
pub(crate) enum Meets {
    /// They stand there already.
    Repeated,
    /// They say something about the same.
    Conflict,
    /// They stand beside it.
    Joins,
}

/// How some events meet what was written `since`; `ahead` where the sender knew of more than there
/// is.
pub(crate) fn meets(since: &[Entry], ahead: bool, events: &[Event], stamp: &Stamp) -> Meets {
    let moved_on = ahead || !since.is_empty();
    match (moved_on, since.is_empty()) {
        (true, _) if stamp.touch.is_none() && repeats(since, events) => Meets::Repeated,
        _ if ahead => Meets::Conflict,
        (_, true) => Meets::Joins,
        (_, false) if case::may_join(since, events) => Meets::Joins,
        (_, false) => Meets::Conflict,
    }
}

/// Without an identity only the log itself tells a repetition: the same events, directly behind
/// what the writer knew, and nothing since.
pub(crate) fn repeats(since: &[Entry], events: &[Event]) -> bool {
    since.iter().map(|e| &e.event).eq(events)
}
