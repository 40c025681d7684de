//! Lines of a machine's book as its page shows them.

use super::open_book::OpenBook;
use crate::screen::shown_of;
use crate::words::{journal, machine_entry};
use crate::{show, urls};
use suspect_core::book::{Due, Found, PartState, found, since_good};
use suspect_core::knowledge::{Knowledge, MachineKind, Quirk, QuirkTime};
use suspect_core::machine::{Described, MachineEntry, MachineEvent, QuirkNow};
use suspect_core::profile::{FIELDS, MATERIAL};
use suspect_store::Uuid;
use time::OffsetDateTime;

/// Width of the bar of a part's life.
const BAR: f64 = 120.0;
/// Entries of the journal on a page.
pub const PER_PAGE: usize = 30;

/// A part with its hours.
pub struct PartLine {
    pub name: &'static str,
    pub hours: String,
    pub fitted: String,
    /// Share of its usual life that ran, as a width; none where nobody knows.
    pub bar: Option<u32>,
    pub worn: bool,
    pub left: String,
    /// What the bar says, in words.
    pub says: String,
    /// Where its label is printed.
    pub label: String,
}

pub fn part_line(machine: Uuid, state: &PartState) -> PartLine {
    let part = state.hours.part;
    let hours = state.hours.hours;
    let share = hours.zip(state.usual).map(|(h, usual)| h / usual);
    let left = state.left().map(|[early, _, late]| {
        format!(
            "left: {} to {}\u{a0}h",
            show::number(early.round()),
            show::number(late.round())
        )
    });
    let worn = state
        .worn
        .map(|w| format!("worn by now: {}", show::percent(w)));
    let lives = match state.ended {
        0 => String::new(),
        1 => ", with one life of this shop".into(),
        n => format!(", with {n} lives of this shop"),
    };
    let usual = state
        .usual
        .map(|u| format!("usual {}\u{a0}h{lives}", show::number(u)));
    PartLine {
        label: urls::in_machine(machine, &format!("parts/{}/label", part.id)),
        name: part.name,
        hours: hours.map_or("hours not known".into(), |h| {
            format!("{}\u{a0}h", show::number(h.round()))
        }),
        fitted: match state.hours.fitted {
            Some(at) => format!("since {}", show::date(at)),
            None => "as old as the records".into(),
        },
        bar: share.map(|s| (s.min(1.0) * BAR).round() as u32),
        worn: share.is_some_and(|s| s >= 1.0),
        left: left.unwrap_or_default(),
        says: usual
            .into_iter()
            .chain(worn)
            .collect::<Vec<_>>()
            .join(" · "),
    }
}

/// A task, due or not.
pub struct DueLine {
    pub id: String,
    pub name: String,
    pub text: String,
    pub minutes: String,
    pub reason: String,
    pub kept: String,
    pub on: String,
    pub over: bool,
    pub soon: bool,
}

pub fn due_line(due: &Due<'_>, now: OffsetDateTime) -> DueLine {
    let kept = due.kept.as_ref().map(|kept| {
        let by = shown_of(kept.by.as_deref());
        let by = by.map_or(String::new(), |by| format!(" by {by}"));
        let what = if kept.wrong {
            "looked wrong"
        } else {
            "seen to"
        };
        journal::with_note(&format!("{what} {}{by}", show::date(kept.at)), &kept.note)
    });
    let on = due
        .on
        .filter(|at| *at > now)
        .map(|at| format!("about {}", show::date(at)));
    DueLine {
        id: due.task.id.clone(),
        name: due.task.name.clone(),
        text: due.task.text.clone(),
        minutes: show::minutes(due.task.minutes),
        reason: journal::due_reason(&due.reason),
        kept: kept.unwrap_or_else(|| "never seen to, as far as is known".into()),
        on: on.unwrap_or_default(),
        over: due.now(),
        soon: due.soon(),
    }
}

/// Something that tends to be wrong with a kind, in words.
pub struct QuirkWords {
    pub name: String,
    pub effect: String,
    pub mend: String,
    pub costs: String,
    pub risk: String,
    pub warranty: String,
    pub fix: Option<(String, String)>,
    /// Suspects it makes likelier: words and address.
    pub raises: Vec<(String, String)>,
}

/// A quirk, in words.
pub fn quirk_words(k: &Knowledge, q: &Quirk, currency: &str) -> QuirkWords {
    let costs = [
        Some(show::minutes(q.minutes)),
        show::money(q.money, currency),
        Some(q.part.clone()).filter(|p| !p.is_empty()),
    ];
    let costs: Vec<String> = costs.into_iter().flatten().collect();
    let raises = q.raises.iter().map(|(c, factor)| {
        let cause = k.cause(*c);
        let name = show::lower_first(&cause.name);
        let words = format!("{name} ×{}", show::tenths(*factor));
        (words, urls::suspect(&cause.id))
    });
    let fix = |f| (k.fix(f).work.name.clone(), urls::fix(&k.fix(f).id));
    QuirkWords {
        name: q.name.clone(),
        effect: q.effect.clone(),
        mend: q.mend.clone(),
        costs: costs.join(" · "),
        risk: q.risk.clone(),
        warranty: q.warranty.clone(),
        fix: q.fix.map(fix),
        raises: raises.collect(),
    }
}

