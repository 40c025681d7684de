//! May this event happen now? Asked before anything is appended, so that a log only holds what makes sense.

use super::event::{Event, Outcome};
use super::replay::{CaseState, Holder, Lock, Status};
use crate::evidence;
use crate::knowledge::{Knowledge, Section, Work};
use crate::machine::lifting_holds;
use crate::nearest::{hint, short};
use crate::picture::{Mark, MarkKind};
use crate::settings;
use crate::text::{self, LONGEST_NAME, LONGEST_TEXT, LONGEST_TITLE};
use std::collections::BTreeMap;

/// Most pictures a case holds.
pub const MOST_PICTURES: usize = 8;
/// Most tellings a case holds: each is read for signs.
pub const MOST_TELLINGS: usize = 100;
/// Most tries of fixes a case holds.
pub const MOST_TRIED: usize = 100;
/// Most suggestions of a case that may wait for an answer.
pub const MOST_SUGGESTIONS: usize = 30;
/// Most entries one form may cause: far above the longest list of questions.
pub const MOST_ENTRIES_AT_ONCE: usize = 250;
/// Longest wait, in minutes: two days of drying.
const LONGEST_WAIT: f64 = 2_880.0;
/// Most marks on one picture.
pub const MOST_MARKS: usize = 24;

/// Why an event was refused.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Refusal {
    /// A value makes no sense.
    #[error("{message}")]
    Invalid {
        /// The part of the event: `title`, `minutes`, a finding's identifier.
        field: String,
        /// What is wrong and what would do.
        message: String,
    },
    /// The case is not in a state for it.
    #[error("{0}")]
    NotNow(String),
    /// A stop holds.
    #[error("{message}")]
    Stopped {
        /// The stop's identifier.
        stop: String,
        /// What must be done first.
        message: String,
    },
    /// Something else locks the machine.
    #[error("{message}")]
    Locked {
        /// What holds it.
        lock: Lock,
        /// What must be done first.
        message: String,
    },
}

fn invalid<T>(field: &str, message: impl Into<String>) -> Result<T, Refusal> {
    Err(Refusal::Invalid {
        field: field.to_string(),
        message: message.into(),
    })
}

