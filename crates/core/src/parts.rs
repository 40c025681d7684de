//! Hours of a machine's parts: readings of its counter and parts fitted new, an append-only list of its own.

use crate::profile::{Condition, Context};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

/// A part that wears.
#[derive(Debug)]
pub struct Part {
    /// Identifier in logs and links.
    pub id: &'static str,
    /// The words a person reads.
    pub name: &'static str,
    /// Part of the machine's drawing it belongs to, as in [`crate::knowledge::MACHINE_REGIONS`].
    pub region: &'static str,
    /// Condition on the machine's profile, written `field=value|value`; empty where every machine has it.
    pub when: &'static str,
}

macro_rules! parts {
    ($($id:literal $name:literal $region:literal $when:literal)+) => {
        /// Parts that wear, by their place on the machine.
        pub const PARTS: &[Part] = &[$(Part { id: $id, name: $name, region: $region, when: $when }),+];
    };
}

parts! {
    "nozzle" "Nozzle" "hot end" ""
    "liner" "Liner in the hot end" "hot end" "hotend=lined"
    "heater-sensor" "Heater and sensor" "hot end" ""
    "heatsink-fan" "Fan on the cooling fins" "hot end" ""
    "part-fan" "Part fan" "hot end" ""
    "drive-gear" "Drive gear and idler" "feeder" ""
    "tube" "Feed tube and couplers" "spool" "feed=bowden"
    "switcher" "Filament switcher" "spool" "filament_change=switcher"
    "belts" "Belts and pulleys" "motion" ""
    "wheels" "Wheels" "motion" "carriage=wheels"
    "rails" "Rails and their carriages" "motion" "carriage=rails"
    "rods" "Rods and their bearings" "motion" "carriage=rods"
    "z-screws" "Z screws and nuts" "motion" "z_drive=one-screw|two-screws|three-screws"
    "plate" "Build plate" "bed" ""
    "probe" "Probe" "bed" "levelling=probe"
    "chamber-filter" "Chamber fan and filter" "chamber" "enclosure=closed|heated"
    "power-plugs" "Power plugs and bed cable" "electrics" ""
}

/// Something noted about a machine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum MachineEvent {
    /// The counter of printing hours was read.
    Counter {
        /// Hours it showed.
        hours: f64,
    },
    /// A part was fitted new.
    Fitted {
        /// Part.
        part: String,
        /// Hours the counter showed.
        hours: f64,
    },
}

/// A machine's event with its moment.
#[derive(Debug, Clone, PartialEq)]
pub struct MachineEntry {
    /// When it was recorded.
    pub at: OffsetDateTime,
    /// What.
    pub event: MachineEvent,
}

impl MachineEvent {
    fn hours(&self) -> f64 {
        match self {
            MachineEvent::Counter { hours } | MachineEvent::Fitted { hours, .. } => *hours,
        }
    }
}

/// Hours of one part.
#[derive(Debug, Clone, Copy)]
pub struct PartHours {
    /// The part.
    pub part: &'static Part,
    /// Hours printed since it was fitted; `None` while the counter was never read.
    pub hours: Option<f64>,
    /// When it was fitted; `None` when it is as old as the records.
    pub fitted: Option<OffsetDateTime>,
}

/// What the counter showed last.
pub fn counter(entries: &[MachineEntry]) -> Option<f64> {
    entries.iter().map(|e| e.event.hours()).next_back()
}

/// Hours of every part a machine has.
pub fn hours(context: &Context, entries: &[MachineEntry]) -> Vec<PartHours> {
    let now = counter(entries);
    let of = |part: &'static Part| {
        let fitted = entries
            .iter()
            .rev()
            .find(|e| matches!(&e.event, MachineEvent::Fitted { part: p, .. } if p == part.id));
        let since = fitted.map_or(0.0, |e| e.event.hours());
        PartHours {
            part,
            hours: now.map(|now| now - since),
            fitted: fitted.map(|e| e.at),
        }
    };
    PARTS.iter().filter(|p| has(context, p)).map(of).collect()
}

/// Whether a machine has a part; what its profile does not say is no reason against it.
fn has(context: &Context, part: &Part) -> bool {
    part.when.is_empty()
        || Condition::parse(part.when).is_ok_and(|c| c.holds(context) == Some(true))
}

/// Most hours a counter can show: more than twenty years without a pause.
pub const MOST_HOURS: f64 = 200_000.0;

/// Checks an event against what is recorded.
///
/// # Errors
/// What is wrong with which value and what would do.
pub fn accept(
    context: &Context,
    entries: &[MachineEntry],
    event: &MachineEvent,
) -> Result<(), String> {
    let hours = event.hours();
    if !hours.is_finite() || !(0.0..=MOST_HOURS).contains(&hours) {
        return Err(format!(
            "the counter must show between 0 and {MOST_HOURS} hours, but {hours} was given"
        ));
    }
    if let Some(last) = counter(entries).filter(|last| hours < *last) {
        return Err(format!(
            "the counter showed {last} hours before: it does not run backwards to {hours}"
        ));
    }
    match event {
        MachineEvent::Fitted { part, .. }
            if !PARTS.iter().any(|p| p.id == part && has(context, p)) =>
        {
            Err(format!(
                "`{}` is no part of this machine",
                crate::nearest::short(part)
            ))
        }
        _ => Ok(()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::knowledge::MACHINE_REGIONS;

    #[test]
    fn conditions_and_regions_of_the_parts_are_known() {
        for part in PARTS {
            assert!(
                part.when.is_empty() || Condition::parse(part.when).is_ok(),
                "{}",
                part.id
            );
            assert!(
                MACHINE_REGIONS.iter().any(|(id, _)| *id == part.region),
                "{}",
                part.id
            );
        }
    }

    #[test]
    fn hours_count_from_the_fitting_and_the_counter_never_runs_back() {
        let mut context = Context::default();
        context.set("feed", "bowden").unwrap();
        let at = OffsetDateTime::UNIX_EPOCH;
        let entry = |event| MachineEntry { at, event };
        let mut log = Vec::new();
        assert!(hours(&context, &log).iter().all(|p| p.hours.is_none()));
        log.push(entry(MachineEvent::Counter { hours: 100.0 }));
        log.push(entry(MachineEvent::Fitted {
            part: "nozzle".into(),
            hours: 140.0,
        }));
        log.push(entry(MachineEvent::Counter { hours: 190.5 }));
        let of = |id: &str| hours(&context, &log).into_iter().find(|p| p.part.id == id);
        assert_eq!(of("nozzle").unwrap().hours, Some(50.5));
        assert_eq!(of("tube").unwrap().hours, Some(190.5));
        assert!(of("rails").is_none() && of("liner").is_none());
        assert!(
            accept(&context, &log, &MachineEvent::Counter { hours: 190.0 })
                .unwrap_err()
                .contains("backwards to 190")
        );
        assert!(accept(&context, &log, &MachineEvent::Counter { hours: f64::NAN }).is_err());
        assert!(
            accept(
                &context,
                &log,
                &MachineEvent::Fitted {
                    part: "rails".into(),
                    hours: 200.0
                }
            )
            .is_err()
        );
        assert!(
            accept(
                &context,
                &log,
                &MachineEvent::Fitted {
                    part: "nozzle".into(),
                    hours: 200.0
                }
            )
            .is_ok()
        );
    }
}
