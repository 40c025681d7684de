//! Numbers as people type them: decimal comma, units, inches, per cent and ratio, several in a row.
//! The one reader of numbers for all forms. Whatever was converted is told in a note; what can be
//! read in two ways is asked about.

use super::units::written;
use super::{Number, NumberProblem};
use crate::nearest::short;
use serde::{Deserialize, Serialize};

/// What was converted when a number was read, kept with it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(untagged)]
pub enum Conversion {
    /// The number as it was typed: "0.008 in".
    Typed {
        /// The text.
        typed: String,
    },
    /// In words, as logs of earlier versions hold it: "0.008 in read as 0.203 mm".
    InWords(String),
}

/// A number read from what a person typed.
#[derive(Debug, Clone, PartialEq)]
pub struct Reading {
    /// In the number's own unit, within its limits.
    pub value: f64,
    /// What was converted, to be shown beside the value.
    pub note: Option<Conversion>,
}

impl Number {
    /// Reads what a person typed: decimal comma, a unit behind the number, a ratio where per cent
    /// is meant and the other way round.
    ///
    /// # Errors
    /// As [`Number::accept`], and when the text is no number or its unit does not fit.
    pub fn read(&self, text: &str) -> Result<Reading, NumberProblem> {
        let text = text.trim();
        let (digits, unit) = split(text);
        let sensible = |v: f64| match self.convert(v, unit, digits) {
            Some((value, _)) => self.accept(value).is_ok(),
            None => true,
        };
        let (typed, grouped) = match commas(digits, sensible) {
            Commas::Number(value) => (value, false),
            Commas::Thousands(value) => (value, true),
            Commas::Either(small, large) => {
                return Err(two_ways(self.plain, digits, small, large));
            }
            Commas::None => {
                return Err(NumberProblem::NotANumber {
                    range: self.range(),
                    given: Some(short(text)),
                });
            }
        };
        let Some((value, converted)) = self.convert(typed, unit, digits) else {
            return Err(NumberProblem::WrongUnit {
                range: self.range(),
                given: short(text),
                unit: short(unit),
            });
        };
        // Three decimals are finer than any of these numbers is known.
        let value = if converted {
            (value * 1000.0).round() / 1000.0
        } else {
            value
        };
        let note = (converted || grouped).then(|| Conversion::Typed {
            typed: text.replace(" \"", "\""),
        });
        match self.accept(value) {
            Ok(value) => Ok(Reading { value, note }),
            Err(NumberProblem::Outside { range, given })
                if unit.is_empty() && self.unit == "mm" && self.accept(typed * 25.4).is_ok() =>
            {
                Err(NumberProblem::PerhapsInches { range, given })
            }
            Err(e) => Err(e),
        }
    }

    /// The value in the number's own unit, and whether it was converted. `None` when the unit does
    /// not fit.
    fn convert(&self, typed: f64, unit: &str, digits: &str) -> Option<(f64, bool)> {
        if !unit.is_empty() {
            let found = written(self.unit, unit)?;
            return Some((found.convert(typed), !found.is_own()));
        }
        let fraction = digits.contains(['.', ',']) && typed > 0.0 && typed <= 1.0;
        match self.unit {
            // Nobody runs a fan at 0.4 per cent: that is the ratio some programs show.
            "%" if fraction => Some((typed * 100.0, true)),
            // And a ratio of 97 is per cent.
            "" if self.id.ends_with("_ratio") && typed > self.max && typed <= self.max * 100.0 => {
                Some((typed / 100.0, true))
            }
            _ => Some((typed, false)),
        }
    }
}

/// A bare number with no unit of its own to convert: a decimal comma is understood, words are not.
///
/// # Errors
/// Names the number and what was given; asks where it can be read in two ways.
pub fn read_number(plain: &str, text: &str) -> Result<f64, NumberProblem> {
    match commas(text.trim(), |_| true) {
        Commas::Number(value) | Commas::Thousands(value) => Ok(value),
        Commas::Either(small, large) => Err(two_ways(plain, text.trim(), small, large)),
        Commas::None => Err(NumberProblem::NoNumber {
            plain: plain.to_string(),
            given: short(text),
        }),
    }
}

