//! A short notation for what is told to a case, for the tests of every room.
//!
//! One word is one event:
//!
//! | word | event |
//! |---|---|
//! | `layer-step=present` | observed for certain; `?` at its end: likely; `??`: a hunch |
//! | `bed_c:60` | a number of the job, in its own unit |
//! | `pulley-mark/slips` | a check's finding, for certain, in a minute |
//! | `+tighten-pulley` | a fix done, in a minute, for nothing |
//! | `print>cured` | the print that proves it: `cured`, `better`, `same` or `worse` |
//! | `every-print` | the fault strikes in every print: one clean print proves a fix |
//! | `#5` | the entry with this number taken back |

use crate::case::{Entry, Event, Outcome, Struck};
use crate::evidence::Confidence;
use crate::knowledge::{Knowledge, TryResult};
use time::{Duration, OffsetDateTime};

/// The events of a line of words, see above.
///
/// # Panics
/// At a word that is none of these.
pub fn events(line: &str) -> Vec<Event> {
    line.split_whitespace().map(event).collect()
}

fn event(word: &str) -> Event {
    if word == "every-print" {
        return strikes_always();
    }
    if let Some(fix) = word.strip_prefix('+') {
        return fixed(fix);
    }
    if let Some(result) = word.strip_prefix("print>") {
        let result = result.parse().expect("cured, better, same or worse");
        return printed(result);
    }
    if let Some(entry) = word.strip_prefix('#') {
        let seq = entry.parse().expect("the number of an entry");
        return Event::Retracted { seq };
    }
    if let Some((check, outcome)) = word.split_once('/') {
        return checked(check, outcome, Confidence::Sure);
    }
    if let Some((finding, state)) = word.split_once('=') {
        let (state, confidence) = match (state.strip_suffix("??"), state.strip_suffix('?')) {
            (Some(state), _) => (state, Confidence::Hunch),
            (None, Some(state)) => (state, Confidence::Likely),
            (None, None) => (state, Confidence::Sure),
        };
        return Event::Observed {
            finding: finding.into(),
            state: state.into(),
            confidence,
            asked: false,
        };
    }
    let (number, value) = word.split_once(':').expect("a word of the notation");
    measured(number, value.parse().expect("a number"))
}

/// A case of a machine with a direct feed and PETG.
pub fn opened() -> Event {
    opened_with(&[("feed", "direct")])
}

/// A case of a machine built so, with PETG.
pub fn opened_with(machine: &[(&str, &str)]) -> Event {
    Event::Opened {
        title: "Joint".into(),
        machine_name: "Teal".into(),
        machine: machine
            .iter()
            .map(|(f, v)| (f.to_string(), v.to_string()))
            .collect(),
        material: Some("petg".into()),
        spool: String::new(),
    }
}

/// Seen for certain.
pub fn observed(finding: &str, state: &str) -> Event {
    Event::Observed {
        finding: finding.into(),
        state: state.into(),
        confidence: Confidence::Sure,
        asked: false,
    }
}

/// A number of the job, in its own unit.
pub fn measured(number: &str, value: f64) -> Event {
    Event::Measured {
        number: number.into(),
        value,
        note: None,
    }
}

/// What a check found, in a minute.
pub fn checked(check: &str, outcome: &str, confidence: Confidence) -> Event {
    Event::Checked {
        check: check.into(),
        outcome: outcome.into(),
        confidence,
        minutes: 1.0,
    }
}

/// A fix done, in a minute and for nothing.
pub fn fixed(fix: &str) -> Event {
    Event::Fixed {
        fix: fix.into(),
        minutes: 1.0,
        money: 0.0,
        before: None,
        after: None,
        together: false,
    }
}

/// A print that proves a fix, in three minutes and two grams.
pub fn printed(result: TryResult) -> Event {
    Event::Printed {
        result,
        minutes: 3.0,
        grams: 2.0,
        hours: None,
    }
}

/// The fault strikes in every print: one clean print proves a fix.
pub fn strikes_always() -> Event {
    Event::Struck(Struck::always())
}

/// A remark.
pub fn noted(text: &str) -> Event {
    Event::Noted { text: text.into() }
}

/// The end of a case.
pub fn resolved(outcome: Outcome, cause: Option<&str>, note: &str) -> Event {
    Event::Resolved {
        outcome,
        cause: cause.map(Into::into),
        fix: None,
        note: note.into(),
    }
}

/// A stop lifted by name, with a reason and every step seen.
///
/// # Panics
/// If there is no such stop.
pub fn lifted(knowledge: &Knowledge, stop: &str) -> Event {
    let known = knowledge.stops.iter().find(|s| s.id == stop);
    let steps = known.expect("a stop of the knowledge").work.steps.len() as u32;
    Event::StopCleared {
        stop: stop.into(),
        by: "M. Reed".into(),
        reason: "New plug and socket".into(),
        seen: (1..=steps).collect(),
    }
}

/// When the entry with this number is written: as many minutes after the beginning of time.
pub fn at(seq: u32) -> OffsetDateTime {
    OffsetDateTime::UNIX_EPOCH + Duration::minutes(i64::from(seq))
}

/// The entry with this number.
pub fn entry(seq: u32, event: Event) -> Entry {
    Entry {
        seq,
        at: at(seq),
        by: None,
        event,
    }
}

/// A log of events, a minute apart.
pub fn log(events: &[Event]) -> Vec<Entry> {
    let numbered = events.iter().cloned().zip(1..);
    numbered.map(|(event, seq)| entry(seq, event)).collect()
}

/// What begins a trial series, and what is told to one.
pub mod trials {
    use crate::series::{Baseline, Event, Made, Printed};
    use crate::trials::{Confidence, Grade};

    /// A series begins.
    pub fn begun() -> Event {
        Event::Begun {
            name: "Rough curves".into(),
            baseline: Baseline::default(),
            bad_grade: 1,
            printed: Printed::default(),
            blind: false,
        }
    }

    /// A piece with these differences old.
    pub fn made(label: &str, old: &[&str]) -> Event {
        Event::Made {
            label: label.into(),
            made: Made {
                old: old.iter().map(|o| (*o).into()).collect(),
                ..Made::default()
            },
        }
    }

    /// A sure look by eye.
    pub fn graded(label: &str, grade: u8) -> Event {
        Event::Graded {
            label: label.into(),
            grade: Grade::Number(grade),
            confidence: Confidence::Sure,
            reading: String::new(),
            blind: false,
            note: String::new(),
        }
    }
}
