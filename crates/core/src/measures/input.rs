//! What a measure asks for: names, units, ranges, what is usual; and the reading of numbers as
//! people type them.

use super::refused::Refused;
use crate::settings::read_list;
use crate::settings::units::written;

/// A unit of the bench.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unit {
    /// Millimetres.
    Mm,
    /// Millimetres a second.
    MmS,
    /// Per cent.
    Percent,
    /// A plain ratio; per cent is understood.
    Ratio,
    /// Degrees Celsius.
    C,
    /// Watts.
    W,
    /// Grams.
    G,
    /// Minutes.
    Min,
    /// Hours.
    H,
    /// Seconds.
    S,
    /// Hertz.
    Hz,
    /// Pixels of a photo.
    Px,
    /// None, or one of its own that is never converted.
    Plain,
}

impl Unit {
    /// As it is shown behind a number; empty for what has none.
    pub fn shown(self) -> &'static str {
        match self {
            Unit::Mm => "mm",
            Unit::MmS => "mm/s",
            Unit::Percent => "%",
            Unit::C => "°C",
            Unit::W => "W",
            Unit::G => "g",
            Unit::Min => "min",
            Unit::H => "h",
            Unit::S => "s",
            Unit::Hz => "Hz",
            Unit::Px => "px",
            Unit::Ratio | Unit::Plain => "",
        }
    }
}

/// What kind of value an input takes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Kind {
    /// One number.
    Number,
    /// One whole number.
    Whole,
    /// Several readings: asked for, taken at least, taken at most.
    Readings(usize, usize, usize),
    /// One of some words, the first usual.
    Choice(&'static [&'static str]),
    /// A text, as it is.
    Text,
}

/// One thing a measure asks for.
#[derive(Debug, Clone, Copy)]
pub struct Input {
    /// Identifier, its unit at the end.
    pub id: &'static str,
    /// The words a person reads.
    pub plain: &'static str,
    /// Its unit.
    pub unit: Unit,
    /// What kind of value.
    pub kind: Kind,
    /// Least and greatest value that makes sense.
    pub range: (f64, f64),
    /// Whether nothing follows without it.
    pub needed: bool,
    /// What is usual, where something is.
    pub usual: Option<f64>,
    /// A setting of a case, or a field of its machine, that gives it.
    pub setting: Option<&'static str>,
}

const fn number(id: &'static str, plain: &'static str, unit: Unit, range: (f64, f64)) -> Input {
    Input {
        id,
        plain,
        unit,
        kind: Kind::Number,
        range,
        needed: false,
        usual: None,
        setting: None,
    }
}

/// A length in millimetres.
pub const fn mm(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::Mm, (0.001, 2000.0))
}

/// A speed in millimetres a second.
pub const fn mm_s(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::MmS, (1.0, 1500.0))
}

/// A temperature in degrees Celsius.
pub const fn celsius(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::C, (-20.0, 400.0))
}

/// A share in per cent.
pub const fn percent(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::Percent, (0.0, 100.0))
}

/// A ratio; per cent is understood.
pub const fn ratio(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::Ratio, (0.01, 1.0))
}

/// Watts.
pub const fn watts(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::W, (0.0, 5000.0))
}

/// Grams.
pub const fn grams(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::G, (0.0, 20_000.0))
}

/// Minutes.
pub const fn minutes(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::Min, (0.0, 10_000.0))
}

/// Hours.
pub const fn hours(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::H, (0.0, 100_000.0))
}

/// Seconds.
pub const fn seconds(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::S, (0.0, 100_000.0))
}

/// Hertz.
pub const fn hertz(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::Hz, (5.0, 1000.0))
}

/// An amount of the workshop's currency.
pub const fn money(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::Plain, (0.0, 100_000.0))
}

/// Pixels of a photo.
pub const fn pixels(id: &'static str, plain: &'static str) -> Input {
    number(id, plain, Unit::Px, (-100.0, 100_000.0))
}

/// A number with a unit of its own that nobody converts.
pub const fn plain(id: &'static str, words: &'static str, low: f64, high: f64) -> Input {
    number(id, words, Unit::Plain, (low, high))
}

/// A whole number.
pub const fn whole(id: &'static str, words: &'static str, low: f64, high: f64) -> Input {
    Input {
        kind: Kind::Whole,
        ..number(id, words, Unit::Plain, (low, high))
    }
}

/// One of some words, the first usual.
pub const fn choice(id: &'static str, words: &'static str, of: &'static [&'static str]) -> Input {
    Input {
        kind: Kind::Choice(of),
        ..number(id, words, Unit::Plain, (0.0, 0.0))
    }
}

/// A text.
pub const fn text(id: &'static str, words: &'static str) -> Input {
    Input {
        kind: Kind::Text,
        needed: true,
        ..number(id, words, Unit::Plain, (0.0, 0.0))
    }
}

impl Input {
    /// Nothing follows without it.
    pub const fn needed(self) -> Self {
        Self {
            needed: true,
            ..self
        }
    }

    /// What is taken when nothing is given.
    pub const fn usual(self, value: f64) -> Self {
        Self {
            usual: Some(value),
            ..self
        }
    }

    /// A setting of a case, or a field of its machine, that gives it.
    pub const fn from(self, setting: &'static str) -> Self {
        Self {
            setting: Some(setting),
            ..self
        }
    }

    /// Another range.
    pub const fn range(self, low: f64, high: f64) -> Self {
        Self {
            range: (low, high),
            ..self
        }
    }

    /// Several readings: so many asked for, 1 to 20 taken.
    pub const fn readings(self, asked: usize) -> Self {
        self.list(asked, 1, 20)
    }

    /// Several readings within bounds of their own.
    pub const fn list(self, asked: usize, least: usize, most: usize) -> Self {
        Self {
            kind: Kind::Readings(asked, least, most),
            ..self
        }
    }