/// The texts of several numbers in one field, parted by blanks, semicolons, slashes, or commas with
/// a blank behind them; a unit belongs to the number before it. `0.47, 0.49` and `0.47/0.49` are
/// two numbers, `0,47` is one.
pub fn read_list(text: &str) -> Vec<String> {
    let mut spaced = String::with_capacity(text.len());
    let chars: Vec<char> = text.chars().collect();
    for (n, c) in chars.iter().enumerate() {
        let (before, after) = (&chars[..n], &chars[n + 1..]);
        let next = after.iter().find(|c| !c.is_whitespace());
        let last = before.iter().rev().find(|c| !c.is_whitespace());
        let between_numbers = last.is_some_and(char::is_ascii_digit)
            && next.is_some_and(|c| c.is_ascii_digit() || matches!(c, '.' | '-' | '+'));
        let parts = match c {
            ';' => true,
            // Not the stroke of "mm/s".
            '/' => between_numbers,
            ',' => after.first().is_none_or(|c| c.is_whitespace()) || parts_points(before, after),
            _ => false,
        };
        spaced.push(if parts { ' ' } else { *c });
    }
    let mut out: Vec<String> = Vec::new();
    for word in spaced.split_whitespace() {
        let number =
            word.starts_with(|c: char| c.is_ascii_digit() || matches!(c, '-' | '+' | '.' | ','));
        match out.last_mut() {
            Some(last) if !number => *last = format!("{last} {word}"),
            _ => out.push(word.to_string()),
        }
    }
    out
}

/// Whether a comma stands between two numbers that have a decimal point each: `0.47,0.49`.
fn parts_points(before: &[char], after: &[char]) -> bool {
    let of_number = |c: &&char| c.is_ascii_digit() || **c == '.';
    before.iter().rev().take_while(of_number).any(|c| *c == '.')
        && after.iter().take_while(of_number).any(|c| *c == '.')
}

/// What commas and points in a number mean.
enum Commas {
    /// One number.
    Number(f64),
    /// One number, in which a mark parts the thousands.
    Thousands(f64),
    /// Two numbers it could be: with a decimal comma, and with thousands parted.
    Either(f64, f64),
    /// No number.
    None,
}

/// Reads digits with commas and points. `1,500` is one and a half or fifteen hundred: where only
/// one of them is sensible it is that one, else both are told.
fn commas(digits: &str, sensible: impl Fn(f64) -> bool) -> Commas {
    let number = |text: &str| text.parse::<f64>().ok().filter(|v| v.is_finite());
    let whole = |value: Option<f64>| value.map_or(Commas::None, Commas::Number);
    let grouped = |value: Option<f64>| value.map_or(Commas::None, Commas::Thousands);
    match (digits.matches(',').count(), digits.contains('.')) {
        (0, _) => whole(number(digits)),
        (1, false) => {
            let (decimal, joined) = (
                number(&digits.replace(',', ".")),
                number(&digits.replace(',', "")),
            );
            match (decimal, joined.filter(|_| in_thousands(digits, ','))) {
                (Some(small), Some(large)) => match (sensible(small), sensible(large)) {
                    (true, false) => Commas::Number(small),
                    (false, true) => Commas::Thousands(large),
                    _ => Commas::Either(small, large),
                },
                (decimal, _) => whole(decimal),
            }
        }
        // 1,500.5 and 1,500,000
        _ if in_thousands(digits.split('.').next().unwrap_or(""), ',') => {
            grouped(number(&digits.replace(',', "")))
        }
        // 1.500,5
        (1, true)
            if digits
                .split_once(',')
                .is_some_and(|(w, _)| in_thousands(w, '.')) =>
        {
            grouped(number(&digits.replace('.', "").replace(',', ".")))
        }
        _ => Commas::None,
    }
}

/// Whether a mark stands where thousands are parted: one to three digits, the first no nought, then
/// groups of three.
fn in_thousands(digits: &str, mark: char) -> bool {
    let mut groups = digits.trim_start_matches(['-', '+']).split(mark);
    let all_digits = |g: &str| g.bytes().all(|b| b.is_ascii_digit());
    let first = groups.next().unwrap_or("");
    let rest: Vec<&str> = groups.collect();
    (1..=3).contains(&first.len())
        && all_digits(first)
        && !first.starts_with('0')
        && !rest.is_empty()
        && rest.iter().all(|g| g.len() == 3 && all_digits(g))
}

