//! A machine is its log too: what it is built like, its counter, parts fitted, when it stood still.

mod earlier;
mod event;
mod journal;

pub use earlier::{can_be_earlier, in_time};
pub use event::{Described, FeatureRead, MachineEntry, MachineEvent};
pub use journal::{Calibration, Change, Changing, NOZZLES_MM, QuirkNow, VALUES, Value, value_of};

use crate::knowledge::Knowledge;
use crate::knowledge::parts::{PARTS, has};
use crate::lifting::{Lifting, lifting_holds};
use crate::measures::{ReadingProblem, holds};
use crate::nearest::short;
use crate::profile::{Context, ContextProblem, FieldId};
use crate::refusal::{NotNow, Problem, Refusal, Stopped};
use crate::series::LONGEST as LONGEST_SERIES;
use crate::{safety, text};
use std::collections::BTreeMap;

/// Most hours a counter can show: more than twenty years without a pause.
pub const MOST_HOURS: f64 = 200_000.0;

/// Devices of a machine that may be asked.
pub const DEVICES: [&str; 3] = ["console", "power-meter", "calipers"];

/// What the counter showed last.
pub fn counter(entries: &[MachineEntry]) -> Option<f64> {
    entries.iter().filter_map(|e| e.event.hours()).next_back()
}

/// Why a machine stands for parts; nothing while it does not.
pub fn retired(entries: &[MachineEntry]) -> Option<&str> {
    let last = entries.iter().rev().find_map(|entry| match &entry.event {
        MachineEvent::Retired { reason } => Some(Some(reason.as_str())),
        MachineEvent::BackInService => Some(None),
        _ => None,
    });
    last.flatten()
}

/// Where the devices of a machine are reached.
pub fn devices(entries: &[MachineEntry]) -> BTreeMap<String, String> {
    let mut reached = BTreeMap::new();
    for entry in entries {
        if let MachineEvent::Reached { device, address } = &entry.event {
            reached.insert(device.clone(), address.clone());
        }
    }
    reached.retain(|_, address: &mut String| !address.is_empty());
    reached
}

/// The last good file of a machine: its identifier and name.
pub fn good_file(entries: &[MachineEntry]) -> Option<(&str, &str)> {
    entries.iter().rev().find_map(|entry| match &entry.event {
        MachineEvent::Filed { file, name } => Some((file.as_str(), name.as_str())),
        _ => None,
    })
}

/// A profile as a context. What the present program does not know of it counts as not known.
pub fn build(profile: &BTreeMap<String, String>) -> Context {
    let mut context = Context::default();
    for (field, value) in profile {
        let _ = context.set(field, value);
    }
    context
}

/// Fields of the build that a case does not know as the machine has them now: field, value now.
pub fn news_for(case: &Context, profile: &BTreeMap<String, String>) -> BTreeMap<String, String> {
    let other = |(field, value): &(&String, &String)| {
        case.named(field)
            .is_none_or(|known| known != value.as_str())
            && Context::default().set(field, value).is_ok()
    };
    let news = profile.iter().filter(other);
    news.map(|(f, v)| (f.clone(), v.clone())).collect()
}

