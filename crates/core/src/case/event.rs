//! What can happen in a case. Identifiers are kept as text, so that an old log stays readable when
//! the knowledge grows.

use super::beside::Beside;
use super::lost::Lost;
use super::outcome::{HeldAnswer, Outcome, PutOff};
use super::proving::Struck;
use super::speaks::Speaks;
use crate::evidence::Confidence;
use crate::knowledge::TryResult;
use crate::measures::Reading;
use crate::picture::{Judgement, Mark};
use crate::series::Word;
use crate::settings::Conversion;
use crate::work_id::WorkId;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// One thing that happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Event {
    /// The case was opened on a machine as it then was.
    Opened {
        /// What the trouble is called.
        title: String,
        /// The machine's name.
        machine_name: String,
        /// Profile fields by identifier.
        machine: BTreeMap<String, String>,
        /// Material family.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        material: Option<String>,
        /// The spool in words: colour, maker.
        #[serde(default)]
        spool: String,
    },
    /// A number became known or was corrected.
    Measured {
        /// Identifier with unit.
        number: String,
        /// Its value.
        value: f64,
        /// What was converted when it was read.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        note: Option<Conversion>,
    },
    /// A finding was answered.
    Observed {
        /// Finding.
        finding: String,
        /// State.
        state: String,
        /// How surely.
        #[serde(default)]
        confidence: Confidence,
        /// The program asked it: what is told unasked says less of how often it shows.
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        asked: bool,
    },
    /// What happened, in own words. Says nothing by itself: findings are proposed from it.
    Told {
        /// The words.
        text: String,
    },
    /// A question was passed over, or a proposal waved away: not asked again, no evidence.
    Passed {
        /// Finding.
        finding: String,
    },
    /// Title, material, spool or what is known of the machine were corrected.
    Described {
        /// What the trouble is called.
        title: String,
        /// Material family.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        material: Option<String>,
        /// The spool in words.
        #[serde(default)]
        spool: String,
        /// Profile fields that became known.
        #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
        machine: BTreeMap<String, String>,
    },
    /// A picture was added; its bytes are kept beside the log.
    Pictured {
        /// Identifier of the bytes.
        picture: String,
        /// Name of the file as it came.
        #[serde(default)]
        name: String,
        /// Its pixels and how good it is.
        judgement: Judgement,
    },
    /// The marks on a picture were set; they replace those it had.
    Marked {
        /// Identifier of the picture.
        picture: String,
        /// All its marks.
        marks: Vec<Mark>,
    },
    /// The file that made the print was added. Says nothing by itself: what it tells is offered.
    Filed {
        /// Identifier of the file.
        file: String,
        /// Its name as it came.
        name: String,
    },
    /// Somebody elsewhere suggested something. Hearsay: no evidence, taken up or not.
    Suggested {
        /// Who.
        by: String,
        /// A suspect to think of.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        cause: Option<String>,
        /// A check to do.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        check: Option<String>,
        /// In words.
        #[serde(default)]
        text: String,
    },
    /// Somebody here answered a suggestion.
    Weighed {
        /// Sequence number of the suggestion.
        suggestion: u32,
        /// Taken up, or laid aside.
        taken: bool,
    },
    /// A check was done.
    Checked {
        /// Check.
        check: String,
        /// Outcome.
        outcome: String,
        /// How surely.
        #[serde(default)]
        confidence: Confidence,
        /// Minutes it took.
        minutes: f64,
    },
    /// A check was done whose outcome is a number: as read, each in its input's own unit.
    Gauged {
        /// Check.
        check: String,
        /// Numbers by input.
        readings: BTreeMap<String, Vec<f64>>,
        /// Somebody said that it is so, though it looked like a slip.
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        confirmed: bool,
        /// What was converted when they were read.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        note: Option<Conversion>,
        /// Minutes it took.
        minutes: f64,
    },
    /// Something was measured at the bench.
    Benched {
        /// What was read.
        #[serde(flatten)]
        reading: Reading,
        /// Minutes it took.
        minutes: f64,
    },
    /// A wait was started in the middle of a step; it ends whether or not somebody looks.
    TimerSet {
        /// The work it belongs to.
        work: WorkId,
        /// Which step of it, from 1.
        step: u32,
        /// How long, in minutes.
        minutes: f64,
    },
    /// A part came off that must come back, or it came back.
    PartKept {
        /// The work it came off in.
        work: WorkId,
        /// The part.
        part: String,
        /// Whether it is back in its place.
        #[serde(default)]
        back: bool,
    },
    /// A check or fix is not done now: put off, or begun and not brought to an answer. Not advised
    /// until it is taken up again.
    SetAside {
        /// The check or fix.
        step: WorkId,
        /// Why.
        why: PutOff,
        /// Minutes it took.
        #[serde(default)]
        minutes: f64,
    },
    /// A step set aside may be advised again.
    TakenUp {
        /// The check or fix.
        step: WorkId,
    },
    /// A fix had been tried before the case was opened.
    Tried {
        /// Fix.
        fix: String,
        /// What happened.
        result: TryResult,
    },
    /// A fix was applied; the print that proves it is still to come.
    Fixed {
        /// Fix.
        fix: String,
        /// Minutes it took.
        minutes: f64,
        /// Money it cost.
        money: f64,
        /// The value it changed, as it was before.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        before: Option<String>,
        /// And as it is now.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        after: Option<String>,
        /// It was done before the last fix had its print: the next one tries both.
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        together: bool,
    },
    /// A value that a fix had changed was put back to what it was before.
    PutBack {
        /// Sequence number of the fix.
        fixed: u32,
    },
    /// The case is left for another day.
    LeftForLater {
        /// A word for whoever goes on.
        #[serde(default)]
        note: String,
    },
    /// The print after a fix.
    Printed {
        /// What became of the fault.
        result: TryResult,
        /// Minutes it took, waiting included.
        minutes: f64,
        /// Grams used.
        grams: f64,
        /// Hours it printed.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        hours: Option<f64>,
    },
    /// How often the fault struck, and when in a print: what a proof hangs on.
    Struck(Struck),
    /// A fix was proven by what was seen beside clean prints.
    Beside {
        /// What was seen.
        how: Beside,
    },
    /// What the failed print cost.
    Lost(Lost),
    /// A part was found sound without a listed check.
    Cleared {
        /// Cause.
        cause: String,
        /// How surely.
        #[serde(default)]
        confidence: Confidence,
    },
    /// A check of the workshop's own was done, in its own words.
    OwnChecked {
        /// What was looked at or tried.
        name: String,
        /// What can come of it.
        outcomes: Vec<String>,
        /// What came of it.
        outcome: String,
        /// Whom that speaks of, and how; nothing where nobody can say.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        speaks: Option<Speaks>,
        /// Minutes it took.
        minutes: f64,
    },
    /// A fix of the workshop's own was applied and a print compared.
    OwnFixed {
        /// What was done.
        name: String,
        /// The suspect it was meant for, where somebody said so.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        aimed_at: Option<String>,
        /// What became of the fault.
        result: TryResult,
        /// Minutes it took, waiting included.
        minutes: f64,
        /// Money it cost.
        money: f64,
        /// Grams used.
        grams: f64,
    },
    /// A suspect of the workshop's own was named: somebody who is not listed.
    OwnSuspected {
        /// The suspect, in the workshop's words.
        name: String,
    },
    /// What a trial series says of the causes that its differences name. It replaces what the same
    /// series said before.
    Trialled(Word),
    /// The same trouble had been opened twice: what the other case knew was added here.
    Joined {
        /// The other case's identifier.
        case: String,
        /// Its running number.
        number: i64,
    },
    /// Something worth keeping.
    Noted {
        /// Text.
        text: String,
    },
    /// Signs and pattern were taken over from an earlier case that looked the same.
    SameAs {
        /// That case's identifier.
        case: String,
        /// Its running number.
        number: i64,
    },
    /// An earlier event was taken back.
    Retracted {
        /// Its sequence number.
        seq: u32,
    },
    /// A named person cleared a stop.
    StopCleared {
        /// Stop.
        stop: String,
        /// Who.
        by: String,
        /// Why the machine is safe again.
        reason: String,
        /// Steps of the stop that were seen to, from 1; older logs have none.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        seen: Vec<u32>,
    },
    /// The case belongs to another machine. Its stops go with it.
    Moved {
        /// Identifier of the machine it belongs to.
        machine: String,
        /// That machine's name.
        machine_name: String,
        /// That machine's profile fields by identifier: they replace those of the wrong one.
        profile: BTreeMap<String, String>,
        /// Who says so, and why.
        by: String,
        /// Why.
        reason: String,
    },
    /// The case was closed.
    Resolved {
        /// How it ended.
        outcome: Outcome,
        /// The cause it was.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        cause: Option<String>,
        /// The fix that did it.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        fix: Option<String>,
        /// A word for the next person.
        #[serde(default)]
        note: String,
    },
    /// The case was opened again.
    Reopened {
        /// Why.
        reason: String,
        /// Days from the last clean print to the return, where somebody knows.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        after_days: Option<f64>,
    },
    /// Asked whether the fix of a closed case held, somebody answered.
    AskedAgain {
        /// What they said.
        answer: HeldAnswer,
    },
    /// The case is not learned from, or is again.
    LeftOut {
        /// Why not; none when it counts again.
        reason: Option<String>,
    },
}

/// An event with its place in the log.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Entry {
    /// 1 for the first event of the case, then without gaps.
    pub seq: u32,
    /// When it was recorded.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who was at the screen, when somebody had said so.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// What happened.
    pub event: Event,
}
