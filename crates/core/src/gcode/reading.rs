//! What was read of a file, as data: kept beside it, shown on pages, written as JSON.

use super::layer::{Extent, Layer};
use super::line_type::{LINE_TYPES, LineType};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::f64::consts::PI;

/// The filament's diameter where a file does not say it, mm.
pub const USUAL_DIAMETER: f64 = 1.75;

/// A layer shorter than this hardly cools before the next, s.
pub const SHORT_LAYER: f64 = 8.0;

/// A line that is odd.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Problem {
    /// Its number, from 1; 0 for the file as a whole.
    pub line: u64,
    /// What is odd.
    pub what: String,
}

/// Something the file asks from a place on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Change {
    /// Line.
    pub line: u64,
    /// Layer, from 1; 0 before the first.
    pub layer: u32,
    /// Height of the nozzle there, mm.
    pub z_mm: f64,
    /// `nozzle`, `bed`, `chamber` (°C), `fan`, `speed-factor`, `flow-factor` (%), `pressure`
    /// (the firmware's unit), `retract` (mm) or `tool`.
    pub what: String,
    /// What it is set to.
    pub value: f64,
    /// Whether the file waits for it.
    pub waits: bool,
}

/// A place where the print stands still.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Pause {
    /// Line.
    pub line: u64,
    /// Layer, from 1; 0 before the first.
    pub layer: u32,
    /// Height of the nozzle there, mm.
    pub z_mm: f64,
    /// `pause` or `filament-change`.
    pub what: String,
}

/// What the file does about the unevenness of the bed, and where.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Mesh {
    /// Line at which the nozzle's height is homed last.
    pub homed: Option<u64>,
    /// Line at which the bed is measured.
    pub measured: Option<u64>,
    /// Line at which a stored mesh is put to use.
    pub loaded: Option<u64>,
    /// It was measured, and homed again afterwards: many machines then forget to use it.
    pub homed_after: bool,
}

impl Mesh {
    pub(crate) fn home(&mut self, line: u64) {
        self.homed = Some(line);
        self.homed_after = self.measured.is_some() || self.loaded.is_some();
    }

    pub(crate) fn measure(&mut self, line: u64) {
        self.measured = Some(line);
        self.homed_after = false;
    }

    pub(crate) fn load(&mut self, line: u64) {
        self.loaded = Some(line);
        self.homed_after = false;
    }

    pub(crate) fn drop_it(&mut self) {
        self.loaded = None;
    }

    /// In one word: `homes-only`, `measured`, `loaded`, `measured-and-loaded`; none where the file
    /// does not home.
    pub fn word(&self) -> Option<&'static str> {
        match (self.measured, self.loaded) {
            (Some(_), Some(_)) => Some("measured-and-loaded"),
            (Some(_), None) => Some("measured"),
            (None, Some(_)) => Some("loaded"),
            (None, None) => self.homed.map(|_| "homes-only"),
        }
    }
}

/// How filament is drawn back.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Retraction {
    /// How often. A wipe and its retraction are one.
    pub count: u32,
    /// The usual length, mm.
    pub length_mm: f64,
    /// The usual speed, mm/s.
    pub speed_mm_s: f64,
    /// The most that one stretch of filament, as long as a retraction, is drawn through the gear.
    pub most_on_one_stretch: u32,
    /// A line where that happens.
    pub most_line: u64,
    /// What is pushed forward beyond what was drawn back, mm; below 0 it falls short.
    pub extra_mm: f64,
}

