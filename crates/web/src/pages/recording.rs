//! Appending to a case from a form: the same answer to conflict and refusal on every page.

use super::Opened;
use super::guide::work_name;
use super::next;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use suspect_core::case::{Entry, Event, Refusal};
use suspect_core::settings;
use suspect_store::StoreError;

/// What a person said with a form: the words for it, and the field that carries it.
struct Said {
    label: String,
    name: String,
    value: String,
    /// Words that may be mended here; everything else is carried along.
    text: bool,
}

/// A form that was not recorded: why, what happened meanwhile, and all that was sent, to send again.
#[derive(Template)]
#[template(path = "kept.html")]
struct KeptPage {
    place: &'static str,
    title: &'static str,
    why: String,
    case_href: String,
    action: String,
    /// The number to send it with again; nothing when it cannot be recorded as it is.
    seq: Option<u32>,
    said: Vec<Said>,
    since: Vec<String>,
}

/// Fields that hold a person's own words, with what they are called.
const WORDS: [(&str, &str); 10] = [
    ("note", "Note"),
    ("text", "Your words"),
    ("told", "What happened"),
    ("reason", "Reason"),
    ("by", "Name"),
    ("title", "Title"),
    ("spool", "Spool"),
    ("before", "Before"),
    ("after", "After"),
    ("part", "Part"),
];

/// All a form said, in words where it has them.
fn said(state: &AppState, fields: &Fields) -> Vec<Said> {
    let k = &state.knowledge;
    let row = |(name, value): &(String, String)| {
        let word = WORDS
            .iter()
            .find(|(n, _)| n == name)
            .map(|(_, word)| word.to_string());
        let number = name
            .strip_prefix("n.")
            .and_then(|id| settings::position(id).ok());
        let finding = name.strip_prefix("f.").and_then(|id| k.finding_id(id));
        let label = match (&word, number, finding) {
            (Some(word), _, _) => word.clone(),
            (_, Some(at), _) => show::capital(settings::NUMBERS[at].plain),
            (_, _, Some(f)) => show::capital(&k.finding(f).plain),
            // Identifiers of ours say nothing to a person.
            _ => String::new(),
        };
        Said {
            label,
            text: word.is_some() && name != "part",
            name: name.clone(),
            value: value.clone(),
        }
    };
    fields.said().map(row).collect()
}