/// Checks an event against the case as it is.
///
/// # Errors
/// A [`Refusal`] whose text can be shown as it is.
pub fn accept(knowledge: &Knowledge, case: &CaseState, event: &Event) -> Result<(), Refusal> {
    if case.opened_at.is_none() != matches!(event, Event::Opened { .. }) {
        return Err(Refusal::NotNow(
            "a case is opened once, before anything else happens in it".into(),
        ));
    }
    let after_closing = matches!(
        event,
        Event::Reopened { .. }
            | Event::Noted { .. }
            | Event::StopCleared { .. }
            | Event::Retracted { .. }
            | Event::PartKept { .. }
    );
    if case.resolved() && !after_closing {
        return Err(Refusal::NotNow(
            "this case is closed: reopen it first".into(),
        ));
    }
    match event {
        Event::Opened {
            title,
            machine_name,
            machine,
            material,
            spool,
        } => {
            required("title", title, LONGEST_TITLE)?;
            required("machine", machine_name, LONGEST_NAME)?;
            optional("spool", spool, LONGEST_NAME)?;
            known_context(machine, material.as_deref())
        }
        Event::Measured {
            number,
            value,
            note,
        } => {
            optional("note", note.as_deref().unwrap_or(""), LONGEST_TEXT)?;
            let at = settings::position(number).or_else(|e| invalid(number, e))?;
            settings::NUMBERS[at]
                .accept(*value)
                .map(|_| ())
                .or_else(|e| invalid(number, e))
        }
        Event::Told { text: told } => {
            room(
                "told",
                case.told.len(),
                MOST_TELLINGS,
                "tellings",
                "put the rest into a note",
            )?;
            required("told", told, LONGEST_TEXT)
        }
        Event::Passed { finding } => asked(knowledge, finding, "unknown"),
        Event::Described {
            title,
            material,
            spool,
            machine,
        } => {
            required("title", title, LONGEST_TITLE)?;
            optional("spool", spool, LONGEST_NAME)?;
            known_context(machine, material.as_deref())
        }
        Event::Pictured { name, .. } => {
            optional("name", name, LONGEST_TITLE)?;
            room(
                "picture",
                case.pictures.len(),
                MOST_PICTURES,
                "pictures",
                "take one back first",
            )?;
            Ok(())
        }
        Event::Marked { picture, marks } => marked(case, picture, marks),
        Event::Suggested {
            by,
            cause,
            check,
            text: words,
        } => {
            required("by", by, LONGEST_NAME)?;
            optional("text", words, LONGEST_TEXT)?;
            let waiting = case
                .suggestions
                .iter()
                .filter(|s| s.taken.is_none())
                .count();
            room(
                "text",
                waiting,
                MOST_SUGGESTIONS,
                "suggestions that wait for an answer",
                "\
                 somebody at the machine answers some of them first",
            )?;
            if cause.is_none() && check.is_none() && words.trim().is_empty() {
                return invalid(
                    "text",
                    "a suggestion names a suspect, a check, or says something",
                );
            }
            cause
                .as_ref()
                .map_or(Ok(()), |c| known_cause(knowledge, "cause", c))?;
            match check {
                Some(check) if knowledge.check_id(check).is_none() => unknown(
                    "check",
                    check,
                    knowledge
                        .checks
                        .iter()
                        .map(|c| knowledge.finding(c.finding).id.as_str()),
                ),
                _ => Ok(()),
            }
        }
        Event::Weighed { suggestion, .. } => {
            match case.suggestions.iter().find(|s| s.seq == *suggestion) {
                Some(there) if there.taken.is_none() => Ok(()),
                Some(_) => Err(Refusal::NotNow(
                    "this suggestion was answered before".into(),
                )),
                None => invalid("suggestion", format!("entry {suggestion} is no suggestion")),
            }
        }
        Event::Observed { finding, state, .. } => asked(knowledge, finding, state),
        Event::Checked {
            check,
            outcome,
            minutes,
            ..
        } => {
            amount("minutes", *minutes)?;
            let Some(id) = knowledge.check_id(check) else {
                return unknown(
                    "check",
                    check,
                    knowledge
                        .checks
                        .iter()
                        .map(|c| knowledge.finding(c.finding).id.as_str()),
                );
            };
            check_allowed(knowledge, case, id)?;
            observed(knowledge, check, outcome)
        }
        Event::Gauged {
            check,
            readings,
            note,
            minutes,
        } => {
            amount("minutes", *minutes)?;
            optional("note", note.as_deref().unwrap_or(""), LONGEST_TEXT)?;
            let Some((id, gauge)) = knowledge.check_id(check).zip(crate::measures::gauge(check))
            else {
                return unknown(
                    "check",
                    check,
                    crate::measures::GAUGES.iter().map(|g| g.check),
                );
            };
            check_allowed(knowledge, case, id)?;
            gauge
                .accept(readings)
                .or_else(|(field, message)| invalid(&field, message))
        }
        Event::TimerSet {
            work,
            step,
            minutes,
        } => timer(knowledge, case, work, *step, *minutes),
        Event::PartKept { work, part, back } => {
            let known = known_work(knowledge, work)?;
            required("part", part, LONGEST_NAME)?;
            let kept = known
                .iter()
                .flat_map(|w| &w.steps)
                .any(|s| s.keep.contains(part));
            let out = case.parts_out.contains(&(work.clone(), part.clone()));
            if *back && !out {
                return Err(Refusal::NotNow(format!(
                    "{part}: noted as back in its place before"
                )));
            }
            match kept || out {
                true => Ok(()),
                false => invalid(
                    "part",
                    format!("`{}` is no part that comes off there", short(part)),
                ),
            }
        }
        Event::SetAside { step, minutes, .. } => {
            amount("minutes", *minutes)?;
            known_work(knowledge, step)?;
            match step.starts_with("check/") || step.starts_with("fix/") {
                true => Ok(()),
                false => invalid("step", "only a check or a fix can be set aside"),
            }
        }
        Event::TakenUp { step } => match case.set_aside.contains_key(step) {
            true => Ok(()),
            false => Err(Refusal::NotNow("this step is not set aside".into())),
        },
        Event::PutBack { fixed } => match case.changes.iter().find(|c| c.seq == *fixed) {
            Some(change) if !change.put_back => Ok(()),
            Some(_) => Err(Refusal::NotNow("this value was put back before".into())),
            None => invalid(
                "fixed",
                format!("entry {fixed} changed no value that was noted"),
            ),
        },
        Event::LeftForLater { note } => optional("note", note, LONGEST_TEXT),
        Event::Tried { fix, .. } => {
            room(
                "tried",
                case.facts.tried.len(),
                MOST_TRIED,
                "tries",
                "put the rest into a note",
            )?;
            known_fix(knowledge, fix)
        }
        Event::Fixed {
            fix,
            minutes,
            money,
            before,
            after,
        } => {
            known_fix(knowledge, fix)?;
            amount("minutes", *minutes)?;
            amount("money", *money)?;
            optional("before", before.as_deref().unwrap_or(""), LONGEST_TITLE)?;
            optional("after", after.as_deref().unwrap_or(""), LONGEST_TITLE)?;
            free(knowledge, case)?;
            match case.status {
                Status::Verifying(open) => Err(Refusal::NotNow(format!(
                    "one change at a time: print and judge \"{}\" first",
                    knowledge.fix(open).work.name
                ))),
                _ => Ok(()),
            }
        }
        Event::Printed { minutes, grams, .. } => {
            amount("minutes", *minutes)?;
            amount("grams", *grams)?;
            free(knowledge, case)?;
            if let Some((_, part)) = case.parts_out.first() {
                return Err(Refusal::NotNow(format!(
                    "{part}: noted as taken off and not as back. Put it back and tick it before anything prints"
                )));
            }
            match case.status {
                Status::Verifying(_) => Ok(()),
                _ => Err(Refusal::NotNow("no fix is waiting for its proof".into())),
            }
        }
        Event::Cleared { cause, .. } => known_cause(knowledge, "cause", cause),
        Event::Noted { text: note } => required("note", note, LONGEST_TEXT),
        Event::Retracted { seq } => {
            if *seq <= 1 || *seq > case.last_seq {
                return invalid(
                    "seq",
                    format!("there is no entry {seq} that can be taken back"),
                );
            }
            if case.taken_back.contains(seq) {
                return Err(Refusal::NotNow(format!(
                    "entry {seq} was taken back before"
                )));
            }
            Ok(())
        }
        Event::StopCleared {
            stop,
            by,
            reason,
            seen,
        } => match knowledge.stops.iter().position(|s| s.id == *stop) {
            Some(at) if case.stops.contains(&at) => {
                lifting_holds(by, reason, seen, knowledge.stops[at].work.steps.len())
            }
            Some(_) => Err(Refusal::NotNow("this stop does not hold any more".into())),
            None => unknown("stop", stop, knowledge.stops.iter().map(|s| s.id.as_str())),
        },
        Event::Moved {
            machine_name,
            profile,
            by,
            reason,
            ..
        } => {
            required("machine", machine_name, LONGEST_NAME)?;
            known_context(profile, None)?;
            words("reason", reason, LONGEST_TEXT)?;
            // A stop goes with the case: whoever moves one answers for it by name.
            match case.stops.is_empty() {
                true => optional("by", by, LONGEST_NAME),
                false => words("by", by, LONGEST_NAME),
            }
        }
        Event::Resolved {
            cause,
            fix,
            note,
            outcome,
        } => resolved(
            knowledge,
            case,
            *outcome,
            cause.as_deref(),
            fix.as_deref(),
            note,
        ),
        Event::Reopened { reason } => {
            required("reason", reason, LONGEST_TEXT)?;
            if case.resolved() {
                Ok(())
            } else {
                Err(Refusal::NotNow("this case is open".into()))
            }
        }
    }
}

