//! Where one layer ends and the next begins; strokes within a layer.

use super::super::comments::LayerWord;
use super::super::layer::{Layer, SEAMS_KEPT, Start};
use super::super::line_type::LineType;
use super::super::machine::Machine;
use super::super::sink::Step;
use super::strokes::{self, MOST_STROKES, Stroke};
use super::{Figures, Run, USUAL_WIDTH};

/// Layers kept apart; what lies above is counted with the last.
const MOST_LAYERS: usize = 12_000;

/// Heights that differ by less are one layer, mm.
const SAME_Z: f64 = 0.005;

/// Lines laid at the wrong height before the first layer, up to this length, prime the nozzle, mm.
const PRIMING: f64 = 700.0;

impl Figures {
    /// A comment says that a layer begins. A file follows one way of saying it.
    pub(super) fn layer_marked(&mut self, word: LayerWord, machine: &Machine) {
        if self.layer_word.is_none() {
            // What was laid before the first mark belongs to the start.
            self.layer_word = Some(word);
            while !self.layers.is_empty() {
                self.first_was_no_layer();
            }
        }
        if self.layer_word == Some(word) {
            self.begin_layer(machine.clone());
        }
    }

    pub(super) fn layer_z(&mut self, mm: f64) {
        if self.layer_word.is_some()
            && let Some(layer) = self.layers.last_mut()
            && !layer.is_laid()
            && self.stroke.is_none()
            && (0.0..5000.0).contains(&mm)
        {
            layer.z = mm;
        }
    }

    pub(super) fn layer_height(&mut self, mm: f64) {
        if (0.005..20.0).contains(&mm) {
            let marked = self.layer_word.is_some();
            if let Some(layer) = self.layers.last_mut()
                && marked
                && !layer.height_stated
            {
                (layer.height, layer.height_stated) = (mm, true);
            }
            self.thick = mm;
        }
    }

    /// Without marks the height at which plastic is laid tells the layers. A ramp, as a spiral
    /// climbs, is a layer for each layer's height.
    #[inline]
    pub(super) fn layer_by_z(&mut self, step: &Step, machine: &Machine) {
        let z = step.to[2];
        let ramps = z != step.from[2];
        let Some(layer) = self.layers.last() else {
            self.begin_layer(machine.before(step));
            self.settle_height(z, ramps);
            return;
        };
        let new = if ramps {
            z >= self.ramp + self.thick - SAME_Z || z < self.ramp - SAME_Z
        } else {
            (z - layer.z).abs() > SAME_Z
        };
        if !new {
            return;
        }
        if self.layers.len() == 1 && z < layer.z - SAME_Z && self.laid() < PRIMING {
            self.first_was_no_layer();
        }
        let base = if ramps && z > self.ramp {
            self.ramp + self.thick
        } else {
            z
        };
        self.begin_layer(machine.before(step));
        self.settle_height(z, ramps);
        if ramps {
            self.ramp = base;
        }
    }

    /// Length of the lines in the layer so far, mm.
    fn laid(&self) -> f64 {
        let stroke = self.stroke.as_ref().map_or(0.0, |stroke| stroke.length);
        self.layers.last().map_or(0.0, |layer| layer.laid) + stroke
    }

    /// The height of a layer that begins, from the one beneath.
    fn settle_height(&mut self, z: f64, ramps: bool) {
        let beneath = self
            .layers
            .iter()
            .rev()
            .skip(1)
            .find(|layer| layer.is_laid());
        let rise = beneath.map_or(z, |layer| z - layer.z);
        let thick = if ramps && beneath.is_some() {
            self.thick
        } else if rise > 0.0 {
            rise.min(2.0)
        } else {
            // Another object from the plate up.
            z.clamp(0.02, self.thick.max(0.02))
        };
        self.thick = thick;
        self.ramp = z;
    }

