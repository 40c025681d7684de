//! The year of each machine of the demo as its journal tells it: hours that grow, new parts,
//! upkeep, changes, values found.

use super::measured;
use super::scenario::{DemoHours, DemoMachine};
use anyhow::{Context, Result, bail};
use suspect_core::machine::{Calibration, Change, Changing, MachineEvent, QuirkNow};
use time::format_description::well_known::Rfc3339;
use time::macros::datetime;
use time::{Duration, OffsetDateTime};

/// The counter is read once a month, the last time then.
const READ_LAST: OffsetDateTime = datetime!(2026-11-24 08:30 UTC);
const READINGS: u32 = 13;
const READ_EVERY: Duration = Duration::days(28);
/// What an hour of printing takes, in kilograms, and how many prints there are in one.
const KILOGRAMS_AN_HOUR: f64 = 0.018;
const PRINTS_AN_HOUR: f64 = 0.3;

/// An entry with its moment.
pub type Told = (OffsetDateTime, MachineEvent);

/// Everything but its first entry, in the order of time.
pub fn of(machine: &DemoMachine, begun: OffsetDateTime) -> Result<Vec<Told>> {
    let mut told = measured::entries(machine, begun)?;
    told.extend(hours(&machine.hours));
    for line in &machine.journal {
        told.extend(read(line).with_context(|| format!("journal \"{line}\""))?);
    }
    told.sort_by_key(|(at, _)| *at);
    Ok(told)
}

/// Readings of the counter, and parts fitted when it showed their hours.
fn hours(hours: &DemoHours) -> Vec<Told> {
    let first = READ_LAST - READ_EVERY * (READINGS - 1) as i32;
    let pace = (hours.counter - hours.begun) / f64::from(READINGS - 1);
    let mut told: Vec<Told> = (0..READINGS)
        .map(|n| {
            let shown = (hours.begun + pace * f64::from(n)).round();
            let event = MachineEvent::Counter {
                hours: shown,
                kilograms: Some((shown * KILOGRAMS_AN_HOUR * 10.0).round() / 10.0),
                prints: Some((shown * PRINTS_AN_HOUR).round()),
                restarted: false,
            };
            (first + READ_EVERY * n as i32, event)
        })
        .collect();
    for (part, shown) in &hours.fitted {
        let since = ((shown - hours.begun) / pace).max(0.05);
        let at = first + Duration::seconds_f64(since * READ_EVERY.as_seconds_f64());
        let event = MachineEvent::Fitted {
            part: part.clone(),
            hours: shown.max(hours.begun),
            early: false,
        };
        told.push((at, event));
    }
    told
}

/// "2026-05-02T10:00:00Z kept z-screws", "… wrong belt-tension Frayed at the idler",
/// "… changed Retraction | 5 mm | 4 mm", "… firmware Build | 3 | 4", "… good Lock gate",
/// "… round ID ID ID", "… quirk ID done A word", "… found petg 0.4 nozzle_c 240 from a ladder",
/// "… note TEXT", "… parts REASON".
fn read(line: &str) -> Result<Vec<Told>> {
    let mut words = line.splitn(3, ' ');
    let at = OffsetDateTime::parse(words.next().unwrap_or(""), &Rfc3339)?;
    let say = words.next().unwrap_or("");
    let rest = words.next().unwrap_or("");
    let (first, more) = rest.split_once(' ').unwrap_or((rest, ""));
    let event = match say {
        "round" => {
            let seen = |task: &str| MachineEvent::Kept {
                task: task.into(),
                wrong: false,
                note: String::new(),
            };
            let one = |(n, task): (i64, &str)| (at + Duration::minutes(4 * n), seen(task));
            return Ok((0..).zip(rest.split(' ')).map(one).collect());
        }
        "kept" | "wrong" => MachineEvent::Kept {
            task: first.into(),
            wrong: say == "wrong",
            note: more.into(),
        },
        "changed" | "firmware" => {
            let mut parts = rest.split('|').map(|p| p.trim().to_string());
            let mut next = || parts.next().context("NAME | BEFORE | AFTER");
            MachineEvent::Changed(Change {
                what: match say {
                    "firmware" => Changing::Firmware,
                    _ => Changing::Setting,
                },
                name: next()?,
                before: next()?,
                after: next()?,
            })
        }
        "good" => MachineEvent::Good {
            case: String::new(),
            note: rest.into(),
        },
        "quirk" => {
            let (now, note) = more.split_once(' ').unwrap_or((more, ""));
            MachineEvent::Quirk {
                quirk: first.into(),
                now: QuirkNow::from_id(now).context("what became of the quirk")?,
                note: note.into(),
            }
        }
        "found" => found(rest)?,
        "note" => MachineEvent::Noted { text: rest.into() },
        "parts" => MachineEvent::Retired {
            reason: rest.into(),
        },
        other => bail!("no entry is called \"{other}\""),
    };
    Ok(vec![(at, event)])
}

fn found(rest: &str) -> Result<MachineEvent> {
    let mut words = rest.splitn(5, ' ');
    let mut next = || words.next().context("MATERIAL NOZZLE VALUE AMOUNT PIECE");
    let (material, nozzle, value, amount) = (next()?, next()?, next()?, next()?);
    Ok(MachineEvent::Calibrated(Calibration {
        nozzle_mm: nozzle.parse()?,
        material: material.into(),
        values: [(value.to_string(), amount.parse()?)].into(),
        piece: next().unwrap_or("").into(),
    }))
}
