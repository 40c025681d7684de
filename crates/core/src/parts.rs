//! Parts of a machine that wear.

use crate::knowledge::Region;
use crate::profile::{Condition, Context};

/// A part that wears.
#[derive(Debug)]
pub struct Part {
    /// Identifier in logs and links.
    pub id: &'static str,
    /// The words a person reads.
    pub name: &'static str,
    /// Part of the machine's drawing it belongs to, as in [`crate::knowledge::MACHINE_REGIONS`].
    pub region: Region,
    /// Condition on the machine's profile, written `field=value|value`; empty where every machine
    /// has it.
    pub when: &'static str,
}

macro_rules! parts {
    ($($id:literal $name:literal $region:ident $when:literal)+) => {
        /// Parts that wear, by their place on the machine.
        pub const PARTS: &[Part] = &[$(Part { id: $id, name: $name, region: Region::$region,
            when: $when }),+];
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

/// Whether a machine has a part; what its profile does not say is no reason against it.
pub fn has(context: &Context, part: &Part) -> bool {
    part.when.is_empty()
        || Condition::parse(part.when).is_ok_and(|c| c.holds(context) == Some(true))
}

#[cfg(test)]
mod tests {
    use super::*;

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
}
