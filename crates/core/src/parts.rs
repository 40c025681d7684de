//! Hours of a machine's parts: readings of its counter and parts fitted new, an append-only list of its own.

use crate::knowledge::Region;
use crate::machine::{MachineEntry, MachineEvent};
use crate::profile::{Condition, Context};
use time::OffsetDateTime;

/// A part that wears.
#[derive(Debug)]
pub struct Part {
    /// Identifier in logs and links.
    pub id: &'static str,
    /// The words a person reads.
    pub name: &'static str,
    /// Part of the machine's drawing it belongs to, as in [`crate::knowledge::MACHINE_REGIONS`].
    pub region: Region,
    /// Condition on the machine's profile, written `field=value|value`; empty where every machine has it.
    pub when: &'static str,
}

macro_rules! parts {
    ($($id:literal $name:literal $region:ident $when:literal)+) => {
        /// Parts that wear, by their place on the machine.
        pub const PARTS: &[Part] = &[$(Part { id: $id, name: $name, region: Region::$region, when: $when }),+];
    };
}

parts! {
    "nozzle" "Nozzle" HotEnd ""
    "liner" "Liner in the hot end" HotEnd "hotend=lined"
    "heater-sensor" "Heater and sensor" HotEnd ""
    "heatsink-fan" "Fan on the cooling fins" HotEnd ""
    "part-fan" "Part fan" HotEnd ""
    "drive-gear" "Drive gear and idler" Feeder ""
    "tube" "Feed tube and couplers" Spool "feed=bowden"
    "switcher" "Filament switcher" Spool "filament_change=switcher"
    "belts" "Belts and pulleys" Motion ""
    "wheels" "Wheels" Motion "carriage=wheels"
    "rails" "Rails and their carriages" Motion "carriage=rails"
    "rods" "Rods and their bearings" Motion "carriage=rods"
    "z-screws" "Z screws and nuts" Motion "z_drive=one-screw|two-screws|three-screws"
    "plate" "Build plate" Bed ""
    "probe" "Probe" Bed "levelling=probe"
    "chamber-filter" "Chamber fan and filter" Chamber "enclosure=closed|heated"
    "power-plugs" "Power plugs and bed cable" Electrics ""
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
    entries.iter().filter_map(|e| e.event.hours()).next_back()
}

/// Hours of every part a machine has.
pub fn hours(context: &Context, entries: &[MachineEntry]) -> Vec<PartHours> {
    let now = counter(entries);
    let of = |part: &'static Part| {
        let fitted = entries
            .iter()
            .rev()
            .find(|e| matches!(&e.event, MachineEvent::Fitted { part: p, .. } if p == part.id));
        let since = fitted.and_then(|e| e.event.hours()).unwrap_or(0.0);
        PartHours {
            part,
            hours: now.map(|now| now - since),
            fitted: fitted.map(|e| e.at),
        }
    };
    PARTS.iter().filter(|p| has(context, p)).map(of).collect()
}

/// Whether a machine has a part; what its profile does not say is no reason against it.
pub fn has(context: &Context, part: &Part) -> bool {
    part.when.is_empty()
        || Condition::parse(part.when).is_ok_and(|c| c.holds(context) == Some(true))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::knowledge::Knowledge;
    use crate::machine::{Described, accept};

    #[test]
    fn conditions_and_regions_of_the_parts_are_known() {
        for part in PARTS {
            assert!(
                part.when.is_empty() || Condition::parse(part.when).is_ok(),
                "{}",
                part.id
            );
            assert!(
                Region::of_machine().any(|region| region == part.region),
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
        let entry = |event| MachineEntry {
            seq: 1,
            at,
            by: None,
            event,
        };
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
        let k = Knowledge::shipped();
        let machine = Described {
            profile: [("feed".to_string(), "bowden".to_string())].into(),
            ..Described::default()
        };
        let accepted = |event| accept(&k, Some((&machine, false)), &log, &event);
        let backwards = accepted(MachineEvent::Counter { hours: 190.0 });
        assert!(
            backwards
                .unwrap_err()
                .to_string()
                .contains("backwards to 190")
        );
        assert!(accepted(MachineEvent::Counter { hours: f64::NAN }).is_err());
        let fitted = |part: &str| MachineEvent::Fitted {
            part: part.into(),
            hours: 200.0,
        };
        assert!(accepted(fitted("rails")).is_err());
        assert!(accepted(fitted("nozzle")).is_ok());
    }
}
