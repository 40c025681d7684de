//! Numbers of a job (temperatures, speeds, sizes) and the one table of what makes sense for each.

mod problem;
mod reading;
pub(crate) mod units;

pub use problem::{NumberProblem, Range};
pub use reading::{Conversion, Reading, read_list, read_number};

use crate::identified::identified;
use crate::nearest::{nearest, short};

/// One number a case may hold, with the range outside which it makes no sense at all.
#[derive(Debug)]
pub struct Number {
    /// Identifier with its unit, as in case files: `nozzle_c`.
    pub id: &'static str,
    /// The words a person reads: "nozzle temperature".
    pub plain: &'static str,
    /// Unit as shown: "°C".
    pub unit: &'static str,
    /// Smallest value accepted.
    pub min: f64,
    /// Largest value accepted.
    pub max: f64,
    /// Step of the form's field: 1 for whole numbers.
    pub step: f64,
}

macro_rules! numbers {
    ($($name:ident $id:literal $plain:literal $unit:literal
       $min:literal $max:literal $step:literal)+) => {
        identified! {
            /// A number a case may hold, by name.
            pub enum NumberId {
                $( #[doc = concat!($plain, " in ", $unit)] $name = $id ),+
            }
        }

        /// Every number a case may hold, in the order of [`NumberId`]. Limits are about sense, not
        /// about good practice: windows of the material do that.
        pub static NUMBERS: [Number; NumberId::ALL.len()] = [$(Number {
            id: $id,
            plain: $plain,
            unit: $unit,
            min: $min as f64,
            max: $max as f64,
            step: $step as f64,
        }),+];
    };
}

numbers! {
    NozzleMm "nozzle_mm" "nozzle size" "mm" 0.1 2.0 0.05
    FilamentMm "filament_mm" "filament diameter" "mm" 1.0 3.5 0.01
    NozzleC "nozzle_c" "nozzle temperature" "°C" 0 500 1
    BedC "bed_c" "bed temperature" "°C" 0 200 1
    ChamberC "chamber_c" "chamber temperature" "°C" -20 150 1
    FanPercent "fan_percent" "part fan" "%" 0 100 1
    SpeedMmS "speed_mm_s" "print speed" "mm/s" 1 1500 1
    AccelMmS2 "accel_mm_s2" "acceleration" "mm/s²" 10 100000 10
    LayerMm "layer_mm" "layer height" "mm" 0.02 2.0 0.01
    LineWidthMm "line_width_mm" "line width" "mm" 0.05 3.0 0.01
    FlowRatio "flow_ratio" "flow ratio" "" 0.2 3.0 0.01
    RetractMm "retract_mm" "retraction" "mm" 0 20 0.1
    TopLayers "top_layers" "top layers" "" 0 100 1
    InfillPercent "infill_percent" "infill" "%" 0 100 1
    CalibratedFlowRatio "calibrated_flow_ratio" "flow ratio as calibrated" "" 0.2 3.0 0.01
    FilamentSetMm "filament_set_mm" "filament diameter set in the slicer" "mm" 1.0 3.5 0.01
    TravelMmS "travel_mm_s" "travel speed" "mm/s" 1 2000 1
    RetractMmS "retract_mm_s" "retraction speed" "mm/s" 1 300 1
    Walls "walls" "walls" "" 0 50 1
    LayerS "layer_s" "time of the shortest layer" "s" 0.5 7200 1
    ZLeadMm "z_lead_mm" "lead of the Z screw" "mm" 0.2 60 0.1
    ZFullSteps "z_full_steps" "full steps of the Z motor in a turn" "" 20 2000 1
    OwnNozzleLowC "own_nozzle_low_c" "nozzle of this filament, from" "°C" 100 500 1
    OwnNozzleHighC "own_nozzle_high_c" "nozzle of this filament, to" "°C" 100 500 1
    OwnBedLowC "own_bed_low_c" "bed of this filament, from" "°C" 0 200 1
    OwnBedHighC "own_bed_high_c" "bed of this filament, to" "°C" 0 200 1
    MeltLimitMm3S "melt_limit_mm3_s" "melt limit of the hot end" "mm³/s" 0.5 200 0.1
    LinedLimitC "lined_limit_c" "limit of the lined hot end" "°C" 200 260 1
    PieceHeightMm "piece_height_mm" "height of the piece" "mm" 0.1 2000 0.1
    FaultHeightMm "fault_height_mm" "height of the fault above the plate" "mm" 0 2000 0.1
}

impl NumberId {
    /// Its words, unit and range.
    pub fn number(self) -> &'static Number {
        &NUMBERS[self as usize]
    }

    /// Whether it is a height on the piece, which the print map asks for, and not a setting.
    pub fn is_height(self) -> bool {
        matches!(self, NumberId::PieceHeightMm | NumberId::FaultHeightMm)
    }
}

