//! Figures of a file, gathered in one pass.

mod asked;
mod close;
mod flow;
mod ground;
mod layers;
mod pace;
pub(crate) mod strokes;
mod withdraw;

pub use pace::Limits;

use super::comments::{LayerWord, Mark};
use super::layer::Layer;
use super::line_type::LineType;
use super::machine::Machine;
use super::reading::{Change, Mesh, Pause, Problem};
use super::sink::{Ask, Sink, Step};
use super::words::Odd;
use flow::Flow;
use ground::Ground;
use pace::Pace;
use std::collections::BTreeMap;
use strokes::Stroke;
use withdraw::Withdraw;

/// Slot of moves before the first layer.
const OUTSIDE: u32 = u32::MAX;

/// A way shorter than this says little about a rate, mm: its filament is rounded.
const LEAST_FOR_RATE: f64 = 0.2;

/// Width of a line where nothing says it, mm.
pub(crate) const USUAL_WIDTH: f64 = 0.45;

/// Gathers the figures of one file.
pub(crate) struct Figures {
    pace: Pace,
    ground: Ground,
    withdraw: Withdraw,
    flow: Flow,
    layers: Vec<Layer>,
    outside: Layer,
    layer_word: Option<LayerWord>,
    /// More layers than are kept apart.
    crowded: bool,
    line_type: LineType,
    types_named: bool,
    /// Width as the file states it, mm; 0 where it does not.
    width: f64,
    /// Height of the layer that is laid, mm.
    thick: f64,
    /// A spiral rises from here.
    ramp: f64,
    /// Seconds since what is held was noted last.
    long: f64,
    /// The last speed, and one by it.
    speed: (f64, f64),
    stroke: Option<Stroke>,
    stroke_type: LineType,
    strokes: Vec<Stroke>,
    now: Now,
    seen: Seen,
    changes: Vec<Change>,
    pauses: Vec<Pause>,
    settings: BTreeMap<String, String>,
    settings_lines: BTreeMap<String, u64>,
    problems: Vec<Problem>,
    problem_count: u64,
}

/// What the machine is told to hold now.
#[derive(Debug)]
struct Now {
    fans: [f32; 16],
    fan: f32,
    nozzles: [f32; 64],
    bed: f32,
    chamber: f32,
    pressure: f32,
    tool: u8,
    flow_factor: f32,
    speed_factor: f32,
}

/// What a file was seen to use.
#[derive(Debug, Default)]
pub(crate) struct Seen {
    pub moves: u64,
    pub absolute: bool,
    pub relative: bool,
    pub inch: bool,
    pub arcs: bool,
    pub firmware_retraction: bool,
    pub macros: bool,
    pub limits: bool,
    pub first_fan: bool,
    pub mesh: Mesh,
}

impl Figures {
    pub fn new(limits: Limits) -> Self {
        Figures {
            pace: Pace::new(limits),
            ground: Ground::default(),
            withdraw: Withdraw::default(),
            flow: Flow::default(),
            layers: Vec::new(),
            outside: Layer::default(),
            layer_word: None,
            crowded: false,
            line_type: LineType::Other,
            types_named: false,
            width: 0.0,
            thick: 0.2,
            ramp: 0.0,
            long: 0.0,
            speed: (1.0, 1.0),
            stroke: None,
            stroke_type: LineType::Other,
            strokes: Vec::new(),
            now: Now {
                fans: [0.0; 16],
                fan: 0.0,
                nozzles: [0.0; 64],
                bed: 0.0,
                chamber: 0.0,
                pressure: -1.0,
                tool: 0,
                flow_factor: 1.0,
                speed_factor: 1.0,
            },
            seen: Seen::default(),
            changes: Vec::new(),
            pauses: Vec::new(),
            settings: BTreeMap::new(),
            settings_lines: BTreeMap::new(),
            problems: Vec::new(),
            problem_count: 0,
        }
    }

    fn slot(&self) -> u32 {
        self.layers
            .len()
            .checked_sub(1)
            .map_or(OUTSIDE, |last| last as u32)
    }

    fn layer(&mut self) -> &mut Layer {
        self.layers.last_mut().unwrap_or(&mut self.outside)
    }

    /// A line is laid.
    #[inline]
    fn lay(&mut self, step: &Step, plain: f64, one: f64, machine: &Machine) {
        self.withdraw.feed(step.e);
        if self.layer_word.is_none() {
            self.layer_by_z(step, machine);
        }
        self.seen.absolute |= machine.e_absolute;
        self.seen.relative |= !machine.e_absolute;
        self.seen.arcs |= machine.arcing;
        self.seen.inch |= machine.unit != 1.0;
        let begins = self.stroke.is_none();
        if begins {
            self.begin_stroke(step, machine);
        }
        let open = if self.thick > 0.0 {
            self.ground.lay(step.from, step.to, step.length, self.thick)
        } else {
            0.0
        };
        let open = if step.to[2] - self.thick <= 0.05 {
            0.0
        } else {
            open
        };
        if let Some(stroke) = &mut self.stroke {
            stroke.go([step.to[0], step.to[1]], step.length, plain, open);
        }
        let rate = step.e * step.speed * one;
        let outside = self.layers.is_empty();
        let (width, fan) = (self.width, self.now.fan);
        let layer = self.layers.last_mut().unwrap_or(&mut self.outside);
        layer.z = step.to[2].max(if layer.is_laid() { layer.z } else { 0.0 });
        layer.fan_most = layer.fan_most.max(fan);
        layer.laid += step.length;
        layer.laid_time += plain;
        layer.laid_filament += step.e;
        layer.width_stated += (width * step.length) as f32;
        if !outside && step.length >= LEAST_FOR_RATE {
            self.flow.add(step.e, plain, rate);
            if rate > layer.peak_rate {
                (layer.peak_rate, layer.peak_line) = (rate, machine.line);
            }
        }
    }

