//! Entries of a case's log in words, for history, brief and conflict.

use super::{evidence, outcome, proving, reading, work};
use crate::show;
use suspect_core::case::{Entry, Event, HeldAnswer, Speaks};
use suspect_core::knowledge::Knowledge;
use suspect_core::measures::{self, Readings};
use suspect_core::series::Word;
use suspect_core::settings::{Conversion, NumberId};

/// An entry in words where its log is at hand: what it names by number is told by its words.
pub fn line_in(k: &Knowledge, log: &[Entry], entry: &Entry) -> String {
    let named = |seq: u32| {
        let found = log.iter().find(|e| e.seq == seq);
        found.map_or_else(|| format!("entry {seq}"), |e| format!("“{}”", line(k, e)))
    };
    match &entry.event {
        Event::Retracted { seq } => format!("Took back {}", named(*seq)),
        Event::PutBack { fixed } => format!("Put back what was changed by {}", named(*fixed)),
        Event::Weighed {
            suggestion, taken, ..
        } => match taken {
            true => format!("Taken up: {}", named(*suggestion)),
            false => format!("Laid aside: {}", named(*suggestion)),
        },
        _ => line(k, entry),
    }
}

/// One entry in words.
pub fn line(k: &Knowledge, entry: &Entry) -> String {
    let event = &entry.event;
    told(k, event)
        .or_else(|| done(k, event))
        .or_else(|| decided(k, event))
        .unwrap_or_default()
}

/// What people said or showed.
fn told(k: &Knowledge, event: &Event) -> Option<String> {
    let said = match event {
        Event::Opened { .. } => "Case opened".into(),
        Event::Measured {
            number,
            value,
            note,
        } => measured(number, *value, note.as_ref()),
        Event::Observed {
            finding,
            state,
            confidence,
            ..
        } => outcome::unless_sure(answered(k, finding, state), *confidence),
        Event::Told { text } => format!("Told: “{text}”"),
        Event::Passed { finding } => {
            let plain = k.finding_id(finding).map(|f| k.finding(f).plain.as_str());
            format!("Passed over: {}", plain.unwrap_or(finding))
        }
        Event::Described { title, spool, .. } if spool.is_empty() => {
            format!("Described as “{title}”")
        }
        Event::Described { title, spool, .. } => format!("Described as “{title}”, spool {spool}"),
        Event::Pictured { name, .. } if name.is_empty() => "Picture added".into(),
        Event::Pictured { name, .. } => format!("Picture added: {name}"),
        Event::Filed { name, .. } if name.is_empty() => "Print file added".into(),
        Event::Filed { name, .. } => format!("Print file added: {name}"),
        Event::Marked { marks, .. } => match marks.len() {
            1 => "Picture marked: 1 mark".into(),
            n => format!("Picture marked: {n} marks"),
        },
        Event::Suggested {
            by,
            cause,
            check,
            text,
        } => suggested(k, by, cause.as_deref(), check.as_deref(), text),
        Event::Tried { fix, result } => format!(
            "Tried before: {}, {}",
            work::fix(k, fix),
            outcome::result(*result)
        ),
        Event::Cleared { cause, .. } => format!("Found sound: {}", work::cause(k, cause)),
        Event::Noted { text } => text.clone(),
        Event::Joined { number, .. } => format!(
            "Joined with {}: what it knew was added here",
            show::case_label(*number)
        ),
        Event::Trialled(word) => trialled(word),
        Event::OwnSuspected { name } => format!("Suspected, in own words: {name}"),
        Event::SameAs { number, .. } => format!(
            "Same as {}: its signs and pattern taken over",
            show::case_label(*number)
        ),
        _ => return None,
    };
    Some(said)
}

/// What was done at the machine.
fn done(k: &Knowledge, event: &Event) -> Option<String> {
    let said = match event {
        Event::Checked { check, outcome, .. } => {
            let outcome = show::lower_first(&answered(k, check, outcome));
            format!("{}: {outcome}", work::check(k, check))
        }
        Event::Gauged {
            check, readings, ..
        } => format!("{}: read {}", work::check(k, check), read(check, readings)),
        Event::Benched { reading, .. } => reading::line(reading),
        Event::TimerSet {
            work: of, minutes, ..
        } => format!(
            "Waiting {}: {}",
            show::minutes(*minutes),
            show::lower_first(&work::name(k, of))
        ),
        Event::PartKept {
            part, back: false, ..
        } => format!("Taken off: {part}"),
        Event::PartKept { part, .. } => format!("Back in its place: {part}"),
        Event::SetAside { step, why, .. } => {
            format!("{}: {}", work::name(k, step), outcome::put_off(*why))
        }
        Event::TakenUp { step } => {
            let name = show::lower_first(&work::name(k, step));
            format!("Taken up again: {name}")
        }
        Event::PutBack { fixed } => format!("Put back what entry {fixed} had changed"),
        Event::Fixed {
            fix,
            before: Some(before),
            after: Some(after),
            ..
        } => format!("Applied: {} (was {before}, now {after})", work::fix(k, fix)),
        Event::Fixed {
            fix,
            before: Some(before),
            ..
        } => format!("Applied: {} (was {before})", work::fix(k, fix)),
        Event::Fixed { fix, .. } => format!("Applied: {}", work::fix(k, fix)),
        Event::OwnChecked {
            name,
            outcome,
            speaks,
            ..
        } => own_checked(k, name, outcome, speaks.as_ref()),
        Event::OwnFixed { name, result, .. } => {
            format!(
                "{} (own fix): {}",
                show::capital(name),
                outcome::result(*result)
            )
        }
        _ => return proved(event),
    };
    Some(said)
}

