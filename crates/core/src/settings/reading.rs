//! Numbers as people type them: decimal comma, units, inches, per cent and ratio. Whatever was converted is told in a note.

use super::Number;
use crate::nearest::short;

/// A number read from what a person typed.
#[derive(Debug, Clone, PartialEq)]
pub struct Reading {
    /// In the number's own unit, within its limits.
    pub value: f64,
    /// What was converted, to be shown beside the value: "0.008 in read as 0.203 mm".
    pub note: Option<String>,
}

/// A unit people write, and how a value in it becomes one in the number's own: `(value − offset) × factor`.
struct Unit {
    of: &'static str,
    written: &'static [&'static str],
    offset: f64,
    factor: f64,
}

/// Units by the unit they are converted to. The first of each is the number's own.
const UNITS: &[Unit] = &[
    Unit {
        of: "mm",
        written: &["mm", "millimetre", "millimetres"],
        offset: 0.0,
        factor: 1.0,
    },
    Unit {
        of: "mm",
        written: &["in", "inch", "inches", "\"", "″", "”"],
        offset: 0.0,
        factor: 25.4,
    },
    Unit {
        of: "mm",
        written: &["thou", "mil"],
        offset: 0.0,
        factor: 0.0254,
    },
    Unit {
        of: "mm",
        written: &["µm", "μm", "um", "micron", "microns"],
        offset: 0.0,
        factor: 0.001,
    },
    Unit {
        of: "mm",
        written: &["cm"],
        offset: 0.0,
        factor: 10.0,
    },
    Unit {
        of: "°C",
        written: &["°c", "c", "°", "deg", "degrees"],
        offset: 0.0,
        factor: 1.0,
    },
    Unit {
        of: "°C",
        written: &["°f", "f"],
        offset: 32.0,
        factor: 1.0 / 1.8,
    },
    Unit {
        of: "%",
        written: &["%", "percent", "per cent"],
        offset: 0.0,
        factor: 1.0,
    },
    Unit {
        of: "",
        written: &["×", "x"],
        offset: 0.0,
        factor: 1.0,
    },
    Unit {
        of: "",
        written: &["%", "percent", "per cent"],
        offset: 0.0,
        factor: 0.01,
    },
    Unit {
        of: "mm/s",
        written: &["mm/s", "mm/sec"],
        offset: 0.0,
        factor: 1.0,
    },
    Unit {
        of: "mm/s",
        written: &["mm/min"],
        offset: 0.0,
        factor: 1.0 / 60.0,
    },
    Unit {
        of: "mm/s",
        written: &["in/s", "ips"],
        offset: 0.0,
        factor: 25.4,
    },
    Unit {
        of: "mm/s²",
        written: &["mm/s²", "mm/s2", "mm/s^2"],
        offset: 0.0,
        factor: 1.0,
    },
    Unit {
        of: "mm/s²",
        written: &["m/s²", "m/s2", "m/s^2"],
        offset: 0.0,
        factor: 1000.0,
    },
    Unit {
        of: "W",
        written: &["w", "watt", "watts"],
        offset: 0.0,
        factor: 1.0,
    },
    Unit {
        of: "W",
        written: &["kw"],
        offset: 0.0,
        factor: 1000.0,
    },
    Unit {
        of: "min",
        written: &["min", "mins", "minutes"],
        offset: 0.0,
        factor: 1.0,
    },
    Unit {
        of: "min",
        written: &["h", "hours"],
        offset: 0.0,
        factor: 60.0,
    },
    Unit {
        of: "mm³/s",
        written: &["mm³/s", "mm3/s", "mm^3/s"],
        offset: 0.0,
        factor: 1.0,
    },
];

impl Number {
    /// Reads what a person typed: decimal comma, a unit behind the number, a ratio where per cent is meant and the other way round.
    ///
    /// # Errors
    /// As [`Number::accept`], and when the text is no number or its unit does not fit.
    pub fn read(&self, text: &str) -> Result<Reading, String> {
        let text = text.trim();
        let (digits, unit) = split(text);
        let wrong = || {
            format!(
                "{} must be a number{}, but \"{}\" was given",
                self.plain,
                self.in_unit(),
                short(text)
            )
        };
        let typed: f64 = self.without_commas(digits).parse().map_err(|_| wrong())?;
        let (value, note) = match self.convert(typed, unit, digits) {
            Some(converted) => converted,
            None => {
                return Err(format!(
                    "{}; the unit \"{}\" does not fit here",
                    wrong(),
                    short(unit)
                ));
            }
        };
        // Three decimals are finer than any of these numbers is known.
        let value = if note.is_some() {
            (value * 1000.0).round() / 1000.0
        } else {
            value
        };
        let own = |v: f64| format!("{v} {}", self.unit).trim_end().to_string();
        let note = note.map(|read_as| format!("{} read as {}", read_as, own(value)));
        match self.accept(value) {
            Ok(value) => Ok(Reading { value, note }),
            // A bare number that only makes sense in inches.
            Err(e) if unit.is_empty() && self.unit == "mm" && self.accept(typed * 25.4).is_ok() => {
                Err(format!("{e}; if that is in inches, write {typed} in"))
            }
            Err(e) => Err(e),
        }
    }