    /// The head goes somewhere without laying, or filament moves by itself.
    #[inline]
    fn roam(&mut self, step: &Step, machine: &Machine) {
        self.end_stroke();
        if step.e < 0.0 {
            let alone = step.length == 0.0;
            if self.withdraw.draw(-step.e, step.speed, alone, machine.line) {
                self.layer().retractions += 1;
            }
        } else if step.e > 0.0 {
            self.withdraw.push(step.e);
        }
        if step.length > 0.0 && step.e == 0.0 {
            let layer = self.layers.last_mut().unwrap_or(&mut self.outside);
            layer.travel += step.length;
            layer.open_travel += self.ground.open(step.from, step.to, step.length, layer.z);
            layer.roamed.add(step.to[0], step.to[1]);
        }
    }

    /// The machine stands still here.
    fn stand(&mut self) {
        let Figures {
            pace,
            layers,
            outside,
            ..
        } = self;
        pace.stop(|slot, time| spend(layers, outside, slot, time));
    }

    /// Notes what was held since the last change of any of it.
    fn hold(&mut self) {
        let long = std::mem::take(&mut self.long) as f32;
        if long <= 0.0 {
            return;
        }
        let laying = self.pace.limits.laying as f32;
        let Now {
            fan,
            nozzles,
            tool,
            bed,
            pressure,
            flow_factor,
            speed_factor,
            ..
        } = self.now;
        let layer = self.layers.last_mut().unwrap_or(&mut self.outside);
        layer.fan.hold(fan, long);
        layer.nozzle.hold(nozzles[usize::from(tool)], long);
        layer.bed.hold(bed, long);
        layer.acceleration.hold(laying, long);
        layer.pressure.hold(pressure, long);
        layer.flow_factor.hold(flow_factor, long);
        layer.speed_factor.hold(speed_factor, long);
    }

    fn spend_seconds(&mut self, seconds: f64) {
        self.stand();
        let layer = self.layer();
        layer.time += seconds;
        layer.plain_time += seconds;
    }
}

/// Gives time to the layer of a slot.
#[inline]
fn spend(layers: &mut [Layer], outside: &mut Layer, slot: u32, time: f64) {
    match layers.get_mut(slot as usize) {
        Some(layer) => layer.time += time,
        None => outside.time += time,
    }
}

impl Sink for Figures {
    #[inline]
    fn moved(&mut self, step: &Step, machine: &Machine) {
        let way = if step.length > 0.0 {
            step.length
        } else {
            step.e.abs()
        };
        if step.speed != self.speed.0 {
            self.speed = (step.speed, 1.0 / step.speed);
        }
        let plain = way * self.speed.1;
        let one = 1.0 / way;
        self.seen.moves += 1;
        if step.e > 0.0 && step.length > 0.0 {
            self.lay(step, plain, one, machine);
        } else {
            self.roam(step, machine);
        }
        self.long += plain;
        let slot = self.slot();
        let layer = self.layers.last_mut().unwrap_or(&mut self.outside);
        layer.filament += step.e;
        layer.plain_time += plain;
        let to = [0, 1, 2].map(|axis| step.to[axis] - step.from[axis]);
        let Figures {
            pace,
            layers,
            outside,
            ..
        } = self;
        let way = ([to[0], to[1], to[2], step.e], (way, one, step.speed, plain));
        pace.push(way.0, way.1, slot, |slot, time| {
            spend(layers, outside, slot, time);
        });
    }

    fn asked(&mut self, ask: Ask, machine: &Machine) {
        self.hold();
        self.ask(ask, machine);
    }

    fn marked(&mut self, mark: Mark<'_>, machine: &Machine) {
        match mark {
            Mark::Nothing => {}
            Mark::Layer(word) => self.layer_marked(word, machine),
            Mark::Z(mm) => self.layer_z(mm),
            Mark::Height(mm) => self.layer_height(mm),
            Mark::Width(mm) => {
                self.width = mm.clamp(0.0, 10.0);
            }
            Mark::Type(line_type) => {
                if line_type != self.line_type {
                    self.end_stroke();
                }
                self.types_named |= line_type != LineType::Other;
                self.line_type = line_type;
            }
            Mark::Setting(name, value) => self.setting(name, value, machine.line),
            Mark::Head(name, value) => {
                // How far a print is stands between layers and is no setting.
                if self.layers.len() < 2 && !name.eq_ignore_ascii_case(b"TIME_ELAPSED") {
                    self.setting(name, value, machine.line);
                }
            }
        }
    }

    fn odd(&mut self, odd: Odd, machine: &Machine) {
        self.problem(machine.line, odd);
    }
}