/// Quirks of a kind by when they are seen to, each as it is to be shown; times without any are left
/// out.
pub fn by_time<T>(kind: &MachineKind, of: impl Fn(&Quirk) -> T) -> Vec<(&'static str, Vec<T>)> {
    let at = |when: QuirkTime| {
        let quirks = kind.quirks.iter().filter(|q| q.when == when);
        (
            journal::quirk_time(when),
            quirks.map(&of).collect::<Vec<T>>(),
        )
    };
    let all = QuirkTime::ALL.into_iter().map(at);
    all.filter(|(_, quirks)| !quirks.is_empty()).collect()
}

/// A quirk of a machine's kind, with what became of it.
pub struct QuirkLine {
    pub id: String,
    pub of: QuirkWords,
    pub now: &'static str,
    pub open: bool,
    pub said: String,
}

/// Quirks of a machine's kind by when they are seen to.
pub fn quirk_lines(
    k: &Knowledge,
    open: &OpenBook<'_>,
    currency: &str,
) -> Vec<(&'static str, Vec<QuirkLine>)> {
    let line = |q: &Quirk| {
        let said = open.shelved.book.quirks.get(&q.id);
        let now = said.map_or(QuirkNow::Open, |s| s.now);
        let told = said.map(|s| {
            let by = shown_of(s.by.as_deref());
            let by = by.map_or(String::new(), |by| format!(" by {by}"));
            journal::with_note(&format!("{}{by}", show::date(s.at)), &s.note)
        });
        QuirkLine {
            id: q.id.clone(),
            of: quirk_words(k, q, currency),
            now: journal::quirk_now(now),
            open: matches!(now, QuirkNow::Open | QuirkNow::Postponed),
            said: told.unwrap_or_default(),
        }
    };
    open.kind.map_or_else(Vec::new, |kind| by_time(kind, line))
}

/// Values of one material and nozzle.
pub struct ValuesLine {
    pub of: String,
    pub values: Vec<(String, String, Option<String>)>,
}

/// Values found, a line a material and nozzle; a value with the day and why it may not hold.
pub fn values_lines(open: &OpenBook<'_>, now: OffsetDateTime) -> Vec<ValuesLine> {
    let mut lines: Vec<ValuesLine> = Vec::new();
    for f in found(&open.shelved.book, now) {
        let of = of_values(&f);
        let piece = match f.piece.is_empty() {
            true => String::new(),
            false => format!(", {}", f.piece),
        };
        let value = (
            journal::value_words(f.of.id, f.value),
            format!("{}{piece}", show::date(f.at)),
            f.stale.as_ref().map(journal::stale),
        );
        match lines.iter_mut().find(|l| l.of == of) {
            Some(line) => line.values.push(value),
            None => lines.push(ValuesLine {
                of,
                values: vec![value],
            }),
        }
    }
    lines
}

fn of_values(f: &Found) -> String {
    format!(
        "{}, {} mm",
        journal::material(&f.material),
        show::number(f.nozzle_mm)
    )
}

/// Materials that were never calibrated on the machine.
pub fn uncalibrated(open: &OpenBook<'_>, now: OffsetDateTime) -> Vec<&'static str> {
    let known = found(&open.shelved.book, now);
    let values = FIELDS[MATERIAL].values.iter();
    let never = values.filter(|v| v.id != "other" && known.iter().all(|f| f.material != v.id));
    never.map(|v| v.plain).collect()
}

/// What differs from the last print that came out well: name, then and now.
pub fn differences(k: &Knowledge, open: &OpenBook<'_>) -> Vec<(String, String)> {
    let since = since_good(&open.shelved.book);
    let line = |d: &suspect_core::book::Difference| {
        let then = if d.then.is_empty() {
            "not known"
        } else {
            d.then.as_str()
        };
        (
            journal::named(k, &d.name),
            format!("was {then}, now {}", d.now),
        )
    };
    since.iter().map(line).collect()
}

/// An entry of the journal.
pub struct Line {
    pub at: String,
    pub stamp: String,
    pub by: Option<String>,
    pub text: String,
    /// The case in which it was done.
    pub case: Option<String>,
}

/// A page of the journal, latest first, of one of its parts or all; and whether older follow.
pub fn journal_lines(
    k: &Knowledge,
    log: &[MachineEntry],
    of: &str,
    page: usize,
) -> (Vec<Line>, bool) {
    let mut known: Option<&Described> = None;
    let mut lines = Vec::new();
    for entry in log {
        if of.is_empty() || journal::part_of(&entry.event) == of {
            lines.push((entry, known));
        }
        if let MachineEvent::Described { machine, .. } = &entry.event {
            known = Some(machine);
        }
    }
    let older = lines.len() > (page + 1) * PER_PAGE;
    let lines = lines.iter().rev().skip(page * PER_PAGE).take(PER_PAGE);
    let line = |(entry, known): &(&MachineEntry, Option<&Described>)| Line {
        at: show::moment(entry.at),
        stamp: show::stamp(entry.at),
        by: shown_of(entry.by.as_deref()),
        text: machine_entry::line(k, &entry.event, *known),
        case: case_of(&entry.event).map(urls::case),
    };
    (lines.map(line).collect(), older)
}

fn case_of(event: &MachineEvent) -> Option<Uuid> {
    match event {
        MachineEvent::Worked { case, .. } | MachineEvent::Good { case, .. } => case.parse().ok(),
        _ => None,
    }
}
