//! Parts of a machine that wear.

use super::Region;
use crate::profile::{Condition, Context};

/// A part that wears.
#[derive(Debug)]
pub struct Part {
    /// Identifier in logs and links.
    pub id: &'static str,
    /// The words a person reads.
    pub name: &'static str,
    /// Part of the machine's drawing it belongs to, as in [`super::MACHINE_REGIONS`].
    pub region: Region,
    /// Condition on the machine's profile, written `field=value|value`; empty where every machine
    /// has it.
    pub when: &'static str,
    /// Usual life in hours, and the cause it brings when worn; none where nobody knows. The maker's
    /// own figure goes first.
    pub usual: Option<(f64, &'static str)>,
    /// Fixes that fit a new one.
    pub renewed_by: &'static [&'static str],
}

macro_rules! parts {
    ($($id:literal $name:literal $region:ident $when:literal [$($usual:tt)*] $fixes:tt)+) => {
        /// Parts that wear, by their place on the machine.
        pub const PARTS: &[Part] = &[$(Part { id: $id, name: $name, region: Region::$region,
            when: $when, usual: parts!(@usual $($usual)*), renewed_by: &$fixes }),+];
    };
    (@usual) => { None };
    (@usual $hours:literal $cause:literal) => { Some(($hours, $cause)) };
}

parts! {
    "nozzle" "Nozzle" HotEnd "" [500.0 "nozzle-worn"] ["replace-nozzle"]
    "liner" "Liner in the hot end" HotEnd "hotend=lined" [800.0 "liner-worn"] ["trim-liner"]
    "heater-sensor" "Heater and sensor" HotEnd "" [] []
    "heatsink-fan" "Fan on the cooling fins" HotEnd "" [4000.0 "heatsink-fan-failed"] []
    "part-fan" "Part fan" HotEnd "" [3000.0 "part-fan-failing"] ["replace-part-fan"]
    "drive-gear" "Drive gear and idler" Feeder "" [3000.0 "drive-gear-worn"] ["replace-drive-gear"]
    "tube" "Feed tube and couplers" Spool "feed=bowden" [1500.0 "coupler-worn"]
        ["replace-tube", "replace-coupler"]
    "switcher" "Filament switcher" Spool "filament_change=switcher" [] []
    "belts" "Belts and pulleys" Motion "" [3000.0 "belt-loose"] []
    "wheels" "Wheels" Motion "carriage=wheels" [2000.0 "carriage-slack"] []
    "rails" "Rails and their carriages" Motion "carriage=rails" [8000.0 "bearing-worn"]
        ["replace-bearing"]
    "rods" "Rods and their bearings" Motion "carriage=rods" [4000.0 "bearing-worn"]
        ["replace-bearing"]
    "z-screws" "Z screws and nuts" Motion "z_drive=one-screw|two-screws|three-screws" []
        ["replace-screw"]
    "plate" "Build plate" Bed "" [] ["replace-plate"]
    "probe" "Probe" Bed "levelling=probe" [] ["replace-probe"]
    "chamber-filter" "Chamber fan and filter" Chamber "enclosure=closed|heated" [] []
    "power-plugs" "Power plugs and bed cable" Electrics "" [] []
}

/// A part by its identifier.
pub fn part(id: &str) -> Option<&'static Part> {
    PARTS.iter().find(|p| p.id == id)
}

/// The part of a machine that a fix fits new.
pub fn renewed_by(context: &Context, fix: &str) -> Option<&'static Part> {
    let mut renewed = PARTS.iter().filter(|p| p.renewed_by.contains(&fix));
    renewed.find(|p| has(context, p))
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
            let knowledge = crate::knowledge::Knowledge::shipped();
            let cause = part.usual.map(|(_, cause)| cause);
            assert!(
                cause.is_none_or(|c| knowledge.cause_id(c).is_some()),
                "{}",
                part.id
            );
            let mut fixes = part.renewed_by.iter();
            assert!(fixes.all(|f| knowledge.fix_id(f).is_some()), "{}", part.id);
        }
    }
}