/// How a case may end: "fixed and verified" takes a proof, a case opened by error a reason.
fn resolved(
    knowledge: &Knowledge,
    case: &CaseState,
    outcome: Outcome,
    cause: Option<&str>,
    fix: Option<&str>,
    note: &str,
) -> Result<(), Refusal> {
    optional("note", note, LONGEST_TEXT)?;
    if let Some(cause) = cause {
        known_cause(knowledge, "cause", cause)?;
    }
    fix.map_or(Ok(()), |f| known_fix(knowledge, f))?;
    match outcome {
        Outcome::FixedAndVerified if !matches!(case.status, Status::Cured(_)) => invalid(
            "outcome",
            "no print has proved it yet: print and compare first, or close it as believed fixed, \
             not proved",
        ),
        Outcome::FixedAndVerified | Outcome::BelievedFixed if cause.is_none() => invalid(
            "cause",
            "say which cause it was: the workshop learns from it",
        ),
        Outcome::OpenedByError => words("note", note, LONGEST_TEXT),
        _ => Ok(()),
    }
}

/// A wait in a step of some work.
fn timer(
    knowledge: &Knowledge,
    case: &CaseState,
    work: &str,
    step: u32,
    minutes: f64,
) -> Result<(), Refusal> {
    // Getting ready and putting back stand around the steps that are written down.
    let steps = known_work(knowledge, work)?.map_or(1, |w| w.steps.len() as u32 + 2);
    if !(1..=steps).contains(&step) {
        return invalid(
            "step",
            format!("step {step} is none: it has steps 1 to {steps}"),
        );
    }
    if !(minutes > 0.0 && minutes <= LONGEST_WAIT) {
        return invalid(
            "minutes",
            format!("a wait lasts up to {LONGEST_WAIT} minutes, but {minutes} was given"),
        );
    }
    match knowledge.check_id(work.trim_start_matches("check/")) {
        Some(check) if work.starts_with("check/") => check_allowed(knowledge, case, check),
        _ => free(knowledge, case),
    }
}