fn two_ways(plain: &str, digits: &str, small: f64, large: f64) -> NumberProblem {
    NumberProblem::TwoWays {
        plain: plain.to_string(),
        given: digits.to_string(),
        small,
        large,
    }
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
    use super::super::number_id;
    use super::*;

    fn read(id: &str, text: &str) -> Result<Reading, NumberProblem> {
        number_id(id).unwrap().number().read(text)
    }

    #[test]
    fn units_are_understood_and_every_conversion_is_told() {
        for (id, text, value, note) in [
            ("layer_mm", " 0,2 ", 0.2, ""),
            ("layer_mm", "0.2mm", 0.2, ""),
            ("layer_mm", "200 µm", 0.2, "200 µm"),
            ("layer_mm", "0.008 in", 0.203, "0.008 in"),
            ("retract_mm", "0.1\"", 2.54, "0.1\""),
            ("nozzle_c", "240 °C", 240.0, ""),
            ("nozzle_c", "464 F", 240.0, "464 F"),
            ("fan_percent", "40 %", 40.0, ""),
            ("fan_percent", "0.4", 40.0, "0.4"),
            ("fan_percent", "1", 1.0, ""),
            ("flow_ratio", "0.97", 0.97, ""),
            ("flow_ratio", "97", 0.97, "97"),
            ("flow_ratio", "97 %", 0.97, "97 %"),
            ("speed_mm_s", "3600 mm/min", 60.0, "3600 mm/min"),
            ("accel_mm_s2", "1,500", 1500.0, "1,500"),
            ("filament_mm", "1,750", 1.75, ""),
            ("layer_mm", "0,125", 0.125, ""),
            ("accel_mm_s2", "1,500.5", 1500.5, "1,500.5"),
            ("accel_mm_s2", "1.500,5", 1500.5, "1.500,5"),
        ] {
            let reading = read(id, text).unwrap_or_else(|e| panic!("{id} {text}: {e}"));
            assert!(
                (reading.value - value).abs() < 1e-9,
                "{id} {text}: {reading:?}"
            );
            let typed = match &reading.note {
                Some(Conversion::Typed { typed }) => typed.as_str(),
                _ => "",
            };
            assert_eq!(typed, note, "{id} {text}");
        }
    }

    #[test]
    fn what_makes_no_sense_is_refused_with_what_would_do() {
        assert!(read("layer_mm", "NaN").is_err());
        let thick = read("layer_mm", "thick").unwrap_err().to_string();
        assert!(thick.contains("\"thick\""), "{thick}");
        assert!(
            read("bed_c", "60 mm")
                .unwrap_err()
                .to_string()
                .contains("the unit \"mm\" does not fit here")
        );
        assert!(
            read("layer_mm", "0.008")
                .unwrap_err()
                .to_string()
                .ends_with("if that is in inches, write 0.008 in")
        );
        assert!(read("fan_percent", "-0.4").is_err());
        // Once 155 came of this, without a word.
        for odd in ["1,5,5", "1,,500", "1.5.5", "15,00,000"] {
            assert!(read("accel_mm_s2", odd).is_err(), "{odd}");
        }
    }

    #[test]
    fn what_can_be_read_in_two_ways_is_asked_about() {
        let asked = read("speed_mm_s", "1,250").unwrap_err().to_string();
        assert!(asked.contains("1.25 or as 1250"), "{asked}");
        assert!(
            read_number("hours", "1,500")
                .unwrap_err()
                .to_string()
                .contains("write 1.5 or 1500")
        );
        assert_eq!(read_number("hours", "1,5"), Ok(1.5));
        assert_eq!(read_number("hours", "0,125"), Ok(0.125));
        assert!(read_number("hours", "inf").is_err());
    }

    #[test]
    fn several_numbers_in_one_field_are_parted_as_people_part_them() {
        for (text, expected) in [
            ("0.47, 0.49, 0.48", vec!["0.47", "0.49", "0.48"]),
            ("0.47/0.49", vec!["0.47", "0.49"]),
            ("0.47 / 0.49", vec!["0.47", "0.49"]),
            ("0,47 0,49", vec!["0,47", "0,49"]),
            ("0,47; 0,49 mm", vec!["0,47", "0,49 mm"]),
            ("0.47,0.49", vec!["0.47", "0.49"]),
            ("20 mm/s", vec!["20 mm/s"]),
            ("0.45,", vec!["0.45"]),
            ("", vec![]),
        ] {
            assert_eq!(read_list(text), expected, "{text}");
        }
    }
}