    fn begin_layer(&mut self, machine: Machine) {
        self.end_layer();
        let (line, offset) = (machine.line, machine.offset_in_file);
        let start = Start {
            machine,
            line_type: self.line_type,
            width: self.width,
        };
        let layer = Layer {
            line,
            offset,
            start: Some(Box::new(start)),
            ..Layer::default()
        };
        let many = self.layers.len();
        match self.layers.last_mut() {
            // Marks that follow each other without plastic between them are one.
            Some(last) if !last.is_laid() && last.filament == 0.0 => {
                let (time, plain_time) = (last.time, last.plain_time);
                let (travel, open_travel) = (last.travel, last.open_travel);
                *last = Layer {
                    time,
                    plain_time,
                    travel,
                    open_travel,
                    ..layer
                };
            }
            _ if many >= MOST_LAYERS => self.crowded = true,
            _ => self.layers.push(layer),
        }
    }

    /// Ends the layer: its strokes are guessed at where nothing names them.
    pub(super) fn end_layer(&mut self) {
        self.end_stroke();
        self.hold();
        let strokes = std::mem::take(&mut self.strokes);
        let first = self.layers.len() == 1;
        let Some(layer) = self.layers.last_mut() else {
            return;
        };
        if self.types_named || strokes.is_empty() {
            return;
        }
        let width = if self.width > 0.0 {
            self.width
        } else {
            USUAL_WIDTH
        };
        let types = strokes::guess(&strokes, width, first);
        for (stroke, line_type) in strokes.iter().zip(types) {
            count_stroke(layer, stroke, line_type, width);
        }
        self.strokes = strokes;
        self.strokes.clear();
    }

    /// What was taken for the first layer was laid before it.
    fn first_was_no_layer(&mut self) {
        self.end_stroke();
        self.hold();
        self.stand();
        self.strokes.clear();
        let first = self.layers.remove(0);
        self.outside.count_in(&first);
        self.flow = super::Flow::default();
    }

    pub(super) fn begin_stroke(&mut self, step: &Step) {
        let [x, y, z] = step.from;
        self.stroke = Some(Stroke::begin(x, y));
        self.run = Run {
            in_layer: !self.layers.is_empty(),
            ..Run::default()
        };
        self.anew = true;
        self.stroke_type = self.line_type;
        let place = [x, y, step.to[2].max(z)];
        let width = if self.width > 0.0 {
            self.width
        } else {
            USUAL_WIDTH
        };
        let supported = matches!(self.line_type, LineType::Support | LineType::Tower);
        if self.layers.len() > 1
            && !supported
            && self.ground.in_air(place, self.thick, width)
            && let Some(layer) = self.layers.last_mut()
        {
            if layer.air_starts == 0 {
                (layer.air_at, layer.air_line) = ([x as f32, y as f32], step.line);
            }
            layer.air_starts += 1;
        }
    }

    pub(super) fn end_stroke(&mut self) {
        self.widen();
        let Some(stroke) = self.stroke.take() else {
            return;
        };
        let width = if self.width > 0.0 {
            self.width
        } else {
            USUAL_WIDTH
        };
        let outside = self.layers.is_empty();
        let layer = self.layers.last_mut().unwrap_or(&mut self.outside);
        layer.extent.join(&stroke.extent);
        layer.laid += stroke.length;
        layer.laid_time += stroke.time;
        layer.laid_filament += self.run.filament;
        layer.width_stated += self.run.wide.0 as f32;
        if self.run.peak.0 > layer.peak_rate {
            (layer.peak_rate, layer.peak_line) = self.run.peak;
        }
        layer.bridges += self.ground.bridges.end();
        if self.types_named || outside {
            count_stroke(layer, &stroke, self.stroke_type, width);
        } else if self.strokes.len() < MOST_STROKES {
            self.strokes.push(stroke);
        }
    }
}

fn count_stroke(layer: &mut Layer, stroke: &Stroke, line_type: LineType, width: f64) {
    layer.laid_by_type[line_type.index()] += stroke.length as f32;
    layer.time_by_type[line_type.index()] += stroke.time as f32;
    if line_type != LineType::OuterLoop || stroke.length < 4.0 * width {
        return;
    }
    if layer.seams.len() < SEAMS_KEPT {
        layer.seams.push(stroke.start.map(|mm| mm as f32));
    }
    if stroke.area.abs() > f64::from(layer.loop_area.abs()) {
        layer.loop_area = stroke.area as f32;
    }
    layer.loops += 1;
    layer.short_loops += u32::from(stroke.gap() > 1.5 * width && stroke.gap() < 12.0 * width);
}
