//! The end of a file: figures become a [`Reading`].

use super::super::layer::Layer;
use super::super::machine::modes;
use super::super::reading::{Problem, Reading, Retraction, USUAL_DIAMETER};
use super::Figures;

/// Names under which the filament's diameter is written.
const DIAMETER: [&str; 3] = [
    "filament_diameter",
    "material_diameter",
    "filament diameter",
];

impl Figures {
    /// What was read, the file being at its end after so many lines.
    pub(crate) fn finish(mut self, lines: u64) -> Reading {
        self.end_layer();
        self.stand();
        self.withdraw.end();
        let mut layers = std::mem::take(&mut self.layers);
        self.drop_empty(&mut layers);
        heights(&mut layers);
        for layer in layers.iter_mut().chain([&mut self.outside]) {
            if layer.laid > 0.0 {
                layer.width_stated /= layer.laid as f32;
            }
        }
        let (length_mm, speed_mm_s) = self.withdraw.usual();
        let seen = self.seen;
        let mut reading = Reading {
            lines,
            moves: seen.moves,
            absolute: seen.modes & modes::ABSOLUTE != 0,
            relative: seen.modes & modes::RELATIVE != 0,
            inch: seen.modes & modes::INCH != 0,
            arcs: seen.modes & modes::ARC != 0,
            firmware_retraction: seen.firmware_retraction,
            macros: seen.macros,
            limits: seen.limits,
            layers_marked: self.layer_word.is_some(),
            types_named: self.types_named,
            layers,
            outside: self.outside,
            diameter: (USUAL_DIAMETER, 0),
            mesh: seen.mesh,
            retraction: Retraction {
                count: self.withdraw.count,
                length_mm,
                speed_mm_s,
                most_on_one_stretch: self.withdraw.most,
                most_line: self.withdraw.most_line,
                extra_mm: self.withdraw.extra(),
            },
            rate_95: self.flow.quantile(0.95),
            changes: self.changes,
            pauses: self.pauses,
            settings: self.settings,
            settings_lines: self.settings_lines,
            problems: self.problems,
            problem_count: self.problem_count,
        };
        let stated = reading.setting(&DIAMETER);
        reading.diameter = stated
            .filter(|(mm, _)| (1.0..=4.0).contains(mm))
            .unwrap_or(reading.diameter);
        for what in whole(&reading, self.crowded) {
            reading.problems.push(Problem { line: 0, what });
        }
        reading
    }

    /// Layers without plastic are none; what is done in them counts with the one before.
    fn drop_empty(&mut self, layers: &mut Vec<Layer>) {
        let mut kept: Vec<Layer> = Vec::with_capacity(layers.len());
        for layer in layers.drain(..) {
            if layer.is_laid() {
                kept.push(layer);
                continue;
            }
            let before = kept.last_mut().unwrap_or(&mut self.outside);
            before.count_in(&layer);
        }
        *layers = kept;
    }
}

/// Heights of layers that the file does not state: above the layer beneath.
fn heights(layers: &mut [Layer]) {
    let mut beneath = 0.0;
    let mut usual: f64 = 0.2;
    for layer in layers {
        let rise = layer.z - beneath;
        if !layer.height_stated {
            // Another object from the plate up: its first layer is as high as it stands.
            layer.height = if rise > 1e-6 {
                rise
            } else {
                layer.z.clamp(0.01, usual.max(0.01))
            };
        }
        usual = layer.height;
        beneath = layer.z;
    }
}

/// What is odd about the file as a whole.
fn whole(reading: &Reading, crowded: bool) -> Vec<String> {
    let mut found = Vec::new();
    if !reading.lays() {
        found.push("nothing in this file lays plastic".to_owned());
    }
    if crowded {
        found.push("more than 12,000 layers: the last ones are counted as one".to_owned());
    }
    if reading.problem_count as usize > reading.problems.len() {
        found.push(format!(
            "{} lines are odd; the first of them stand here",
            reading.problem_count
        ));
    }
    found
}
