//! Which device of a machine can read which number.

use suspect_core::measures::{Hold, Input, Kind, Measure, Unit};

/// The device that can give an input of a measure.
pub fn device_for(measure: &Measure, input: &Input) -> Option<&'static str> {
    match (input.unit, measure.card.hold) {
        (Unit::W, _) if matches!(input.kind, Kind::Readings(..)) => Some("power-meter"),
        (Unit::Mm, Hold::Calipers) if matches!(input.kind, Kind::Readings(..)) => Some("calipers"),
        (Unit::C, _) if input.id == "shown_c" => Some("console"),
        _ => None,
    }
}
