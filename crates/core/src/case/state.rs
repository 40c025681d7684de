//! What a case is now.

use super::improving::Since;
use super::lost::Lost;
use super::outcome::{HeldAnswer, Outcome, PutOff};
use super::proving::{Proof, Struck};
use crate::evidence::Facts;
use crate::identified::identified;
use crate::knowledge::{CheckId, FindingId, FixId, TryResult};
use crate::lock::Lock;
use crate::measures::Told;
use crate::picture::{Judgement, Mark};
use crate::planning::Present;
use crate::safety::Fact;
use crate::settings::Conversion;
use crate::work_id::WorkId;
use std::collections::{BTreeMap, BTreeSet};
use time::OffsetDateTime;

/// How a case ended, with what it was.
#[derive(Debug, Clone, PartialEq)]
pub struct Resolution {
    /// How it ended.
    pub outcome: Outcome,
    /// The cause it was, by identifier.
    pub cause: Option<String>,
    /// The fix that did it, by identifier.
    pub fix: Option<String>,
    /// A word for the next person.
    pub note: String,
    /// When.
    pub at: OffsetDateTime,
    /// What was answered when the case asked again, and when.
    pub asked: Vec<(OffsetDateTime, HeldAnswer)>,
}

/// Where a case stands.
#[derive(Debug, Clone, PartialEq, Default)]
pub enum Status {
    /// Looking for the cause.
    #[default]
    Open,
    /// A fix was applied; its proof by printing is due.
    Verifying(FixId),
    /// The proof was good; the case can be closed.
    Cured(Option<FixId>),
    /// Closed.
    Resolved(Resolution),
}

identified! {
    /// Where a case stands, for lists.
    pub enum Standing {
        /// Looking for the cause.
        Open = "open",
        /// A fix was applied; its proof is due.
        Verifying = "verifying",
        /// The proof was good.
        Cured = "cured",
        /// Closed.
        Resolved = "resolved",
    }
}

impl Status {
    /// The same without what belongs to it.
    pub fn standing(&self) -> Standing {
        match self {
            Status::Open => Standing::Open,
            Status::Verifying(_) => Standing::Verifying,
            Status::Cured(_) => Standing::Cured,
            Status::Resolved(_) => Standing::Resolved,
        }
    }
}

/// A picture of the case.
#[derive(Debug, Clone, PartialEq)]
pub struct Picture {
    /// Identifier of its bytes.
    pub id: String,
    /// Name of the file as it came.
    pub name: String,
    /// How good it is.
    pub judgement: Judgement,
    /// Marks on it.
    pub marks: Vec<Mark>,
    /// Sequence number of the event that brought it.
    pub seq: u32,
}

/// Something somebody suggested: hearsay until somebody here takes it up or lays it aside.
#[derive(Debug, Clone, PartialEq)]
pub struct Suggestion {
    /// Sequence number of the event that brought it.
    pub seq: u32,
    /// Who.
    pub by: String,
    /// A suspect to think of, by identifier.
    pub cause: Option<String>,
    /// A check to do, by identifier.
    pub check: Option<String>,
    /// In words.
    pub text: String,
    /// `None` while it is hearsay; then whether it was taken up.
    pub taken: Option<bool>,
}

/// A wait that was started.
#[derive(Debug, Clone, PartialEq)]
pub struct Timer {
    /// The work it belongs to.
    pub work: WorkId,
    /// Which step of it, from 1.
    pub step: u32,
    /// When it was started.
    pub from: OffsetDateTime,
    /// When it ends.
    pub until: OffsetDateTime,
}

/// A value that a fix changed.
#[derive(Debug, Clone, PartialEq)]
pub struct Change {
    /// Sequence number of the fix.
    pub seq: u32,
    /// The fix.
    pub fix: FixId,
    /// The value before.
    pub before: String,
    /// The value since, when it was told.
    pub after: Option<String>,
    /// Whether it was put back since.
    pub put_back: bool,
}

/// A print file of a case.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct CaseFile {
    /// Identifier of its text and figures.
    pub id: String,
    /// Its name as it came.
    pub name: String,
    /// Sequence number of the entry that added it.
    pub seq: u32,
}

