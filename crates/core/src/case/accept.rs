//! May this event happen now? Asked before anything is appended, so that a log only holds what makes sense.

use super::event::Event;
use super::replay::{CaseState, Status};
use crate::evidence;
use crate::knowledge::Knowledge;
use crate::nearest::{hint, short};
use crate::picture::{Mark, MarkKind};
use crate::settings;
use std::collections::BTreeMap;

/// Longest title, in characters.
pub const LONGEST_TITLE: usize = 120;
/// Longest name of a machine, a spool or a person, in characters.
pub const LONGEST_NAME: usize = 60;
/// Longest note or reason, in characters.
pub const LONGEST_TEXT: usize = 2_000;

/// Most pictures a case holds.
pub const MOST_PICTURES: usize = 8;
/// Steps a procedure may have.
const MOST_STEPS: u32 = 99;
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
    /// Another case locks the machine.
    #[error("{message}")]
    LockedElsewhere {
        /// Identifier of that case.
        case: String,
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
            text("title", title, LONGEST_TITLE, true)?;
            text("machine", machine_name, LONGEST_NAME, true)?;
            text("spool", spool, LONGEST_NAME, false)?;
            known_context(machine, material.as_deref())
        }
        Event::Measured {
            number,
            value,
            note,
        } => {
            text("note", note.as_deref().unwrap_or(""), LONGEST_TEXT, false)?;
            let at = settings::position(number).or_else(|e| invalid(number, e))?;
            settings::NUMBERS[at]
                .accept(*value)
                .map(|_| ())
                .or_else(|e| invalid(number, e))
        }
        Event::Told { text: told } => text("told", told, LONGEST_TEXT, true),
        Event::Passed { finding } => observed(knowledge, finding, "unknown"),
        Event::Described {
            title,
            material,
            spool,
            machine,
        } => {
            text("title", title, LONGEST_TITLE, true)?;
            text("spool", spool, LONGEST_NAME, false)?;
            known_context(machine, material.as_deref())
        }
        Event::Pictured { name, .. } => {
            text("name", name, LONGEST_TITLE, false)?;
            if case.pictures.len() >= MOST_PICTURES {
                return invalid(
                    "picture",
                    format!(
                        "this case holds {MOST_PICTURES} pictures already: take one back first"
                    ),
                );
            }
            Ok(())
        }
        Event::Marked { picture, marks } => marked(case, picture, marks),
        Event::Suggested {
            by,
            cause,
            check,
            text: words,
        } => {
            text("by", by, LONGEST_NAME, true)?;
            text("text", words, LONGEST_TEXT, false)?;
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
        Event::Observed { finding, state, .. } => observed(knowledge, finding, state),
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
            text("note", note.as_deref().unwrap_or(""), LONGEST_TEXT, false)?;
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
        } => {
            known_work(knowledge, work)?;
            if !(1..=MOST_STEPS).contains(step) {
                return invalid("step", format!("step {step} is none: steps count from 1"));
            }
            if !(*minutes > 0.0 && *minutes <= LONGEST_WAIT) {
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
        Event::PartKept { work, part, back } => {
            known_work(knowledge, work)?;
            text("part", part, LONGEST_NAME, true)?;
            if *back && !case.parts_out.contains(&(work.clone(), part.clone())) {
                return Err(Refusal::NotNow(format!(
                    "{part}: noted as back in its place before"
                )));
            }
            Ok(())
        }
        Event::SetAside { step, minutes, .. } => {
            amount("minutes", *minutes)?;
            known_work(knowledge, step)
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
        Event::LeftForLater { note } => text("note", note, LONGEST_TEXT, false),
        Event::Tried { fix, .. } => known_fix(knowledge, fix),
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
            text(
                "before",
                before.as_deref().unwrap_or(""),
                LONGEST_TITLE,
                false,
            )?;
            text(
                "after",
                after.as_deref().unwrap_or(""),
                LONGEST_TITLE,
                false,
            )?;
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
        Event::Noted { text: note } => text("note", note, LONGEST_TEXT, true),
        Event::Retracted { seq } => {
            if *seq <= 1 || *seq > case.last_seq {
                return invalid(
                    "seq",
                    format!("there is no event {seq} that can be taken back"),
                );
            }
            Ok(())
        }
        Event::StopCleared { stop, by, reason } => {
            text("by", by, LONGEST_NAME, true)?;
            text("reason", reason, LONGEST_TEXT, true)?;
            match knowledge.stops.iter().position(|s| s.id == *stop) {
                Some(at) if case.stops.contains(&at) => Ok(()),
                Some(_) => Err(Refusal::NotNow("this stop does not hold any more".into())),
                None => unknown("stop", stop, knowledge.stops.iter().map(|s| s.id.as_str())),
            }
        }
        Event::Resolved {
            cause,
            fix,
            note,
            outcome,
        } => {
            text("note", note, LONGEST_TEXT, false)?;
            if let Some(cause) = cause {
                known_cause(knowledge, "cause", cause)?;
            } else if *outcome == super::Outcome::FixedAndVerified {
                return invalid(
                    "cause",
                    "say which cause it was: the workshop learns from it",
                );
            }
            fix.as_ref().map_or(Ok(()), |f| known_fix(knowledge, f))
        }
        Event::Reopened { reason } => {
            text("reason", reason, LONGEST_TEXT, true)?;
            if case.resolved() {
                Ok(())
            } else {
                Err(Refusal::NotNow("this case is open".into()))
            }
        }
    }
}

/// Nothing may heat or move while a stop holds here or elsewhere on the machine.
fn free(knowledge: &Knowledge, case: &CaseState) -> Result<(), Refusal> {
    if !case.stops.is_empty() {
        return stopped(knowledge, case);
    }
    match &case.locked_by {
        None => Ok(()),
        Some(lock) => Err(Refusal::LockedElsewhere {
            case: lock.case.clone(),
            message: format!(
                "the machine is locked by another case: {}. Nothing is done on it until that stop is cleared.",
                knowledge.stops[lock.stop].name
            ),
        }),
    }
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

/// Work a timer, a part or a reason belongs to: `check/…`, `fix/…`, `stop/…`, `verify`.
fn known_work(knowledge: &Knowledge, work: &str) -> Result<(), Refusal> {
    let known = match work.split_once('/') {
        Some(("check", id)) => knowledge.check_id(id).is_some(),
        Some(("fix", id)) => knowledge.fix_id(id).is_some(),
        Some(("stop", id)) => knowledge.stops.iter().any(|s| s.id == id),
        None => work == "verify",
        _ => false,
    };
    if known {
        Ok(())
    } else {
        invalid(
            "step",
            format!("`{}` is no check, fix or stop", short(work)),
        )
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
        Some(stop) if !matches!(event, Event::StopCleared { .. }) => Err(Refusal::Stopped {
            stop: stop.id.clone(),
            message: format!(
                "this would lift the stop \"{}\": a named person lifts it, with the reason. A slip is a reason, too",
                stop.name
            ),
        }),
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
        text(
            "marks",
            &mark.text,
            LONGEST_NAME,
            mark.kind == MarkKind::Text,
        )?;
    }
    Ok(())
}

fn observed(knowledge: &Knowledge, finding: &str, state: &str) -> Result<(), Refusal> {
    let Some(id) = knowledge.finding_id(finding) else {
        return unknown(
            "finding",
            finding,
            knowledge.findings.iter().map(|f| f.id.as_str()),
        );
    };
    if knowledge.finding(id).section == crate::knowledge::Section::Number {
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

fn text(field: &str, value: &str, longest: usize, needed: bool) -> Result<(), Refusal> {
    let length = value.chars().count();
    if needed && value.trim().is_empty() {
        return invalid(field, format!("{field} is missing"));
    }
    if length > longest {
        return invalid(
            field,
            format!("{field} has {length} characters: at most {longest} fit"),
        );
    }
    if value.contains('\0') {
        return invalid(
            field,
            format!("{field} holds a character that cannot be kept (a null)"),
        );
    }
    Ok(())
}