/// Everything that was read of a file. Filament in mm of its length, times in s.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Reading {
    /// Lines.
    pub lines: u64,
    /// Moves.
    pub moves: u64,
    /// Filament is counted on somewhere.
    pub absolute: bool,
    /// Filament is told as amounts somewhere.
    pub relative: bool,
    /// Inches are used somewhere.
    pub inch: bool,
    /// There are arcs.
    pub arcs: bool,
    /// The firmware draws filament back.
    pub firmware_retraction: bool,
    /// It calls macros whose work the file does not show.
    pub macros: bool,
    /// It sets limits of motion.
    pub limits: bool,
    /// It says where layers begin.
    pub layers_marked: bool,
    /// It says what lines are for.
    pub types_named: bool,
    /// Its layers, in the file's order.
    pub layers: Vec<Layer>,
    /// What is done before the first layer.
    pub outside: Layer,
    /// Diameter of the filament, mm, and the line that says so; 0 for one that was assumed.
    pub diameter: (f64, u64),
    /// The mesh.
    pub mesh: Mesh,
    /// Retractions.
    pub retraction: Retraction,
    /// The rate of filament, mm/s, that 95 % of the laying time stays under.
    pub rate_95: f64,
    /// What it asks, in order.
    pub changes: Vec<Change>,
    /// Where it stands still.
    pub pauses: Vec<Pause>,
    /// Settings in its comments, as written.
    pub settings: BTreeMap<String, String>,
    /// Line of each setting.
    pub settings_lines: BTreeMap<String, u64>,
    /// Lines that are odd, the first of them.
    pub problems: Vec<Problem>,
    /// How many there are.
    pub problem_count: u64,
}

impl Reading {
    /// Cross-section of the filament, mm².
    pub fn area(&self) -> f64 {
        PI * self.diameter.0 * self.diameter.0 / 4.0
    }

    /// Sum of a figure over all layers and what comes before them.
    pub fn sum(&self, figure: impl Fn(&Layer) -> f64) -> f64 {
        figure(&self.outside) + self.layers.iter().map(figure).sum::<f64>()
    }

    /// Whether it lays any plastic.
    pub fn lays(&self) -> bool {
        !self.layers.is_empty()
    }

    /// Whether this is a print file at all: it moves something, and more of its lines are
    /// understood than not.
    pub fn is_print_file(&self) -> bool {
        let told = self.moves + self.changes.len() as u64;
        told > 0 && self.problem_count <= 2 * told
    }

    /// Flow of a rate of filament, mm³/s.
    pub fn flow(&self, rate: f64) -> f64 {
        rate * self.area()
    }

    /// The layer with the highest flow.
    pub fn peak(&self) -> Option<(usize, &Layer)> {
        self.layers
            .iter()
            .enumerate()
            .max_by(|a, b| a.1.peak_rate.total_cmp(&b.1.peak_rate))
    }

    /// The shortest layer: its index and seconds. The last of a print is often a mere end.
    pub fn shortest(&self) -> Option<(usize, f64)> {
        let layers = self.layers.iter().map(|layer| layer.time).enumerate();
        layers.min_by(|a, b| a.1.total_cmp(&b.1))
    }

    /// Another object begins after one is done: Z falls back.
    pub fn sequential(&self) -> bool {
        self.layers
            .windows(2)
            .any(|pair| pair[1].z < pair[0].z - 2.0 * pair[0].height.max(0.1))
    }

    /// The commonest height of a layer, mm.
    pub fn typical_height(&self) -> Option<f64> {
        let mut counts: BTreeMap<i64, usize> = BTreeMap::new();
        for layer in self.layers.iter().skip(usize::from(self.layers.len() > 1)) {
            *counts
                .entry((layer.height * 1000.0).round() as i64)
                .or_default() += 1;
        }
        let (height, _) = counts
            .into_iter()
            .max_by_key(|(height, count)| (*count, -*height))?;
        Some(height as f64 / 1000.0)
    }

    /// Box of the print itself.
    pub fn extent(&self) -> Extent {
        let mut all = Extent::default();
        self.layers.iter().for_each(|layer| all.join(&layer.extent));
        all
    }

    /// What held for most of the time above the first layer, where anything did. A figure of 0 is
    /// off and holds nothing.
    pub fn most_held(&self, figure: impl Fn(&Layer) -> f32) -> Option<f64> {
        let above = &self.layers[usize::from(self.layers.len() > 1).min(self.layers.len())..];
        let mut times: Vec<(f32, f64)> = Vec::new();
        for layer in above {
            let value = figure(layer);
            match times.iter_mut().find(|(known, _)| *known == value) {
                Some((_, time)) => *time += layer.plain_time,
                None => times.push((value, layer.plain_time)),
            }
        }
        times.retain(|(value, _)| *value > 0.0);
        let most = times.into_iter().max_by(|a, b| a.1.total_cmp(&b.1))?;
        Some((f64::from(most.0) * 1000.0).round() / 1000.0)
    }

    /// The chamber as asked, °C: the last that is not off.
    pub fn chamber(&self) -> Option<f64> {
        let asked = self
            .changes
            .iter()
            .filter(|c| c.what == "chamber" && c.value > 0.0);
        asked.map(|change| change.value).next_back()
    }