impl Number {
    /// The range outside which it makes no sense.
    pub fn range(&self) -> Range {
        Range {
            plain: self.plain,
            unit: self.unit,
            min: self.min,
            max: self.max,
        }
    }

    /// Accepts `value` or says why it makes no sense.
    ///
    /// # Errors
    /// The range with its unit, and the value given.
    pub fn accept(&self, value: f64) -> Result<f64, NumberProblem> {
        let range = self.range();
        if !value.is_finite() {
            return Err(NumberProblem::NotANumber { range, given: None });
        }
        if value < self.min || value > self.max {
            return Err(NumberProblem::Outside {
                range,
                given: value,
            });
        }
        // Half a layer is none.
        let counted = [NumberId::TopLayers, NumberId::Walls, NumberId::ZFullSteps];
        if counted.iter().any(|n| n.id() == self.id) && value.fract() != 0.0 {
            return Err(NumberProblem::NotWhole {
                plain: self.plain,
                given: value,
            });
        }
        Ok(value)
    }
}

/// The number with this identifier.
///
/// # Errors
/// Says that it is unknown and which known one is nearest.
pub fn number_id(id: &str) -> Result<NumberId, NumberProblem> {
    NumberId::from_id(id).ok_or_else(|| NumberProblem::Unknown {
        given: short(id),
        near: nearest(id, NUMBERS.iter().map(|n| n.id)),
    })
}

/// The numbers known of a case; each is inside its range of [`NUMBERS`].
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Settings([Option<f64>; NumberId::ALL.len()]);

impl Settings {
    /// Sets a number.
    ///
    /// # Errors
    /// When the identifier is unknown or the value makes no sense.
    pub fn set(&mut self, id: &str, value: f64) -> Result<(), NumberProblem> {
        let number = number_id(id)?;
        self.0[number as usize] = Some(number.number().accept(value)?);
        Ok(())
    }

    /// The value of a number, if known.
    pub fn get(&self, number: NumberId) -> Option<f64> {
        self.0[number as usize]
    }

    /// The value of a number by its identifier, if both are known.
    pub fn named(&self, id: &str) -> Option<f64> {
        NumberId::from_id(id).and_then(|number| self.get(number))
    }

    /// Known numbers with their values, in the order of [`NumberId`].
    pub fn known(&self) -> impl Iterator<Item = (NumberId, f64)> + '_ {
        NumberId::ALL
            .into_iter()
            .zip(self.0)
            .filter_map(|(n, v)| v.map(|v| (n, v)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_outside_any_sense_are_refused_with_range_and_unit() {
        let mut settings = Settings::default();
        assert_eq!(
            settings.set("nozzle_c", 2000.0).unwrap_err().to_string(),
            "nozzle temperature must be between 0 and 500 °C, but 2000 °C was given"
        );
        assert_eq!(
            settings.set("layer_mm", 20.0).unwrap_err().to_string(),
            "layer height must be between 0.02 and 2 mm, but 20 mm was given"
        );
        assert!(
            settings
                .set("bed_c", f64::NAN)
                .unwrap_err()
                .to_string()
                .contains("must be a number between 0 and 200 °C")
        );
        assert_eq!(settings, Settings::default());
        for (n, id) in NUMBERS.iter().zip(NumberId::ALL) {
            assert_eq!((n.id, id.number().id), (id.id(), n.id));
        }
    }
}
