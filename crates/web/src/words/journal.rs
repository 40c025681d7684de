//! What the journal of a machine holds, in words: upkeep, changes, values, quirks, reasons.

use crate::show;
use suspect_core::book::{Reason as DueReason, Stale};
use suspect_core::knowledge::parts::part;
use suspect_core::knowledge::{History, Interval, Knowledge, QuirkTime};
use suspect_core::learning::learned::{Reason, Why};
use suspect_core::machine::{Calibration, Change, Changing, MachineEvent, QuirkNow, value_of};
use suspect_core::profile::{Context, FieldId};

/// What part of the journal an entry belongs to: identifier in addresses, words.
pub const PARTS_OF: [(&str, &str); 5] = [
    ("parts", "Parts and hours"),
    ("upkeep", "Upkeep"),
    ("settings", "Settings and values"),
    ("work", "Fixes, measures, pieces"),
    ("machine", "The machine and notes"),
];

/// Where in the journal an entry belongs, as in [`PARTS_OF`].
pub fn part_of(event: &MachineEvent) -> &'static str {
    match event.what() {
        MachineEvent::Counter { .. } | MachineEvent::Fitted { .. } => "parts",
        MachineEvent::Kept { .. }
        | MachineEvent::Quirk { .. }
        | MachineEvent::Commissioning { .. }
        | MachineEvent::Commissioned { .. }
        | MachineEvent::LookedOver { .. } => "upkeep",
        MachineEvent::Changed(_)
        | MachineEvent::Calibrated(_)
        | MachineEvent::Good { .. }
        | MachineEvent::Filed { .. }
        | MachineEvent::Settled { .. } => "settings",
        MachineEvent::Worked { .. }
        | MachineEvent::Benched { .. }
        | MachineEvent::PieceRead { .. } => "work",
        MachineEvent::Described { .. }
        | MachineEvent::Reached { .. }
        | MachineEvent::OutOfService { .. }
        | MachineEvent::BackInService
        | MachineEvent::Retired { .. }
        // Of no other kind once it is unwrapped.
        | MachineEvent::Earlier { .. }
        | MachineEvent::Noted { .. } => "machine",
    }
}

/// An entry of the journal in words; none where it is of another kind.
pub fn line(k: &Knowledge, event: &MachineEvent) -> Option<String> {
    Some(match event {
        MachineEvent::Counter {
            hours,
            kilograms,
            prints,
            restarted,
        } => counter(*hours, *kilograms, *prints, *restarted),
        MachineEvent::Fitted { part, hours, early } => fitted(part, *hours, *early),
        MachineEvent::Kept { task, wrong, note } => kept(k, task, *wrong, note),
        MachineEvent::Changed(change) => change_words(k, change),
        MachineEvent::Worked {
            fix,
            before,
            after,
            undone,
            ..
        } => worked(k, fix, (before.as_deref(), after.as_deref()), *undone),
        MachineEvent::Good { case, note } => {
            let what = match case.is_empty() {
                true => "Came out well",
                false => "Came out well: a case is proved",
            };
            with_note(what, note)
        }
        MachineEvent::Quirk { quirk, now, note } => quirk_words(k, quirk, *now, note),
        MachineEvent::Calibrated(found) => calibrated(found),
        MachineEvent::Noted { text } => text.clone(),
        MachineEvent::Commissioning { history } => {
            format!(
                "Brought into service from now on: {}",
                history_words(*history)
            )
        }
        MachineEvent::Commissioned { step, well, note } => commissioned(k, step, *well, note),
        MachineEvent::LookedOver { seen, wrong } => looked_over(k, seen, wrong),
        MachineEvent::Earlier { at, what } => {
            format!("{} – {}", show::day(*at), line(k, what)?)
        }
        _ => return None,
    })
}

/// "Fitted new at 320 h: nozzle".
fn fitted(id: &str, hours: f64, early: bool) -> String {
    format!(
        "Fitted new at {} h: {}{}",
        show::number(hours),
        show::lower_first(part(id).map_or(id, |p| p.name)),
        if early {
            " (the old one was sound)"
        } else {
            ""
        }
    )
}

