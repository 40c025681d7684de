//! A case is its log: events appended in order, nothing edited or deleted. What the case is now follows by replay.

mod accept;
mod event;
pub mod file;
mod next;
mod replay;
pub mod report;
mod summary;

pub use crate::text::{LONGEST_NAME, LONGEST_TEXT, LONGEST_TITLE};
pub use accept::{
    MOST_ENTRIES_AT_ONCE, MOST_PICTURES, MOST_SUGGESTIONS, MOST_TELLINGS, MOST_TRIED, Refusal,
    accept, keeps_stops,
};
pub use event::{Aside, Entry, Event, Outcome, may_join};
pub use next::{Next, What, next};
pub use replay::{
    CaseState, Change, Holder, Lock, Picture, Resolution, Status, Suggestion, Timer, active,
    advance, replay,
};
pub use summary::{Analysis, Summary, analyse, answers, follow, summary};
