//! The console of a machine: questions it answers in text.

use crate::{Address, Allowed, DeviceError, Line};
use std::collections::BTreeMap;

/// Most lines of one answer: a report of settings has a hundred.
const MOST_LINES: usize = 400;
/// Most probings of one repeat.
pub const MOST_PROBINGS: u8 = 20;

/// A person's yes to a question that moves the machine: hands are away, the nozzle is clean.
#[derive(Debug, Clone, Copy)]
pub struct Yes(());

impl Yes {
    /// Somebody here has said yes, and no stop holds the machine.
    ///
    /// # Errors
    /// When a stop holds it.
    pub fn said(held: bool) -> Result<Self, DeviceError> {
        match held {
            true => Err(DeviceError::Held),
            false => Ok(Self(())),
        }
    }
}

/// What may be asked. There is nothing else.
#[derive(Debug, Clone, Copy)]
pub enum Ask {
    /// Temperatures, measured and set.
    Temperatures,
    /// End switches.
    EndSwitches,
    /// Where the head is.
    Position,
    /// The settings it keeps.
    Settings,
    /// The mesh it keeps of its bed; nothing is probed.
    Mesh,
    /// Height of one place, so many times: this moves.
    ProbeRepeat(u8, Yes),
}

impl Ask {
    fn line(self) -> String {
        match self {
            Self::Temperatures => "M105".into(),
            Self::EndSwitches => "M119".into(),
            Self::Position => "M114".into(),
            Self::Settings => "M503".into(),
            Self::Mesh => "M420 V1".into(),
            Self::ProbeRepeat(many, _) => format!("M48 P{} V2", many.clamp(3, MOST_PROBINGS)),
        }
    }

    fn words(self) -> &'static str {
        match self {
            Self::Temperatures => "the question for temperatures",
            Self::EndSwitches => "the question for end switches",
            Self::Position => "the question for the position",
            Self::Settings => "the question for settings",
            Self::Mesh => "the question for the mesh",
            Self::ProbeRepeat(..) => "the question for the probe's repeat",
        }
    }
}

/// A temperature as the machine shows it, in °C.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Heat {
    /// Measured.
    pub is: f64,
    /// Set; nothing where it says none.
    pub set: Option<f64>,
}

/// The temperatures of a machine.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Temperatures {
    /// The hot end.
    pub hot_end: Option<Heat>,
    /// The bed.
    pub bed: Option<Heat>,
    /// The chamber.
    pub chamber: Option<Heat>,
}

/// An end switch.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct EndSwitch {
    /// Its name, as the machine calls it.
    pub name: String,
    /// Whether it is pressed.
    pub pressed: bool,
}

/// A machine's console.
pub struct Console(Line);

impl Console {
    /// Opens the console at an address that is allowed.
    ///
    /// # Errors
    /// As [`Line::open`].
    pub async fn open(address: &Address, allowed: &Allowed) -> Result<Self, DeviceError> {
        Line::open(address, allowed).await.map(Self)
    }

    /// A console over a line that is open already.
    pub fn over(line: Line) -> Self {
        Self(line)
    }

    /// Asks, and reads lines until the machine says that it has answered.
    ///
    /// # Errors
    /// When it does not answer, stops half-way, or does not stop.
    async fn ask(&mut self, ask: Ask) -> Result<Vec<String>, DeviceError> {
        self.0.write(&ask.line()).await?;
        let mut lines = Vec::new();
        for _ in 0..MOST_LINES {
            let line = self.0.read().await?;
            // Boards that are busy say so; that is no answer, and no end of one.
            if line.starts_with("echo:busy") || line.starts_with("busy:") {
                continue;
            }
            let last = line == "ok" || line.starts_with("ok ");
            if line != "ok" {
                lines.push(line);
            }
            if last {
                return Ok(lines);
            }
        }
        Err(DeviceError::Flood(self.0.at().to_string()))
    }

