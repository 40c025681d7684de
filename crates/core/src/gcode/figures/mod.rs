//! Figures of a file, gathered in one pass.

mod asked;
mod bridges;
mod close;
mod flow;
mod ground;
mod layers;
mod limits;
mod pace;
mod state;
pub(crate) mod strokes;
mod walk;
mod withdraw;

pub use limits::Limits;

use super::comments::{LayerWord, Mark};
use super::layer::Layer;
use super::line_type::LineType;
use super::machine::Machine;
use super::reading::{Change, Pause, Problem};
use super::sink::{Ask, Sink, Step};
use super::words::Odd;
use flow::Flow;
use ground::Ground;
use pace::Pace;
use state::{Now, Run, Seen};
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
    /// Seconds since what is held was noted last, and filament that moved in them.
    long: f64,
    moved: f64,
    stroke: Option<Stroke>,
    stroke_type: LineType,
    run: Run,
    /// Something may have changed since a line was laid last.
    anew: bool,
    strokes: Vec<Stroke>,
    now: Now,
    seen: Seen,
    changes: Vec<Change>,
    /// How many are kept of each kind.
    changes_of: BTreeMap<&'static str, usize>,
    pauses: Vec<Pause>,
    settings: BTreeMap<String, String>,
    settings_lines: BTreeMap<String, u64>,
    problems: Vec<Problem>,
    problem_count: u64,
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
            moved: 0.0,
            stroke: None,
            stroke_type: LineType::Other,
            run: Run::default(),
            anew: true,
            strokes: Vec::new(),
            now: Now::default(),
            seen: Seen::default(),
            changes: Vec::new(),
            changes_of: BTreeMap::new(),
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
    fn lay(&mut self, step: &Step, machine: &Machine) {
        self.withdraw.feed(step.e);
        if self.layer_word.is_none() {
            self.layer_by_z(step, machine);
        }
        self.seen.modes |= step.modes;
        if self.stroke.is_none() {
            self.begin_stroke(step);
        }
        if self.anew || step.to[2] != self.run.z {
            self.look_up(step.to[2]);
        }
        let Figures { stroke, run, .. } = self;
        let Some(stroke) = stroke else {
            return;
        };
        let open = self.ground.lay(step.from, step.to, step.length);
        stroke.go([step.to[0], step.to[1]], step.length, step.plain, open);
        run.filament += step.e;
        if run.in_layer && step.length >= LEAST_FOR_RATE {
            let rate = step.e * step.speed * step.one;
            self.flow.add(step.e, step.plain, rate);
            if rate > run.peak.0 {
                run.peak = (rate, step.line);
            }
        }
    }

    /// Takes notice of what does not change from line to line: the height and the fan.
    fn look_up(&mut self, z: f64) {
        self.anew = false;
        self.run.z = z;
        self.ground.level(z, self.thick);
        let laid = self
            .stroke
            .as_ref()
            .is_some_and(|stroke| stroke.length > 0.0);
        let fan = self.now.fan;
        let layer = self.layer();
        layer.z = z.max(if laid || layer.is_laid() {
            layer.z
        } else {
            0.0
        });
        layer.fan_most = layer.fan_most.max(fan);
    }

    /// Counts the width of what was laid of a stroke so far.
    fn widen(&mut self) {
        if let Some(stroke) = &self.stroke {
            let (sum, up_to) = &mut self.run.wide;
            *sum += self.width * (stroke.length - *up_to);
            *up_to = stroke.length;
        }
    }

    /// The head goes somewhere without laying, or filament moves by itself.
    #[inline]
    fn roam(&mut self, step: &Step) {
        self.end_stroke();
        if step.e < 0.0 {
            let alone = step.length == 0.0;
            if self.withdraw.draw(-step.e, step.speed, alone, step.line) {
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

    /// How many steps, at least the first, go by before a layer may begin.
    fn in_one_layer(&self, steps: &[Step]) -> usize {
        if self.layer_word.is_some() {
            return steps.len();
        }
        let z = self.layers.last().map_or(f64::NAN, |layer| layer.z);
        let level = |step: &&Step| !step.lays() || step.to[2] == z && step.from[2] == z;
        steps.iter().take_while(level).count().max(1)
    }

    /// What steps lay and where they lead.
    fn go_over(&mut self, steps: &[Step], machine: &Machine) {
        self.seen.moves += steps.len() as u64;
        for step in steps {
            if step.lays() {
                self.lay(step, machine);
            } else {
                self.roam(step);
            }
            self.long += step.plain;
            self.moved += step.e;
        }
    }

    /// How long steps take.
    fn time(&mut self, steps: &[Step]) {
        let slot = self.slot();
        let Figures {
            pace,
            layers,
            outside,
            ..
        } = self;
        for step in steps {
            pace.push(step, slot, |slot, time| spend(layers, outside, slot, time));
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
        let moved = std::mem::take(&mut self.moved);
        let long = std::mem::take(&mut self.long);
        let layer = self.layers.last_mut().unwrap_or(&mut self.outside);
        layer.filament += moved;
        layer.plain_time += long;
        let long = long as f32;
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

/// The lesser of two numbers. `f64::min` takes more steps, to heed what is no number.
#[inline]
fn least(a: f64, b: f64) -> f64 {
    if a < b { a } else { b }
}

/// The nearest whole number. Quicker than `round`: added to so large a number, what is behind the
/// point falls off. Numbers beyond 2^50 come out as something beyond 2^50.
#[inline]
fn nearest(number: f64) -> i64 {
    const LARGE: f64 = (3_u64 << 51) as f64;
    (number + LARGE).to_bits().wrapping_sub(LARGE.to_bits()) as i64
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
    fn moved(&mut self, mut steps: &[Step], machine: &Machine) {
        // As long as no layer begins, all are laid, then all are timed. Two short loops are quicker
        // than a long one, in which each step waits for the one before.
        while !steps.is_empty() {
            let (these, rest) = steps.split_at(self.in_one_layer(steps));
            self.go_over(these, machine);
            self.time(these);
            steps = rest;
        }
    }

    fn asked(&mut self, ask: Ask, machine: &Machine) {
        if ask == Ask::Mode {
            return;
        }
        self.hold();
        self.anew = true;
        self.ask(ask, machine);
    }

    fn marked(&mut self, mark: Mark<'_>, machine: &Machine) {
        self.anew = true;
        match mark {
            Mark::Nothing => {}
            Mark::Layer(word) => self.layer_marked(word, machine),
            Mark::Z(mm) => self.layer_z(mm),
            Mark::Height(mm) => self.layer_height(mm),
            Mark::Width(mm) => {
                self.widen();
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