/// Whether there is room for one more.
fn room(field: &str, there: usize, most: usize, what: &str, instead: &str) -> Result<(), Refusal> {
    match there < most {
        true => Ok(()),
        false => invalid(
            field,
            format!("this case holds {most} {what} already: {instead}"),
        ),
    }
}

/// Nothing may heat or move while a stop holds here or elsewhere on the machine.
fn free(knowledge: &Knowledge, case: &CaseState) -> Result<(), Refusal> {
    if !case.stops.is_empty() {
        return stopped(knowledge, case);
    }
    let Some(lock) = &case.locked_by else {
        return Ok(());
    };
    let holder = match lock.holder {
        Holder::Case { .. } => "by another case",
        Holder::Build => "because of how it is built",
    };
    Err(Refusal::Locked {
        lock: lock.clone(),
        message: format!(
            "the machine is locked {holder}: {}. Nothing is done on it until that stop is lifted.",
            knowledge.stops[lock.stop].name
        ),
    })
}

/// Under a stop of its own case only the check that leads to the clearing may be done.
fn check_allowed(
    knowledge: &Knowledge,
    case: &CaseState,
    check: crate::knowledge::CheckId,
) -> Result<(), Refusal> {
    let stops: Vec<_> = case.stops.iter().map(|s| &knowledge.stops[*s]).collect();
    if case.locked_by.is_none() && crate::safety::allowed_under(&stops, check) {
        Ok(())
    } else {
        free(knowledge, case)
    }
}

/// Work a timer, a part or a reason belongs to: `check/…`, `fix/…`, `stop/…`; nothing for `verify`.
fn known_work<'a>(knowledge: &'a Knowledge, work: &str) -> Result<Option<&'a Work>, Refusal> {
    let known = match work.split_once('/') {
        Some(("check", id)) => knowledge.check_id(id).map(|c| &knowledge.check(c).work),
        Some(("fix", id)) => knowledge.fix_id(id).map(|x| &knowledge.fix(x).work),
        Some(("stop", id)) => knowledge.stops.iter().find(|s| s.id == id).map(|s| &s.work),
        None if work == "verify" => return Ok(None),
        _ => None,
    };
    match known {
        Some(work) => Ok(Some(work)),
        None => invalid(
            "step",
            format!("`{}` is no check, fix or stop", short(work)),
        ),
    }
}

/// A stop is lifted by a named person, or by the check that leads to its clearing; never by taking back or answering anew what raised it.
///
/// # Errors
/// [`Refusal::Stopped`] with the stop that `event`, which turns `before` into `after`, would lift.
pub fn keeps_stops(
    knowledge: &Knowledge,
    before: &CaseState,
    after: &CaseState,
    event: &Event,
) -> Result<(), Refusal> {
    let lifted = before.stops.iter().find(|s| {
        !after.stops.contains(s) && !crate::safety::settled(knowledge, &after.facts, **s)
    });
    match lifted.map(|s| &knowledge.stops[*s]) {
        Some(stop) if !matches!(event, Event::StopCleared { .. } | Event::Moved { .. }) => {
            Err(Refusal::Stopped {
                stop: stop.id.clone(),
                message: format!(
                    "this would lift the stop \"{}\": a named person lifts it, with the reason. A slip is a reason, too",
                    stop.name
                ),
            })
        }
        _ => Ok(()),
    }
}