    fn rubbish(&self, ask: Ask, lines: &[String]) -> DeviceError {
        let said = lines.first().map_or("", String::as_str);
        let said: String = said.chars().filter(|c| !c.is_control()).take(60).collect();
        DeviceError::Rubbish {
            at: self.0.at().to_string(),
            said,
            asked: ask.words(),
        }
    }

    /// Temperatures.
    ///
    /// # Errors
    /// As any question.
    pub async fn temperatures(&mut self) -> Result<Temperatures, DeviceError> {
        let lines = self.ask(Ask::Temperatures).await?;
        let found = lines.iter().find_map(|l| temperatures(l));
        found.ok_or_else(|| self.rubbish(Ask::Temperatures, &lines))
    }

    /// End switches.
    ///
    /// # Errors
    /// As any question.
    pub async fn end_switches(&mut self) -> Result<Vec<EndSwitch>, DeviceError> {
        let lines = self.ask(Ask::EndSwitches).await?;
        let found: Vec<EndSwitch> = lines.iter().filter_map(|l| end_switch(l)).collect();
        match found.is_empty() {
            true => Err(self.rubbish(Ask::EndSwitches, &lines)),
            false => Ok(found),
        }
    }

    /// Where the head is, in millimetres by axis.
    ///
    /// # Errors
    /// As any question.
    pub async fn position(&mut self) -> Result<BTreeMap<char, f64>, DeviceError> {
        let lines = self.ask(Ask::Position).await?;
        let found = lines.iter().map(|l| position(l)).find(|p| p.len() >= 3);
        found.ok_or_else(|| self.rubbish(Ask::Position, &lines))
    }

    /// The settings it keeps, line by line.
    ///
    /// # Errors
    /// As any question.
    pub async fn settings(&mut self) -> Result<Vec<String>, DeviceError> {
        let lines = self.ask(Ask::Settings).await?;
        let bare = lines.iter().map(|l| l.trim_start_matches("echo:").trim());
        let found: Vec<String> = bare.filter(|l| !l.is_empty()).map(str::to_string).collect();
        match steps_of(&found).is_empty() {
            true => Err(self.rubbish(Ask::Settings, &lines)),
            false => Ok(found),
        }
    }

    /// Places of the mesh it keeps and their heights, in millimetres.
    ///
    /// # Errors
    /// As any question.
    pub async fn mesh(&mut self) -> Result<Vec<[f64; 3]>, DeviceError> {
        let lines = self.ask(Ask::Mesh).await?;
        let of = |line: &String| {
            let at = position(line);
            Some([*at.get(&'X')?, *at.get(&'Y')?, *at.get(&'Z')?])
        };
        let found: Vec<[f64; 3]> = lines.iter().filter_map(of).collect();
        match found.len() >= 3 {
            true => Ok(found),
            false => Err(self.rubbish(Ask::Mesh, &lines)),
        }
    }

    /// Heights of one place, probed so many times. This moves the machine.
    ///
    /// # Errors
    /// As any question.
    pub async fn probe_repeat(&mut self, many: u8, yes: Yes) -> Result<Vec<f64>, DeviceError> {
        let ask = Ask::ProbeRepeat(many, yes);
        let lines = self.ask(ask).await?;
        let found: Vec<f64> = lines.iter().filter_map(|l| probed(l)).collect();
        match found.len() >= 3 {
            true => Ok(found),
            false => Err(self.rubbish(ask, &lines)),
        }
    }
}