/// Where a machine comes from.
pub fn history_words(history: History) -> &'static str {
    match history {
        History::Assembled => "put together by hand",
        History::Used => "bought used",
        History::Unknown => "of unknown history",
        History::Rebuilt => "taken apart and built anew",
    }
}

/// "In service: frame square. Well" or "In service: first heat. Not as it should be. It smells".
fn commissioned(k: &Knowledge, step: &str, well: bool, note: &str) -> String {
    let name = k.commissioning.iter().find(|s| s.id == step);
    let name = name.map_or(step.to_string(), |s| show::lower_first(&s.name));
    let what = if well { "well" } else { "not as it should be" };
    with_note(&format!("Into service, {name}: {what}"), note)
}

/// "Looked over before a print: 6 looks, all well".
fn looked_over(k: &Knowledge, seen: &[String], wrong: &[String]) -> String {
    let many = seen.len() + wrong.len();
    let name = |id: &String| {
        let look = k.precautions.iter().find(|p| p.id == *id);
        look.map_or(id.clone(), |p| p.text.clone())
    };
    let odd: Vec<String> = wrong.iter().map(name).collect();
    match odd.is_empty() {
        true => format!("Looked over before a print: {many} looks, all well"),
        false => format!("Looked over before a print, not well: {}", odd.join(" ")),
    }
}

/// "Counter read: 1 260 h, 14.2 kg, 312 prints".
pub fn counter(hours: f64, kilograms: Option<f64>, prints: Option<f64>, restarted: bool) -> String {
    let mut said = vec![format!("{} h", show::number(hours))];
    said.extend(kilograms.map(|kg| format!("{} kg", show::number(kg))));
    said.extend(prints.map(|n| format!("{} prints", show::number(n))));
    let what = if restarted {
        "New counter read"
    } else {
        "Counter read"
    };
    format!("{what}: {}", said.join(", "))
}

/// "Done: grease the Z screws" or "Looked wrong: belts. Frayed at the idler".
pub fn kept(k: &Knowledge, task: &str, wrong: bool, note: &str) -> String {
    let name = k.upkeep.iter().find(|t| t.id == task);
    let name = name.map_or(task.to_string(), |t| show::lower_first(&t.name));
    let what = if wrong { "Looked wrong" } else { "Seen to" };
    with_note(&format!("{what}: {name}"), note)
}

/// "Retraction 5 mm → 2 mm".
pub fn change_words(k: &Knowledge, change: &Change) -> String {
    let what = match change.what {
        Changing::Setting => "",
        Changing::Firmware => "Firmware: ",
    };
    format!(
        "{what}{} {}",
        named(k, &change.name),
        arrow(&change.before, &change.after)
    )
}

/// A setting as it is called; a fix by its name.
pub fn named(k: &Knowledge, name: &str) -> String {
    k.fix_id(name)
        .map_or_else(|| name.to_string(), |f| k.fix(f).work.name.clone())
}

/// "5 mm → 2 mm", or "now 2 mm".
pub fn arrow(before: &str, after: &str) -> String {
    match before.is_empty() {
        true => format!("now {after}"),
        false => format!("{before} → {after}"),
    }
}

/// "Fix done in a case: fit a new nozzle".
pub fn worked(
    k: &Knowledge,
    fix: &str,
    values: (Option<&str>, Option<&str>),
    undone: bool,
) -> String {
    let name = show::lower_first(&named(k, fix));
    let what = if undone {
        "Put back in a case"
    } else {
        "Done in a case"
    };
    match values {
        (before, Some(after)) => {
            format!(
                "{what}: {name}, {}",
                arrow(before.unwrap_or_default(), after)
            )
        }
        _ => format!("{what}: {name}"),
    }
}

/// "Found for PETG on 0.4 mm: flow ratio 0.94".
pub fn calibrated(found: &Calibration) -> String {
    let values = found
        .values
        .iter()
        .map(|(id, value)| value_words(id, *value));
    let values: Vec<String> = values.collect();
    let piece = match found.piece.is_empty() {
        true => String::new(),
        false => format!(", from {}", found.piece),
    };
    format!(
        "Found for {} on {} mm: {}{piece}",
        material(&found.material),
        show::number(found.nozzle_mm),
        values.join(", ")
    )
}