fn known_context(
    machine: &BTreeMap<String, String>,
    material: Option<&str>,
) -> Result<(), Refusal> {
    let mut context = crate::profile::Context::default();
    for (field, value) in machine {
        context.set(field, value).or_else(|e| invalid(field, e))?;
    }
    material
        .map_or(Ok(()), |m| context.set("material", m))
        .or_else(|e| invalid("material", e))
}

fn marked(case: &CaseState, picture: &str, marks: &[Mark]) -> Result<(), Refusal> {
    if !case.pictures.iter().any(|p| p.id == picture) {
        return invalid("picture", "this case holds no such picture");
    }
    if marks.len() > MOST_MARKS {
        return invalid(
            "marks",
            format!(
                "{} marks are too many: at most {MOST_MARKS} fit on a picture",
                marks.len()
            ),
        );
    }
    for mark in marks {
        if mark.places().iter().any(|p| !(0.0..=1.0).contains(p)) {
            return invalid("marks", "a mark lies outside the picture");
        }
        match mark.kind {
            MarkKind::Text => required("marks", &mark.text, LONGEST_NAME)?,
            _ => optional("marks", &mark.text, LONGEST_NAME)?,
        }
    }
    Ok(())
}

/// A finding that a person answers when asked. What a check finds is answered by doing the check.
fn asked(knowledge: &Knowledge, finding: &str, state: &str) -> Result<(), Refusal> {
    match knowledge.finding_id(finding).map(|f| knowledge.finding(f)) {
        Some(f) if f.section == Section::Check => invalid(
            finding,
            format!("`{finding}` is what a check finds: do the check, and answer on its own page"),
        ),
        _ => observed(knowledge, finding, state),
    }
}

fn observed(knowledge: &Knowledge, finding: &str, state: &str) -> Result<(), Refusal> {
    let Some(id) = knowledge.finding_id(finding) else {
        return unknown(
            "finding",
            finding,
            knowledge.findings.iter().map(|f| f.id.as_str()),
        );
    };
    if knowledge.finding(id).section == Section::Number {
        return invalid(
            finding,
            format!("`{finding}` is drawn from the numbers: give the numbers instead"),
        );
    }
    evidence::answer(knowledge, id, state)
        .map(|_| ())
        .or_else(|e| invalid(finding, e))
}

fn known_fix(knowledge: &Knowledge, fix: &str) -> Result<(), Refusal> {
    match knowledge.fix_id(fix) {
        Some(_) => Ok(()),
        None => unknown("fix", fix, knowledge.fixes.iter().map(|f| f.id.as_str())),
    }
}

fn known_cause(knowledge: &Knowledge, field: &str, cause: &str) -> Result<(), Refusal> {
    match knowledge.cause_id(cause) {
        Some(_) => Ok(()),
        None => unknown(field, cause, knowledge.causes.iter().map(|c| c.id.as_str())),
    }
}

fn unknown<'a>(
    what: &str,
    given: &str,
    known: impl Iterator<Item = &'a str>,
) -> Result<(), Refusal> {
    invalid(
        what,
        format!(
            "`{}` is no known {what}{}",
            short(given),
            hint(given, known)
        ),
    )
}

fn stopped(knowledge: &Knowledge, case: &CaseState) -> Result<(), Refusal> {
    let stop = &knowledge.stops[case.stops[0]];
    Err(Refusal::Stopped {
        stop: stop.id.clone(),
        message: format!(
            "the machine is locked: {}. Clear the stop before anything else.",
            stop.name
        ),
    })
}

/// Minutes, grams or money of one step.
fn amount(field: &str, value: f64) -> Result<(), Refusal> {
    if value.is_finite() && (0.0..=10_000.0).contains(&value) {
        return Ok(());
    }
    invalid(
        field,
        format!("{field} must be a number between 0 and 10000, but {value} was given"),
    )
}

fn optional(field: &str, value: &str, longest: usize) -> Result<(), Refusal> {
    text::optional(field, value, longest).or_else(|e| invalid(field, e))
}

fn required(field: &str, value: &str, longest: usize) -> Result<(), Refusal> {
    text::required(field, value, longest).or_else(|e| invalid(field, e))
}

fn words(field: &str, value: &str, longest: usize) -> Result<(), Refusal> {
    text::words(field, value, longest).or_else(|e| invalid(field, e))
}
