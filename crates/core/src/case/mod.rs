//! A case is its log: events appended in order, nothing edited or deleted. What the case is now follows by replay.

mod accept;
mod event;
pub mod file;
mod replay;
pub mod report;
mod summary;

pub use accept::{
    LONGEST_NAME, LONGEST_TEXT, LONGEST_TITLE, MOST_PICTURES, Refusal, accept, keeps_stops,
};
pub use event::{Aside, Entry, Event, Outcome, may_join};
pub use replay::{
    CaseState, Change, Lock, Picture, Resolution, Status, Suggestion, Timer, active, replay,
};
pub use summary::{Analysis, Summary, analyse, answers, follow, summary};
