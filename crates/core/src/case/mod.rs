//! A case is its log: events appended in order, nothing edited or deleted. What the case is now
//! follows by replay.

mod accept;
mod account;
mod apply;
mod beside;
mod event;
pub mod file;
mod improving;
mod join;
mod joining;
mod lost;
mod next;
mod outcome;
mod preferring;
mod proving;
mod replay;
pub mod report;
mod speaks;
mod state;
mod summary;
mod words;

pub use crate::lock::{Holder, Lock};
pub use crate::refusal::{Holding, NotNow, Problem, Refusal, Stopped};
pub use crate::text::{LONGEST_NAME, LONGEST_TEXT, LONGEST_TITLE};
pub use crate::work_id::{NoWork, WorkId};
pub use accept::{
    MOST_ENTRIES_AT_ONCE, MOST_FILES, MOST_MARKS, MOST_OWN_OUTCOMES, MOST_PICTURES,
    MOST_SUGGESTIONS, MOST_TELLINGS, MOST_TRIED, accept, keeps_stops,
};
pub use account::{Account, Weighed, account, told_first};
pub use beside::Beside;
pub use event::{Entry, Event};
pub use improving::Since;
pub use join::taken_over;
pub use joining::may_join;
pub use lost::Lost;
pub use next::{Next, What, next};
pub use outcome::{HeldAnswer, Outcome, PutOff};
pub use preferring::{Elsewhere, prefer};
pub use proving::{LEAST_HOURS, Proof, Proving, Shows, Struck};
pub use replay::{active, advance, replay};
pub use speaks::{Speaks, SpeaksHow};
pub use state::{
    CaseFile, CaseState, Change, Picture, Resolution, Standing, Status, Suggestion, Timer,
};
pub use summary::{Analysis, Summary, analyse, answers, before_last, follow, summary};
pub use words::words;