/// A case as it is now.
#[derive(Debug, Clone, Default)]
pub struct CaseState {
    /// What the trouble is called.
    pub title: String,
    /// The machine's name when the case was opened.
    pub machine_name: String,
    /// The spool in words.
    pub spool: String,
    /// What is known.
    pub facts: Facts,
    /// The fix that held for a while before the trouble came back.
    pub undone: Option<FixId>,
    /// Sequence number of the event behind each finding's value.
    pub source: BTreeMap<FindingId, u32>,
    /// Earlier values a later answer replaced: finding, identifier of the old state.
    pub replaced: Vec<(FindingId, String)>,
    /// What happened, in people's own words, each as it was told.
    pub told: Vec<String>,
    /// Findings passed over or answered with "I cannot tell": not asked again, no evidence.
    pub passed: BTreeSet<FindingId>,
    /// Notes on numbers that were converted when they were read, by number.
    pub converted: BTreeMap<String, Conversion>,
    /// Pictures, in the order they came.
    pub pictures: Vec<Picture>,
    /// Print files, in the order they came.
    pub files: Vec<CaseFile>,
    /// What others suggested, in the order it came.
    pub suggestions: Vec<Suggestion>,
    /// The check somebody here took up from a suggestion, until it is done or put off.
    pub wanted: Option<CheckId>,
    /// Suspects the workshop named in its own words, the latest last.
    pub own_suspects: Vec<String>,
    /// The fix of the workshop's own that cured, in its own words.
    pub own_fix: Option<String>,
    /// Where the case stands.
    pub status: Status,
    /// How often the fault struck, and when in a print, once somebody said so.
    pub strikes: Option<Struck>,
    /// What the failed print cost, once somebody said so.
    pub lost: Option<Lost>,
    /// The proof of the last fix.
    pub proof: Option<Proof>,
    /// Prints since the last fix.
    pub since: Option<Since>,
    /// Why the case is not learned from.
    pub left_out: Option<String>,
    /// Minutes spent.
    pub minutes: f64,
    /// Grams of filament used.
    pub grams: f64,
    /// Money spent.
    pub money: f64,
    /// Stops that hold, by place in the knowledge.
    pub stops: Vec<usize>,
    /// What else locks the machine. Not of this log: whoever knows machine and other cases puts it
    /// in.
    pub locked_by: Option<Lock>,
    /// Waits that were started in work not yet recorded.
    pub timers: Vec<Timer>,
    /// Parts that came off and are not back: the work, the part.
    pub parts_out: Vec<(WorkId, String)>,
    /// Checks and fixes not done now, with the reason.
    pub set_aside: BTreeMap<WorkId, PutOff>,
    /// Outcomes read as numbers, by finding: what was read.
    pub readings: BTreeMap<FindingId, Told>,
    /// Values that fixes changed, in their order.
    pub changes: Vec<Change>,
    /// Left for another day, with a word for whoever goes on.
    pub resting: Option<String>,
    /// State the machine was left in by the last step.
    pub present: Present,
    /// When the case was opened.
    pub opened_at: Option<OffsetDateTime>,
    /// When anything last happened.
    pub updated_at: Option<OffsetDateTime>,
    /// Sequence number of the last event.
    pub last_seq: u32,
    /// Since when each stop that holds does: sequence number and moment of the entry that raised
    /// it.
    pub stops_since: BTreeMap<usize, (u32, OffsetDateTime)>,
    /// Entries that were taken back and do not count.
    pub taken_back: BTreeSet<u32>,
    /// Identifiers the present knowledge does not know; kept in the log, counted for nothing.
    pub unknown: Vec<String>,
    /// Sequence number of the entry that last stated each number and field of the profile.
    pub(super) stated: BTreeMap<Fact, u32>,
    /// Sequence number of the latest lifting of each stop.
    pub(super) lifted: BTreeMap<usize, u32>,
}

impl CaseState {
    /// Fixes in a row, up to now, that changed nothing or made it worse.
    pub fn in_vain(&self) -> usize {
        self.facts
            .tried
            .iter()
            .rev()
            .take_while(|t| matches!(t.result, TryResult::Same | TryResult::Worse))
            .count()
    }

    /// Stops that hold on the machine, this case's own first: while there is one nothing heats or
    /// moves.
    pub fn held(&self) -> Vec<usize> {
        self.stops
            .iter()
            .copied()
            .chain(self.locked_by.iter().map(|l| l.stop))
            .collect()
    }

    /// Whether the case is closed.
    pub fn resolved(&self) -> bool {
        matches!(self.status, Status::Resolved(_))
    }
}