/// What a proof is made of.
fn proved(event: &Event) -> Option<String> {
    match event {
        Event::Struck(struck) => Some(proving::struck(struck)),
        Event::Lost(lost) => Some(proving::lost(lost)),
        Event::Beside { how } => Some(proving::beside(*how).into()),
        Event::Printed { result, hours, .. } => {
            let result = outcome::result(*result);
            Some(match hours {
                Some(hours) => {
                    let hours = show::with_unit(*hours, "h");
                    format!("Proof by printing, {hours}: {result}")
                }
                None => format!("Proof by printing: {result}"),
            })
        }
        _ => None,
    }
}

/// What was decided about the case.
fn decided(k: &Knowledge, event: &Event) -> Option<String> {
    let said = match event {
        Event::Weighed {
            suggestion, taken, ..
        } => match taken {
            true => format!("Suggestion {suggestion} taken up"),
            false => format!("Suggestion {suggestion} laid aside"),
        },
        Event::LeftForLater { note } if note.is_empty() => "Left for another day".into(),
        Event::LeftForLater { note } => format!("Left for another day: {note}"),
        Event::Retracted { seq } => format!("Took back entry {seq}"),
        Event::StopCleared { by, reason, .. } => {
            format!("Stop cleared by {}: {reason}", crate::screen::shown(by))
        }
        Event::Moved {
            machine_name,
            reason,
            ..
        } => format!("Moved to {machine_name}: {reason}"),
        Event::Resolved {
            outcome: how,
            cause,
            ..
        } => {
            let how = outcome::outcome(*how);
            match cause {
                Some(cause) => format!("Closed as {how}: {}", work::cause(k, cause)),
                None => format!("Closed as {how}"),
            }
        }
        Event::Reopened { reason, after_days } => match after_days {
            Some(days) => format!("Opened again, {} after: {reason}", show::days(*days)),
            None => format!("Opened again: {reason}"),
        },
        Event::AskedAgain { answer } => match answer {
            HeldAnswer::Held => "Asked again: the fix held".into(),
            HeldAnswer::CannotSay => "Asked again: nobody can say whether the fix held".into(),
        },
        Event::LeftOut { reason } => match reason {
            Some(reason) => format!("Not learned from: {reason}"),
            None => "Learned from again".into(),
        },
        _ => return None,
    };
    Some(said)
}

/// "Swapped the spools: same fault (own check, clearly for wet filament)".
fn own_checked(k: &Knowledge, name: &str, outcome: &str, speaks: Option<&Speaks>) -> String {
    let name = show::capital(name);
    let Some(speaks) = speaks else {
        return format!("{name}: {outcome} (own check)");
    };
    let whom = match speaks.cause.as_str() {
        Speaks::SOMEONE_ELSE => "someone else".to_string(),
        cause => show::lower_first(&super::work::cause(k, cause)),
    };
    let how = outcome::speaks(speaks.how);
    format!("{name}: {outcome} (own check, {how} {whom})")
}

fn answered(k: &Knowledge, finding: &str, state: &str) -> String {
    evidence::answered(k, finding, state).unwrap_or_else(|| format!("{finding}: {state}"))
}

/// "Layer height: 0.203 mm (0.008 in read as 0.203 mm)".
fn measured(number: &str, value: f64, note: Option<&Conversion>) -> String {
    let Some(id) = NumberId::from_id(number) else {
        return format!("{number}: {value}");
    };
    let n = id.number();
    let said = format!(
        "{}: {}",
        show::capital(n.plain),
        show::with_unit(value, n.unit)
    );
    match note {
        Some(note) => format!("{said} ({})", converted(note, value, n.unit)),
        None => said,
    }
}

/// What was converted when a number was read: "0.008 in read as 0.203 mm".
pub fn converted(conversion: &Conversion, value: f64, unit: &str) -> String {
    match conversion {
        Conversion::InWords(text) => text.clone(),
        Conversion::Typed { typed } => format!("{typed} read as {}", show::with_unit(value, unit)),
    }
}

fn suggested(
    k: &Knowledge,
    by: &str,
    cause: Option<&str>,
    check: Option<&str>,
    text: &str,
) -> String {
    let known = check.filter(|c| k.check_id(c).is_some());
    let parts = [
        cause.map(|c| work::cause(k, c)),
        known.map(|c| work::check(k, c)),
        Some(text.to_string()).filter(|t| !t.is_empty()),
    ];
    let parts: Vec<String> = parts.into_iter().flatten().collect();
    format!("Hearsay from {by}: {}", parts.join("; "))
}

/// "wall thickness 0.44 0.46 mm, line width 0.45 mm".
fn read(check: &str, readings: &Readings) -> String {
    let gauge = measures::gauge(check);
    let one = |(input, values): (&String, &Vec<f64>)| {
        let values: Vec<String> = values.iter().map(|v| show::number(*v)).collect();
        let values = values.join(" ");
        match gauge.and_then(|g| g.input(input)) {
            Some(input) => {
                let n = &input.number;
                let said = format!("{} {values} {}", n.plain, n.unit);
                said.trim_end().to_string()
            }
            None => values,
        }
    };
    readings.iter().map(one).collect::<Vec<_>>().join(", ")
}

/// What a trial series told.
fn trialled(word: &Word) -> String {
    let counted = |n: usize, one: &str| match n {
        1 => format!("1 {one}"),
        n => format!("{n} {one}s"),
    };
    format!(
        "Trial series “{}”: {}, {} spoken of",
        word.name,
        counted(word.weight.looks as usize, "look"),
        counted(word.weight.causes.len(), "suspect")
    )
}
