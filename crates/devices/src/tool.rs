//! A power meter that is asked, calipers that type their value when their button is pressed.

use crate::{Address, Allowed, DeviceError, Line};
use std::time::Duration;

/// How long somebody may take to press the button of the calipers: a page waits no longer than
/// twenty seconds for its answer.
const PRESSED_WITHIN: Duration = Duration::from_secs(14);

/// A reading: a number and its unit as the tool writes it.
#[derive(Debug, Clone, PartialEq)]
pub struct Reading {
    /// The number.
    pub value: f64,
    /// Its unit; empty where it writes none.
    pub unit: String,
}

/// A measuring tool on a line.
pub struct Tool(Line);

impl Tool {
    /// Opens a tool at an address that is allowed.
    ///
    /// # Errors
    /// As [`Line::open`].
    pub async fn open(address: &Address, allowed: &Allowed) -> Result<Self, DeviceError> {
        Line::open(address, allowed).await.map(Self)
    }

    /// A tool over a line that is open already.
    pub fn over(line: Line) -> Self {
        Self(line)
    }

    /// Asks a tool that answers when asked.
    ///
    /// # Errors
    /// As any question.
    pub async fn ask(&mut self) -> Result<Reading, DeviceError> {
        self.0.write("READ?").await?;
        self.next().await
    }

    /// The next value of a tool that types it by itself.
    ///
    /// # Errors
    /// When none comes in time, or what comes is no value.
    pub async fn typed(self) -> Result<Reading, DeviceError> {
        let mut patient = Self(self.0.with_patience(PRESSED_WITHIN));
        patient.next().await
    }

    async fn next(&mut self) -> Result<Reading, DeviceError> {
        let line = self.0.read().await?;
        read(&line).ok_or_else(|| DeviceError::Rubbish {
            at: self.0.at().to_string(),
            said: line.chars().filter(|c| !c.is_control()).take(60).collect(),
            asked: "the question for a reading",
        })
    }
}

/// "132.4 W", "0.48mm", "0,019 in".
fn read(line: &str) -> Option<Reading> {
    let line = line.trim();
    let end = line.find(|c: char| !(c.is_ascii_digit() || "+-.,".contains(c)));
    let (digits, unit) = line.split_at(end.unwrap_or(line.len()));
    let value: f64 = digits.replace(',', ".").parse().ok()?;
    let unit = unit.trim();
    let plain = unit.len() <= 6
        && unit
            .chars()
            .all(|c| c.is_alphabetic() || "°%\"".contains(c));
    (value.is_finite() && plain).then(|| Reading {
        value,
        unit: unit.to_string(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_value_is_read_with_its_unit_and_nothing_else_is_a_value() {
        let of = |t: &str| read(t).map(|r| (r.value, r.unit));
        assert_eq!(of("132.4 W"), Some((132.4, "W".into())));
        assert_eq!(of("0.48mm"), Some((0.48, "mm".into())));
        assert_eq!(of("-0,019 in"), Some((-0.019, "in".into())));
        assert_eq!(of("12"), Some((12.0, String::new())));
        for bad in ["", "W", "1.2.3 mm", "hello 3", "1 <script>", "NaN mm"] {
            assert_eq!(of(bad), None, "{bad}");
        }
    }
}