/// The page of a form that was not recorded. Nothing of it is lost.
fn kept(
    state: &AppState,
    case: &Opened,
    fields: &Fields,
    action: &str,
    seq: Option<u32>,
    (title, why): (&'static str, String),
    since: Vec<String>,
) -> Result<String, PageError> {
    let page = KeptPage {
        place: "case",
        title,
        why,
        case_href: urls::case(case.id),
        action: action.to_string(),
        seq,
        said: said(state, fields),
        since,
    };
    Ok(page.render()?)
}

/// The conflict of a form: what happened since its page was made, and what it said.
fn conflict(
    state: &AppState,
    case: &Opened,
    fields: &Fields,
    action: &str,
    (expected, actual): (u32, u32),
    since: &[Entry],
) -> PageError {
    let why = match expected > actual {
        true => format!(
            "Your page speaks of entry {expected}, but the case has {actual}. Look at the case \
             before you record this."
        ),
        false => "Someone wrote to this case after you opened your page, or took back what this \
                  form had recorded. Nothing of theirs or yours is lost."
            .to_string(),
    };
    let since = since.iter().map(|entry| line(state, entry)).collect();
    let heading = ("The case has moved on", why);
    match kept(state, case, fields, action, Some(actual), heading, since) {
        Ok(html) => PageError::Conflict(html),
        Err(e) => e,
    }
}

/// What became of a form.
pub enum Recorded {
    /// Stored, or stored before by the same form.
    Done(Response),
    /// A value makes no sense; the page shows it beside the field.
    Invalid { field: String, message: String },
}

/// Appends events for a form that was made for sequence number `seq`, and leads to `then`.
///
/// # Errors
/// Conflict, refusal by state or stop, or an unreachable database, each as a page.
pub async fn record(
    state: &AppState,
    case: &Opened,
    fields: &Fields,
    action: &str,
    events: &[Event],
    then: String,
) -> Result<Recorded, PageError> {
    let stamp = fields.stamp(state.now());
    let k = &state.knowledge;
    match state
        .store
        .append(k, case.id, fields.seq(), events, stamp)
        .await
    {
        Ok(_) => Ok(Recorded::Done(Redirect::to(&then).into_response())),
        Err(StoreError::Conflict {
            expected,
            actual,
            since,
        }) => {
            let numbers = (expected, actual);
            Err(conflict(state, case, fields, action, numbers, &since))
        }
        Err(StoreError::OtherTouch) => Err(PageError::SentBefore {
            back: urls::case(case.id),
        }),
        Err(StoreError::Refused(Refusal::Invalid { field, message })) => Ok(Recorded::Invalid {
            field,
            message: show::sentence(&message),
        }),
        Err(StoreError::Refused(refusal)) => {
            let back = way_back(state, case, &refusal);
            Err(PageError::refused(&refusal, back))
        }
        Err(other) => Err(other.into()),
    }
}

/// Where a refusal leads: to the stop that holds, to what locks the machine, else to the case.
fn way_back(state: &AppState, case: &Opened, refusal: &Refusal) -> String {
    match refusal {
        Refusal::Stopped { stop, .. } if state.knowledge.stops.iter().any(|s| s.id == *stop) => {
            urls::in_case(case.id, &format!("stop/{stop}"))
        }
        Refusal::Locked { lock, .. } => next::lock_href(state, case.machine.id, lock),
        _ => urls::case(case.id),
    }
}

/// For forms of a single button: what makes no sense becomes a page with what was sent, to be mended
/// there, and a way back.
pub async fn record_or_explain(
    state: &AppState,
    case: &Opened,
    fields: &Fields,
    action: &str,
    events: &[Event],
    then: String,
) -> Result<Response, PageError> {
    match record(state, case, fields, action, events, then).await? {
        Recorded::Done(response) => Ok(response),
        Recorded::Invalid { message, .. } => {
            let seq = Some(fields.seq());
            let heading = ("Not recorded", message);
            let html = kept(state, case, fields, action, seq, heading, Vec::new())?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
        }
    }
}

/// One event in words, for history and conflict.
pub fn line(state: &AppState, entry: &Entry) -> String {
    let k = &state.knowledge;
    let cause = |id: &str| {
        k.cause_id(id)
            .map_or_else(|| id.to_string(), |c| k.cause(c).name.clone())
    };
    let fix = |id: &str| {
        k.fix_id(id)
            .map_or_else(|| id.to_string(), |x| k.fix(x).work.name.clone())
    };
    let phrase = |finding: &str, answer: &str| {
        let known = k.finding_id(finding).and_then(|f| {
            match suspect_core::evidence::answer(k, f, answer) {
                Ok(Some(a)) => Some(show::capital(&a.phrase(k, f))),
                Ok(None) => Some(format!("{}: not known", show::capital(&k.finding(f).plain))),
                Err(_) => None,
            }
        });
        known.unwrap_or_else(|| format!("{finding}: {answer}"))
    };
    match &entry.event {
        Event::Opened { .. } => "Case opened".into(),
        Event::Measured {
            number,
            value,
            note,
        } => match suspect_core::settings::position(number) {
            Ok(at) => {
                let n = &suspect_core::settings::NUMBERS[at];
                let note = note
                    .as_ref()
                    .map_or_else(String::new, |note| format!(" ({note})"));
                format!(
                    "{}{note}",
                    format!(
                        "{}: {} {}",
                        show::capital(n.plain),
                        show::number(*value),
                        n.unit
                    )
                    .trim_end()
                )
            }
            Err(_) => format!("{number}: {value}"),
        },
        Event::Observed {
            finding,
            state,
            confidence,
        } => match confidence.id() {
            "sure" => phrase(finding, state),
            word => format!("{} ({word})", phrase(finding, state)),
        },
        Event::Told { text } => format!("Told: “{text}”"),
        Event::Passed { finding } => match k.finding_id(finding) {
            Some(f) => format!("Passed over: {}", k.finding(f).plain),
            None => format!("Passed over: {finding}"),
        },
        Event::Described { title, spool, .. } => {
            let spool = if spool.is_empty() {
                String::new()
            } else {
                format!(", spool {spool}")
            };
            format!("Described as “{title}”{spool}")
        }
        Event::Pictured { name, .. } if name.is_empty() => "Picture added".into(),
        Event::Pictured { name, .. } => format!("Picture added: {name}"),
        Event::Marked { marks, .. } => match marks.len() {
            1 => "Picture marked: 1 mark".into(),
            n => format!("Picture marked: {n} marks"),
        },
        Event::Suggested {
            by,
            cause: suspect,
            check,
            text,
        } => {
            let check = check
                .as_deref()
                .and_then(|c| k.check_id(c))
                .map(|c| k.check(c).work.name.clone());
            let parts: Vec<String> = [
                suspect.as_deref().map(cause),
                check,
                Some(text.clone()).filter(|t| !t.is_empty()),
            ]
            .into_iter()
            .flatten()
            .collect();
            format!("Hearsay from {by}: {}", parts.join("; "))
        }
        Event::Weighed {
            suggestion,
            taken: true,
        } => format!("Suggestion {suggestion} taken up"),
        Event::Weighed {
            suggestion,
            taken: false,
        } => format!("Suggestion {suggestion} laid aside"),
        Event::Checked { check, outcome, .. } => {
            let name = k
                .check_id(check)
                .map_or_else(|| check.clone(), |c| k.check(c).work.name.clone());
            format!("{name}: {}", phrase(check, outcome).to_lowercase_first())
        }
        Event::Gauged {
            check, readings, ..
        } => {
            let name = k
                .check_id(check)
                .map_or_else(|| check.clone(), |c| k.check(c).work.name.clone());
            let read = readings.iter().map(|(input, values)| {
                let number = suspect_core::measures::gauge(check)
                    .and_then(|g| g.input(input))
                    .map(|i| &i.number);
                let values: Vec<String> = values.iter().map(|v| show::number(*v)).collect();
                number.map_or_else(
                    || values.join(" "),
                    |n| {
                        format!("{} {} {}", n.plain, values.join(" "), n.unit)
                            .trim_end()
                            .to_string()
                    },
                )
            });
            format!("{name}: read {}", read.collect::<Vec<_>>().join(", "))
        }
        Event::TimerSet { work, minutes, .. } => {
            format!(
                "Waiting {}: {}",
                show::minutes(*minutes),
                work_name(state, work).to_lowercase_first()
            )
        }
        Event::PartKept {
            part, back: false, ..
        } => format!("Taken off: {part}"),
        Event::PartKept {
            part, back: true, ..
        } => format!("Back in its place: {part}"),
        Event::SetAside { step, why, .. } => format!(
            "{}: {}",
            work_name(state, step),
            super::doing::aside_words(*why)
        ),
        Event::TakenUp { step } => format!(
            "Taken up again: {}",
            work_name(state, step).to_lowercase_first()
        ),
        Event::PutBack { fixed } => format!("Put back what entry {fixed} had changed"),
        Event::LeftForLater { note } if note.is_empty() => "Left for another day".into(),
        Event::LeftForLater { note } => format!("Left for another day: {note}"),
        Event::Tried { fix: id, result } => {
            format!("Tried before: {}, {}", fix(id), result_words(*result))
        }
        Event::Fixed {
            fix: id,
            before: Some(before),
            after,
            ..
        } => {
            let after = after
                .as_ref()
                .map_or_else(String::new, |a| format!(", now {a}"));
            format!("Applied: {} (was {before}{after})", fix(id))
        }
        Event::Fixed { fix: id, .. } => format!("Applied: {}", fix(id)),
        Event::Printed { result, .. } => format!("Proof by printing: {}", result_words(*result)),
        Event::Cleared { cause: id, .. } => format!("Found sound: {}", cause(id)),
        Event::Noted { text } => text.clone(),
        Event::Retracted { seq } => format!("Took back entry {seq}"),
        Event::StopCleared { by, reason, .. } => format!("Stop cleared by {by}: {reason}"),
        Event::Moved {
            machine_name,
            reason,
            ..
        } => format!("Moved to {machine_name}: {reason}"),
        Event::Resolved {
            outcome, cause: id, ..
        } => match id {
            Some(id) => format!("Closed as {}: {}", outcome_words(outcome.id()), cause(id)),
            None => format!("Closed as {}", outcome_words(outcome.id())),
        },
        Event::Reopened { reason } => format!("Opened again: {reason}"),
    }
}

trait LowercaseFirst {
    fn to_lowercase_first(&self) -> String;
}

impl LowercaseFirst for String {
    fn to_lowercase_first(&self) -> String {
        let mut chars = self.chars();
        chars
            .next()
            .map_or_else(String::new, |c| c.to_lowercase().chain(chars).collect())
    }
}

/// What became of the fault, in words.
pub fn result_words(result: suspect_core::knowledge::TryResult) -> &'static str {
    [
        "the fault is gone",
        "weaker, but there",
        "no change",
        "worse than before",
    ][result as usize]
}

/// An outcome in words, by identifier.
pub fn outcome_words(id: &str) -> &'static str {
    match id {
        "fixed-and-verified" => "fixed and verified",
        "believed-fixed" => "believed fixed, not proved",
        "opened-by-error" => "opened by error",
        "improved" => "improved",
        "worked-around" => "worked around",
        "not-a-fault" => "not a fault",
        _ => "unsolved",
    }
}