/// Checks an event against what the machine is (`None` for a new one) and what is recorded of it.
///
/// # Errors
/// What is wrong with which value and what would do.
pub fn accept(
    knowledge: &Knowledge,
    now: Option<(&Described, bool)>,
    log: &[MachineEntry],
    event: &MachineEvent,
) -> Result<(), Refusal> {
    if let Some(hours) = event.hours() {
        let restarted = matches!(
            event,
            MachineEvent::Counter {
                restarted: true,
                ..
            }
        );
        counted(log, hours, restarted)?;
    }
    journal::accept(knowledge, log, event)?;
    match event {
        MachineEvent::Fitted { part, .. } => part_there(now.map(|(m, _)| m), part),
        MachineEvent::Earlier { what, .. } => {
            earlier::accept(knowledge, now.map(|(m, _)| m), log, what)
        }
        MachineEvent::Described { machine, lifts } => {
            described(machine)?;
            lifted(knowledge, now.map(|(m, _)| m), machine, lifts.as_ref())
        }
        MachineEvent::OutOfService { reason } => {
            text::words(reason, text::LONGEST_TEXT).map_err(|e| Refusal::invalid("reason", e))?;
            match now {
                Some((_, true)) => Err(NotNow::OutOfService.into()),
                _ => Ok(()),
            }
        }
        MachineEvent::Benched { reading, .. } => holds(reading)
            .map_err(|why| Refusal::invalid("measure", ReadingProblem::Together(why.to_string()))),
        MachineEvent::PieceRead {
            spool, features, ..
        } => piece_read(spool, features),
        MachineEvent::Settled { name, .. } => {
            text::optional(name, LONGEST_SERIES).map_err(|e| Refusal::invalid("name", e))
        }
        MachineEvent::Filed { name, .. } => {
            text::optional(name, text::LONGEST_NAME).map_err(|e| Refusal::invalid("name", e))
        }
        MachineEvent::Reached { device, address } => reached(device, address),
        MachineEvent::Retired { .. } => match now {
            Some((_, true)) if retired(log).is_some() => Err(NotNow::OutOfService.into()),
            _ => Ok(()),
        },
        MachineEvent::BackInService => match now {
            Some((_, true)) => Ok(()),
            _ => Err(NotNow::InService.into()),
        },
        // What the journal looked at before.
        _ => Ok(()),
    }
}

/// The machine has such a part.
fn part_there(machine: Option<&Described>, part: &str) -> Result<(), Refusal> {
    let context = machine.map(|m| build(&m.profile)).unwrap_or_default();
    match PARTS.iter().any(|p| p.id == part && has(&context, p)) {
        true => Ok(()),
        false => {
            let problem = Problem::NoPartOfMachine(short(part));
            Err(Refusal::invalid("part", problem))
        }
    }
}

/// A device that may be asked, at an address.
fn reached(device: &str, address: &str) -> Result<(), Refusal> {
    if !DEVICES.contains(&device) {
        let problem = Problem::unknown("device", device, DEVICES);
        return Err(Refusal::invalid("device", problem));
    }
    text::optional(address, text::LONGEST_NAME).map_err(|e| Refusal::invalid(device, e))
}

/// A test piece that was read: its spool in words, grades that are some.
fn piece_read(spool: &str, features: &BTreeMap<String, FeatureRead>) -> Result<(), Refusal> {
    text::optional(spool, LONGEST_SERIES).map_err(|e| Refusal::invalid("spool", e))?;
    let beyond = features.values().filter_map(|f| f.grade).find(|g| *g > 5);
    beyond.map_or(Ok(()), |grade| {
        let problem = Problem::Amount {
            given: f64::from(grade),
            most: 5.0,
        };
        Err(Refusal::invalid("grade", problem))
    })
}

fn counted(log: &[MachineEntry], hours: f64, restarted: bool) -> Result<(), Refusal> {
    if !(0.0..=MOST_HOURS).contains(&hours) {
        let problem = Problem::Counter {
            given: hours,
            most: MOST_HOURS,
        };
        return Err(Refusal::invalid("hours", problem));
    }
    match counter(log).filter(|last| hours < *last && !restarted) {
        Some(before) => {
            let given = hours;
            let problem = Problem::CounterBackwards { before, given };
            Err(Refusal::invalid("hours", problem))
        }
        None => Ok(()),
    }
}

fn described(machine: &Described) -> Result<(), Refusal> {
    match problems(machine).into_iter().next() {
        None => Ok(()),
        Some((field, problem)) => Err(Refusal::Invalid { field, problem }),
    }
}