    /// A comma is a decimal comma, unless exactly three digits follow it in a number that runs to thousands: 1,500 mm/s².
    fn without_commas(&self, digits: &str) -> String {
        let thousands = self.max >= 1000.0
            && self.step >= 1.0
            && digits
                .split_once(',')
                .is_some_and(|(_, after)| after.len() == 3);
        digits.replace(',', if thousands { "" } else { "." })
    }

    /// The value in the number's own unit, with what was converted. `None` when the unit does not fit.
    fn convert(&self, typed: f64, unit: &str, digits: &str) -> Option<(f64, Option<String>)> {
        if !unit.is_empty() {
            let written = unit.to_lowercase();
            let mut known = UNITS.iter().filter(|u| u.of == self.unit);
            let found = known.find(|u| u.written.contains(&written.as_str()))?;
            let own = found.factor == 1.0 && found.offset == 0.0;
            let shown = format!("{digits} {unit}").replace(" \"", "\"");
            return Some((
                (typed - found.offset) * found.factor,
                (!own).then_some(shown),
            ));
        }
        let fraction = digits.contains(['.', ',']) && typed > 0.0 && typed <= 1.0;
        match self.unit {
            // Nobody runs a fan at 0.4 per cent: that is the ratio some programs show.
            "%" if fraction => Some((typed * 100.0, Some(format!("{digits} (a ratio)")))),
            "" if self.id.ends_with("_ratio") && typed > self.max && typed <= self.max * 100.0 => {
                Some((typed / 100.0, Some(format!("{digits} (per cent)"))))
            }
            _ => Some((typed, None)),
        }
    }
}

/// A bare number with no unit of its own to convert: a decimal comma is understood, words are not.
///
/// # Errors
/// Names the number and what was given.
pub fn read_number(plain: &str, text: &str) -> Result<f64, String> {
    let value: Option<f64> = text
        .trim()
        .replace(',', ".")
        .parse()
        .ok()
        .filter(|v: &f64| v.is_finite());
    value.ok_or_else(|| {
        format!(
            "{plain} must be a number, but \"{}\" was given",
            short(text)
        )
    })
}

/// The number and what stands behind it.
fn split(text: &str) -> (&str, &str) {
    if text.parse::<f64>().is_ok() {
        return (text, "");
    }
    let end = text
        .find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | ',' | '-' | '+')))
        .unwrap_or(text.len());
    (text[..end].trim(), text[end..].trim())
}

#[cfg(test)]
mod tests {
    use super::super::{NUMBERS, position};
    use super::*;

    fn read(id: &str, text: &str) -> Result<Reading, String> {
        NUMBERS[position(id).unwrap()].read(text)
    }

    #[test]
    fn units_are_understood_and_every_conversion_is_told() {
        for (id, text, value, note) in [
            ("layer_mm", " 0,2 ", 0.2, ""),
            ("layer_mm", "0.2mm", 0.2, ""),
            ("layer_mm", "200 µm", 0.2, "200 µm read as 0.2 mm"),
            ("layer_mm", "0.008 in", 0.203, "0.008 in read as 0.203 mm"),
            ("retract_mm", "0.1\"", 2.54, "0.1\" read as 2.54 mm"),
            ("nozzle_c", "240 °C", 240.0, ""),
            ("nozzle_c", "464 F", 240.0, "464 F read as 240 °C"),
            ("fan_percent", "40 %", 40.0, ""),
            ("fan_percent", "0.4", 40.0, "0.4 (a ratio) read as 40 %"),
            ("fan_percent", "1", 1.0, ""),
            ("flow_ratio", "0.97", 0.97, ""),
            ("flow_ratio", "97", 0.97, "97 (per cent) read as 0.97"),
            ("flow_ratio", "97 %", 0.97, "97 % read as 0.97"),
            (
                "speed_mm_s",
                "3600 mm/min",
                60.0,
                "3600 mm/min read as 60 mm/s",
            ),
            ("accel_mm_s2", "1,500", 1500.0, ""),
        ] {
            let reading = read(id, text).unwrap_or_else(|e| panic!("{id} {text}: {e}"));
            assert!(
                (reading.value - value).abs() < 1e-9,
                "{id} {text}: {reading:?}"
            );
            assert_eq!(reading.note.as_deref().unwrap_or(""), note, "{id} {text}");
        }
    }

    #[test]
    fn what_makes_no_sense_is_refused_with_what_would_do() {
        assert!(read("layer_mm", "NaN").is_err());
        assert!(read("layer_mm", "thick").unwrap_err().contains("\"thick\""));
        assert!(
            read("bed_c", "60 mm")
                .unwrap_err()
                .contains("the unit \"mm\" does not fit here")
        );
        assert!(
            read("layer_mm", "0.008")
                .unwrap_err()
                .ends_with("if that is in inches, write 0.008 in")
        );
        assert!(read("fan_percent", "-0.4").is_err());
    }
}
