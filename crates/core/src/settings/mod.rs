//! Numbers of a job (temperatures, speeds, sizes) and the one table of what makes sense for each.

mod reading;

pub use reading::{Reading, read_list, read_number};

use crate::nearest::{hint, short};

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
    ($($id:literal $plain:literal $unit:literal $min:literal $max:literal $step:literal)+) => {
        /// Every number a case may hold. Limits are about sense, not about good practice: windows of the material do that.
        pub const NUMBERS: &[Number] =
            &[$(Number { id: $id, plain: $plain, unit: $unit, min: $min as f64, max: $max as f64, step: $step as f64 }),+];
    };
}

numbers! {
    "nozzle_mm" "nozzle size" "mm" 0.1 2.0 0.05
    "filament_mm" "filament diameter" "mm" 1.0 3.5 0.01
    "nozzle_c" "nozzle temperature" "°C" 0 500 1
    "bed_c" "bed temperature" "°C" 0 200 1
    "chamber_c" "chamber temperature" "°C" -20 150 1
    "fan_percent" "part fan" "%" 0 100 1
    "speed_mm_s" "print speed" "mm/s" 1 1500 1
    "accel_mm_s2" "acceleration" "mm/s²" 10 100000 10
    "layer_mm" "layer height" "mm" 0.02 2.0 0.01
    "line_width_mm" "line width" "mm" 0.05 3.0 0.01
    "flow_ratio" "flow ratio" "" 0.2 3.0 0.01
    "retract_mm" "retraction" "mm" 0 20 0.1
    "top_layers" "top layers" "" 0 100 1
    "infill_percent" "infill" "%" 0 100 1
    "melt_limit_mm3_s" "melt limit of the hot end" "mm³/s" 0.5 200 0.1
    "lined_limit_c" "limit of the lined hot end" "°C" 200 260 1
    "piece_height_mm" "height of the piece" "mm" 0.1 2000 0.1
    "fault_height_mm" "height of the fault above the plate" "mm" 0 2000 0.1
}

impl Number {
    /// Accepts `value` or says why it makes no sense.
    ///
    /// # Errors
    /// The message names the number, the range with its unit and the value given.
    pub fn accept(&self, value: f64) -> Result<f64, String> {
        let unit = self.spaced_unit();
        if !value.is_finite() {
            return Err(format!(
                "{} must be a number between {} and {}{unit}",
                self.plain, self.min, self.max
            ));
        }
        if value < self.min || value > self.max {
            return Err(format!(
                "{} must be between {} and {}{unit}, but {value}{unit} was given",
                self.plain, self.min, self.max
            ));
        }
        if self.id == "top_layers" && value.fract() != 0.0 {
            return Err(format!(
                "{} must be a whole number, but {value} was given",
                self.plain
            ));
        }
        Ok(value)
    }

    /// The unit as it stands behind a number, nothing for numbers without one.
    fn spaced_unit(&self) -> String {
        if self.unit.is_empty() {
            String::new()
        } else {
            format!(" {}", self.unit)
        }
    }
}

/// Position of a number in [`NUMBERS`].
///
/// # Errors
/// Says that it is unknown and which known one is nearest.
pub fn position(id: &str) -> Result<usize, String> {
    NUMBERS.iter().position(|n| n.id == id).ok_or_else(|| {
        format!(
            "`{}` is not a known number{}",
            short(id),
            hint(id, NUMBERS.iter().map(|n| n.id))
        )
    })
}

/// The numbers known of a case; each is inside its range of [`NUMBERS`].
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Settings([Option<f64>; NUMBERS.len()]);

impl Settings {
    /// Sets a number.
    ///
    /// # Errors
    /// When the identifier is unknown or the value makes no sense.
    pub fn set(&mut self, id: &str, value: f64) -> Result<(), String> {
        let index = position(id)?;
        self.0[index] = Some(NUMBERS[index].accept(value)?);
        Ok(())
    }

    /// The value of a number, if known.
    pub fn get(&self, id: &str) -> Option<f64> {
        NUMBERS
            .iter()
            .position(|n| n.id == id)
            .and_then(|i| self.0[i])
    }

    /// Known numbers with their values.
    pub fn known(&self) -> impl Iterator<Item = (&'static Number, f64)> + '_ {
        NUMBERS
            .iter()
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
            settings.set("nozzle_c", 2000.0).unwrap_err(),
            "nozzle temperature must be between 0 and 500 °C, but 2000 °C was given"
        );
        assert_eq!(
            settings.set("layer_mm", 20.0).unwrap_err(),
            "layer height must be between 0.02 and 2 mm, but 20 mm was given"
        );
        assert!(
            settings
                .set("bed_c", f64::NAN)
                .unwrap_err()
                .contains("must be a number between 0 and 200 °C")
        );
        assert_eq!(settings, Settings::default());
    }
}