/// "T:210.1 /210.0 B:60.0 /60.0": the first value after a name is measured, that after a stroke is
/// set.
fn temperatures(line: &str) -> Option<Temperatures> {
    let mut all = Temperatures::default();
    let words: Vec<&str> = line.split_whitespace().collect();
    for (n, word) in words.iter().enumerate() {
        let Some((name, value)) = word.split_once(':') else {
            continue;
        };
        let (is, beside) = value
            .split_once('/')
            .map_or((value, None), |(a, b)| (a, Some(b)));
        let Some(is) = number(is) else { continue };
        let after = words.get(n + 1).and_then(|w| w.strip_prefix('/'));
        let heat = Heat {
            is,
            set: beside.or(after).and_then(number),
        };
        match name {
            "T" | "T0" if all.hot_end.is_none() => all.hot_end = Some(heat),
            "B" => all.bed = Some(heat),
            "C" => all.chamber = Some(heat),
            _ => {}
        }
    }
    all.hot_end.or(all.bed).map(|_| all)
}

fn number(text: &str) -> Option<f64> {
    text.parse::<f64>().ok().filter(|v| v.is_finite())
}

/// "z_min: TRIGGERED", "x_max: open".
fn end_switch(line: &str) -> Option<EndSwitch> {
    let (name, state) = line.split_once(':')?;
    let pressed = match state.trim().to_lowercase().as_str() {
        "triggered" => true,
        "open" => false,
        _ => return None,
    };
    Some(EndSwitch {
        name: name.trim().replace('_', " "),
        pressed,
    })
}

/// "X:10.00 Y:20.00 Z:5.00 E:0.00 Count X:800 …": the first value of each axis.
fn position(line: &str) -> BTreeMap<char, f64> {
    let line = line.split("Count").next().unwrap_or(line);
    let words = line.split_whitespace();
    let of = |word: &str| {
        let (axis, value) = word.split_once(':')?;
        let axis = axis.chars().next().filter(|_| axis.len() == 1)?;
        Some((axis, number(value)?))
    };
    words
        .filter_map(of)
        .filter(|(a, _)| "XYZE".contains(*a))
        .collect()
}

/// "3 of 10: z: 1.203": a height of a repeat.
fn probed(line: &str) -> Option<f64> {
    let lower = line.to_lowercase();
    let (_, rest) = lower.split_once("z:")?;
    number(rest.split_whitespace().next()?)
}

/// Steps per millimetre by axis, from a report of settings.
pub fn steps_of(settings: &[String]) -> BTreeMap<char, f64> {
    let line = settings.iter().find(|l| l.starts_with("M92 "));
    let words = line.into_iter().flat_map(|l| l.split_whitespace().skip(1));
    let of = |word: &str| {
        let axis = word.chars().next()?;
        Some((axis, number(word.get(1..)?)?))
    };
    words.filter_map(of).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn answers_are_read_as_machines_write_them() {
        let t = temperatures("ok T:210.13 /210.00 B:60.05 /60.00 C:31.2 /0.00 @:64 B@:20").unwrap();
        assert_eq!(
            t.hot_end,
            Some(Heat {
                is: 210.13,
                set: Some(210.0)
            })
        );
        assert_eq!(t.bed.unwrap().is, 60.05);
        assert_eq!(t.chamber.unwrap().is, 31.2);
        assert_eq!(
            temperatures("T:24.9/0.0").unwrap().hot_end.unwrap().set,
            Some(0.0)
        );
        assert_eq!(temperatures("T:nan"), None);
        assert_eq!(temperatures("hello"), None);
        let z = end_switch("z_min: TRIGGERED").unwrap();
        assert_eq!((z.name.as_str(), z.pressed), ("z min", true));
        assert_eq!(end_switch("Reporting endstop status"), None);
        let p = position("X:10.00 Y:20.50 Z:5.00 E:0.00 Count X:800 Y:1640 Z:2000");
        assert_eq!(p[&'Y'], 20.5);
        assert_eq!(probed("3 of 10: z: 1.203"), Some(1.203));
        let steps = steps_of(&["M92 X80.00 Y80.00 Z400.00 E93.00".into()]);
        assert_eq!(steps[&'E'], 93.0);
    }

    #[test]
    fn a_held_machine_gets_no_yes() {
        assert_eq!(Yes::said(true).unwrap_err(), DeviceError::Held);
        assert!(Yes::said(false).is_ok());
    }
}