/// "flow ratio 0.94".
pub fn value_words(id: &str, value: f64) -> String {
    match value_of(id) {
        Some(of) => format!(
            "{} {}",
            of.number.plain,
            show::with_unit(value, of.number.unit)
        ),
        None => format!("{id} {}", show::number(value)),
    }
}

/// A material family as people write it.
pub fn material(family: &str) -> String {
    let mut context = Context::default();
    let _ = context.set(FieldId::Material.id(), family);
    context
        .get(FieldId::Material)
        .map_or(family, |v| v.plain)
        .to_string()
}

/// What became of a quirk.
pub fn quirk_now(now: QuirkNow) -> &'static str {
    match now {
        QuirkNow::Open => "open",
        QuirkNow::Done => "mended",
        QuirkNow::NotNeeded => "not on this one",
        QuirkNow::Postponed => "later",
    }
}

/// When a quirk is seen to.
pub fn quirk_time(when: QuirkTime) -> &'static str {
    match when {
        QuirkTime::First => "Before the first print",
        QuirkTime::Soon => "Soon",
        QuirkTime::SomeDay => "Some day",
    }
}

/// "Mended: soft springs under the bed".
pub fn quirk_words(k: &Knowledge, quirk: &str, now: QuirkNow, note: &str) -> String {
    let mut quirks = k.machine_kinds.iter().filter_map(|kind| kind.quirk(quirk));
    let name = quirks
        .next()
        .map_or(quirk.to_string(), |q| show::lower_first(&q.name));
    with_note(&format!("{}: {name}", show::capital(quirk_now(now))), note)
}

/// Words with a note behind them.
pub fn with_note(words: &str, note: &str) -> String {
    match note.is_empty() {
        true => words.to_string(),
        false => format!("{words}. {note}"),
    }
}

/// "212 of 200 h since it was last seen to".
pub fn due_reason(reason: &DueReason) -> String {
    let of = |since: f64, of: f64, unit: &str| {
        format!(
            "{} of {}\u{a0}{unit}",
            show::number(since.round()),
            show::number(of)
        )
    };
    match *reason {
        DueReason::Hours { since, of: all } => of(since, all, "h"),
        DueReason::Days { since, of: all } => of(since.floor(), all, "days"),
        DueReason::Kilograms { since, of: all } => of(since, all, "kg"),
        DueReason::Prints { since, of: all } => of(since, all, "prints"),
        DueReason::Mark { at } => format!("a mark had moved, seen {}", show::since(at)),
        DueReason::Part {
            since,
            of: all,
            worn,
        } => format!(
            "ran {}\u{a0}h, looked at from {}\u{a0}h; worn by the next look: {}",
            show::number(since.round()),
            show::number(all.round()),
            show::percent(worn)
        ),
    }
}

/// "every 200 h or 30 days".
pub fn interval(every: &Interval) -> String {
    let said = [
        (every.hours, "h"),
        (every.days, "days"),
        (every.kilograms, "kg"),
        (every.prints, "prints"),
    ];
    let said = said
        .into_iter()
        .filter_map(|(n, unit)| n.map(|n| format!("{}\u{a0}{unit}", show::number(n))));
    let said: Vec<String> = said.collect();
    match said.is_empty() {
        true => "as its part wears, or once a mark moved".into(),
        false => format!("every {}", said.join(" or ")),
    }
}

/// Why a value may not hold any more.
pub fn stale(stale: &Stale) -> String {
    match stale {
        Stale::Old => "found over a year ago".into(),
        Stale::Part(id) => {
            let name = part(id).map_or(*id, |p| p.name);
            format!("{} is newer", show::lower_first(name))
        }
    }
}

/// "Liner in the hot end ran 1 320 h of usual 800: ×1.6".
pub fn reason(reason: &Reason) -> String {
    let times = show::tenths(reason.factor);
    match &reason.why {
        Why::Part {
            part: id,
            hours,
            usual,
        } => {
            let name = part(id).map_or(*id, |p| p.name);
            format!(
                "{} ran {}\u{a0}h, usual are {}: ×{times}",
                show::lower_first(name),
                show::number(hours.round()),
                show::number(*usual)
            )
        }
        Why::Quirk(name) => format!("{}, not mended: ×{times}", show::lower_first(name)),
    }
}