    /// Reads one number as a person typed it; a word about what was converted goes to `notes`.
    ///
    /// # Errors
    /// Names the input, the value, and what would do.
    pub fn typed(&self, text: &str, notes: &mut Vec<String>) -> Result<f64, Refused> {
        let id = self.id;
        let no_number = || Refused(format!("{id} must be a number, but \"{text}\" was given"));
        let trimmed = text.trim();
        let end = trimmed
            .char_indices()
            .find(|(n, c)| {
                !(c.is_ascii_digit() || matches!(c, '.' | ',') || *n == 0 && matches!(c, '+' | '-'))
            })
            .map_or(trimmed.len(), |(n, _)| n);
        let (digits, unit) = (&trimmed[..end], trimmed[end..].trim().to_lowercase());
        let value: f64 = digits.replace(',', ".").parse().map_err(|_| no_number())?;
        if unit.is_empty() {
            return self.given(value, notes);
        }
        let unfit = || Refused(format!("{id}: the unit \"{unit}\" does not fit here"));
        // What has no unit of its own is never converted; a ratio is.
        let known = match self.unit {
            Unit::Plain | Unit::Px => None,
            own => written(own.shown(), &unit),
        };
        let known = known.ok_or_else(unfit)?;
        let own = known.convert(value);
        let (low, high) = self.range;
        if self.unit == Unit::Ratio && unit == "%" && own < low && (low..=high).contains(&value) {
            return Err(Refused(format!(
                "{id}: {trimmed} would be {}; write {value} if the ratio is meant, {} % if per \
                 cent is",
                short(own),
                short(value * 100.0)
            )));
        }
        if !known.is_own() {
            notes.push(format!("{trimmed} read as {}", short(own)));
        }
        self.within(own)
    }

    /// Takes one number as it is; per cent given for a ratio is understood and told.
    ///
    /// # Errors
    /// Names the input, the value, and what would do.
    pub fn given(&self, value: f64, notes: &mut Vec<String>) -> Result<f64, Refused> {
        let id = self.id;
        if !value.is_finite() {
            return Err(Refused(format!("{id} must be a number")));
        }
        let (low, high) = self.range;
        let percent = value / 100.0;
        if self.unit == Unit::Ratio && value > high && (low..=high).contains(&percent) {
            notes.push(format!("{id}: {value} read as per cent: {percent}"));
            return self.within(percent);
        }
        self.within(value)
    }

    fn within(&self, value: f64) -> Result<f64, Refused> {
        let (low, high) = self.range;
        let id = self.id;
        if !(low..=high).contains(&value) {
            let inches = self.unit == Unit::Mm && (low..=high).contains(&(value * 25.4));
            let hint = match inches {
                true => format!("; if that is in inches, write \"{value} in\""),
                false => String::new(),
            };
            return Err(Refused(format!(
                "{id} must be between {low} and {high}, but {} was given{hint}",
                short(value)
            )));
        }
        if self.kind == Kind::Whole && value.fract() != 0.0 {
            return Err(Refused(format!(
                "{id} must be a whole number, but {} was given",
                short(value)
            )));
        }
        Ok(value)
    }

    /// The texts of several readings that were typed into one line.
    pub fn parts(text: &str) -> Vec<String> {
        read_list(text)
    }
}

/// A number in a few digits, for messages.
pub fn short(value: f64) -> String {
    let text = format!("{value:.4}");
    let text = text.trim_end_matches('0').trim_end_matches('.');
    match text {
        "" | "-0" | "0" if value != 0.0 => format!("{value:.3e}"),
        text => text.to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn units_are_understood_and_told() {
        let wall = mm("wall_mm", "wall").range(0.001, 2000.0);
        let mut notes = Vec::new();
        assert_eq!(wall.typed("0,45", &mut notes).unwrap(), 0.45);
        assert!(notes.is_empty());
        let inches = wall.typed("0.018 in", &mut notes).unwrap();
        assert!((inches - 0.4572).abs() < 1e-12 && notes[0].contains("read as 0.4572"));
        let hot = celsius("case_c", "case");
        assert_eq!(hot.typed("140 °F", &mut notes).unwrap().round(), 60.0);
        let spool = grams("gross_g", "spool");
        assert_eq!(spool.typed("1.2 kg", &mut notes).unwrap(), 1200.0);
        let flow = ratio("flow_now", "flow").range(0.2, 3.0);
        assert_eq!(flow.typed("98 %", &mut notes).unwrap(), 0.98);
        assert_eq!(flow.given(98.0, &mut notes).unwrap(), 0.98);
        assert!(notes.last().unwrap().contains("per cent"));
    }

    #[test]
    fn what_makes_no_sense_is_refused_by_name_with_what_would_do() {
        let wall = mm("wall_mm", "wall");
        let said = |r: Result<f64, Refused>| r.unwrap_err().0;
        let mut notes = Vec::new();
        assert!(said(wall.typed("far", &mut notes)).contains("\"far\""));
        assert!(said(wall.typed("1.2.3", &mut notes)).contains("wall_mm"));
        assert!(said(wall.typed("5 kg", &mut notes)).contains("does not fit"));
        assert!(said(wall.given(f64::NAN, &mut notes)).contains("wall_mm"));
        assert!(said(wall.given(-1.0, &mut notes)).contains("between 0.001 and 2000"));
        let flow = ratio("flow_now", "flow").range(0.2, 3.0);
        assert!(said(flow.typed("0.92 %", &mut notes)).contains("0.92"));
        let teeth = whole("teeth", "teeth", 8.0, 80.0);
        assert!(said(teeth.given(16.5, &mut notes)).contains("whole"));
    }
}