    /// Seconds and length laid by line type, over all layers.
    pub fn by_type(&self, line_type: LineType) -> (f64, f64) {
        let at = line_type.index();
        self.layers.iter().fold((0.0, 0.0), |(laid, time), layer| {
            (
                laid + f64::from(layer.laid_by_type[at]),
                time + f64::from(layer.time_by_type[at]),
            )
        })
    }

    /// A setting by the first of these names that the file has, as a number with its line. Names
    /// are compared without case, spaces and dashes.
    pub fn setting(&self, names: &[&str]) -> Option<(f64, u64)> {
        names.iter().find_map(|name| {
            let (key, value) = self
                .settings
                .iter()
                .find(|(key, _)| plain(key) == plain(name))?;
            let first = value
                .split([',', ';'])
                .next()?
                .trim()
                .trim_end_matches(['%', 'm']);
            let number: f64 = first.trim().parse().ok()?;
            number
                .is_finite()
                .then(|| (number, self.settings_lines[key]))
        })
    }

    /// The time that the file itself states, s, with its line.
    pub fn stated_time(&self) -> Option<(f64, u64)> {
        self.settings.iter().find_map(|(key, value)| {
            let name = plain(key);
            let line = self.settings_lines[key];
            if name == "time" || name == "printtime" {
                return value.parse().ok().map(|seconds| (seconds, line));
            }
            let says = name.starts_with("estimatedprint") || name.contains("estimatedtime");
            (says && !name.contains("first"))
                .then(|| duration(value))?
                .map(|s| (s, line))
        })
    }

    /// The layer at a height: the one whose plastic it is in.
    pub fn layer_at(&self, z: f64) -> Option<usize> {
        let inside = |layer: &Layer| z <= layer.z + 1e-6 && z > layer.z - layer.height - 1e-6;
        let nearest = |layer: &Layer| (layer.z - layer.height / 2.0 - z).abs();
        self.layers.iter().position(inside).or_else(|| {
            let all = self.layers.iter().map(nearest).enumerate();
            all.min_by(|a, b| a.1.total_cmp(&b.1)).map(|(at, _)| at)
        })
    }

    /// The types that lay anything.
    pub fn types(&self) -> impl Iterator<Item = LineType> + '_ {
        (0..LINE_TYPES)
            .map(|at| LineType::ALL[at])
            .filter(|of| self.by_type(*of).0 > 0.0)
    }
}

/// A setting's name without what writers of files disagree about.
fn plain(name: &str) -> String {
    name.chars()
        .filter(char::is_ascii_alphanumeric)
        .map(|c| c.to_ascii_lowercase())
        .collect()
}

/// Seconds of "1d 2h 3m 4s".
fn duration(text: &str) -> Option<f64> {
    let mut seconds = 0.0;
    for part in text.split(';').next()?.split_whitespace() {
        let unit = part.chars().last()?;
        let number: f64 = part.trim_end_matches(char::is_alphabetic).parse().ok()?;
        seconds += number
            * match unit {
                'd' => 86_400.0,
                'h' => 3600.0,
                'm' => 60.0,
                's' => 1.0,
                _ => return None,
            };
    }
    (seconds > 0.0).then_some(seconds)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_stated_time_is_read_in_words_and_in_seconds() {
        let mut reading = Reading::default();
        let name = "estimated printing time (normal mode)".to_owned();
        reading.settings_lines.insert(name.clone(), 9);
        reading.settings.insert(name, "1h 2m 3s".to_owned());
        assert_eq!(reading.stated_time(), Some((3723.0, 9)));
        assert_eq!(duration("2d 1m"), Some(172_860.0));
        assert_eq!(duration("soon"), None);
    }

    #[test]
    fn the_mesh_in_a_word() {
        let mut mesh = Mesh::default();
        assert_eq!(mesh.word(), None);
        mesh.home(3);
        assert_eq!(mesh.word(), Some("homes-only"));
        mesh.measure(4);
        assert_eq!(mesh.word(), Some("measured"));
        mesh.home(5);
        assert!(mesh.homed_after);
        mesh.load(6);
        assert_eq!(mesh.word(), Some("measured-and-loaded"));
    }
}