/// Everything that makes no sense in a description: field, and what is wrong with it.
pub fn problems(machine: &Described) -> Vec<(String, Problem)> {
    let texts = [
        ("name", text::words(&machine.name, text::LONGEST_NAME)),
        ("model", text::optional(&machine.model, text::LONGEST_NAME)),
        ("place", text::optional(&machine.place, text::LONGEST_NAME)),
        ("note", text::optional(&machine.note, text::LONGEST_TEXT)),
    ];
    let texts = texts.into_iter();
    let texts = texts.filter_map(|(f, r)| Some((f.to_string(), r.err()?.into())));
    let mut context = Context::default();
    let fields = machine.profile.iter().filter_map(|(field, value)| {
        let set = match FieldId::from_id(field) {
            Some(FieldId::Material) => Err(ContextProblem::MaterialIsOfTheCase),
            _ => context.set(field, value),
        };
        Some((field.clone(), set.err()?.into()))
    });
    texts.chain(fields).collect()
}

/// A change of the build that ends one of its stops takes a named person, a reason and the steps.
fn lifted(
    knowledge: &Knowledge,
    before: Option<&Described>,
    after: &Described,
    lifts: Option<&Lifting>,
) -> Result<(), Refusal> {
    for stop in ended_by(knowledge, before, after) {
        let stop = &knowledge.stops[stop];
        let Some(lifting) = lifts else {
            return Err(Refusal::Stopped {
                stop: stop.id.clone(),
                why: Stopped::WouldEnd,
            });
        };
        lifting_holds(
            &lifting.by,
            &lifting.reason,
            &lifting.seen,
            stop.work.steps.len(),
        )?;
    }
    Ok(())
}

/// Stops of the build that a change would end.
pub fn ended_by(
    knowledge: &Knowledge,
    before: Option<&Described>,
    after: &Described,
) -> Vec<usize> {
    let held = before.map(|m| safety::stops_of_build(knowledge, &build(&m.profile)));
    let still = safety::stops_of_build(knowledge, &build(&after.profile));
    let mut ended = held.unwrap_or_default();
    ended.retain(|s| !still.contains(s));
    ended
}

#[cfg(test)]
mod tests {
    use super::*;

    fn heron(board: &str) -> Described {
        Described {
            name: "Heron".into(),
            model: "Skiff 240".into(),
            profile: BTreeMap::from([("board_age".into(), board.into())]),
            ..Described::default()
        }
    }

    #[test]
    fn a_change_that_ends_a_stop_of_the_build_takes_name_reason_and_every_step() {
        let k = Knowledge::shipped();
        let before = heron("unprotected");
        let tried = |lifts: Option<Lifting>| {
            let event = MachineEvent::Described {
                machine: heron("protected"),
                lifts,
            };
            accept(&k, Some((&before, false)), &[], &event)
        };
        assert!(matches!(tried(None), Err(Refusal::Stopped { .. })));
        let steps = k
            .stops
            .iter()
            .find(|s| s.id == "no-runaway-protection")
            .unwrap();
        let all: Vec<u32> = (1..=steps.work.steps.len() as u32).collect();
        let lifting = |by: &str, reason: &str, seen: &[u32]| {
            tried(Some(Lifting {
                by: by.into(),
                reason: reason.into(),
                seen: seen.to_vec(),
            }))
        };
        assert!(lifting("\u{200b}", "New board", &all).is_err());
        assert!(lifting("M. Reed", "--", &all).is_err());
        assert!(lifting("M. Reed", "New board", &all[1..]).is_err());
        assert_eq!(lifting("M. Reed", "New board", &all), Ok(()));
        // A field no longer known ends the stop as well.
        let event = MachineEvent::Described {
            machine: Described {
                profile: BTreeMap::new(),
                ..before.clone()
            },
            lifts: None,
        };
        assert!(accept(&k, Some((&before, false)), &[], &event).is_err());
    }

    #[test]
    fn a_case_hears_only_of_what_it_does_not_know_yet() {
        let mut case = Context::default();
        case.set("feed", "bowden").unwrap();
        let profile = BTreeMap::from([
            ("feed".to_string(), "direct".to_string()),
            ("hotend".to_string(), "lined".to_string()),
            ("gone".to_string(), "x".to_string()),
        ]);
        assert_eq!(news_for(&case, &profile).len(), 2);
        case.set("feed", "direct").unwrap();
        assert_eq!(
            news_for(&case, &profile).keys().collect::<Vec<_>>(),
            ["hotend"]
        );
    }
}
