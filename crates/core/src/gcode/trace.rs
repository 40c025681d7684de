//! The paths of one layer, read again from its place in the file.

use super::comments::Mark;
use super::figures::USUAL_WIDTH;
use super::figures::strokes::{self, Stroke};
use super::layer::Layer;
use super::line_type::LineType;
use super::lines::Lines;
use super::machine::Machine;
use super::sink::{Ask, Sink, Step};
use super::words::{Odd, Words};

/// Pieces of a layer that are kept; more are left out, and said to be.
pub const MOST_PIECES: usize = 200_000;

/// What a piece of the way does.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    /// Lays plastic of this type.
    Lays(LineType),
    /// Goes somewhere.
    Travels,
    /// Goes somewhere while it draws filament back.
    Wipes,
}

/// One straight piece.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Piece {
    /// What it does.
    pub way: Way,
    /// Where it begins, mm.
    pub from: [f32; 2],
    /// Where it ends, mm.
    pub to: [f32; 2],
    /// Speed asked for, mm/s.
    pub speed: f32,
    /// Filament a second, mm/s.
    pub rate: f32,
    /// Line of the file.
    pub line: u64,
}

/// The paths of a layer.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Trace {
    /// Pieces in their order.
    pub pieces: Vec<Piece>,
    /// Where filament is drawn back: X, Y.
    pub retractions: Vec<[f32; 2]>,
    /// Where outer loops start: X, Y.
    pub seams: Vec<[f32; 2]>,
    /// Line types were guessed.
    pub guessed: bool,
    /// Pieces left out.
    pub left_out: usize,
}

/// Reads a layer again.
pub struct Tracer {
    lines: Lines,
    words: Words,
    machine: Machine,
    paths: Paths,
    until: Option<u64>,
}

struct Paths {
    trace: Trace,
    line_type: LineType,
    named: bool,
    width: f64,
    drawn: bool,
    stroke: Option<(Stroke, usize)>,
    strokes: Vec<(Stroke, usize)>,
    first: bool,
}

impl Tracer {
    /// For a layer of a reading: its bytes are fed from [`Layer::offset`] to the next layer's.
    /// None where the layer does not say how it begins.
    pub fn new(layer: &Layer, next: Option<&Layer>, named: bool, first: bool) -> Option<Self> {
        let start = layer.start.as_ref()?;
        let paths = Paths {
            trace: Trace {
                guessed: !named,
                ..Trace::default()
            },
            line_type: start.line_type,
            named,
            width: start.width,
            drawn: false,
            stroke: None,
            strokes: Vec::new(),
            first,
        };
        Some(Tracer {
            lines: Lines::from(layer.line, layer.offset),
            words: Words::default(),
            machine: start.machine.clone(),
            paths,
            until: next.map(|next| next.line),
        })
    }

    /// The next bytes of the file. What follows after the layer is passed over.
    pub fn feed(&mut self, bytes: &[u8]) {
        let Tracer {
            lines,
            words,
            machine,
            paths,
            until,
        } = self;
        lines.feed(bytes, |line| {
            if until.is_none_or(|until| line.number < until) {
                machine.read(words, line, paths);
            }
        });
    }

    /// The paths.
    pub fn finish(mut self) -> Trace {
        let Tracer {
            lines,
            words,
            machine,
            paths,
            until,
        } = &mut self;
        lines.end(|line| {
            if until.is_none_or(|until| line.number < until) {
                machine.read(words, line, paths);
            }
        });
        self.paths.finish()
    }
}

impl Paths {
    fn end_stroke(&mut self) {
        if let Some((stroke, from)) = self.stroke.take() {
            if self.line_type == LineType::OuterLoop && self.named {
                self.trace.seams.push(stroke.start.map(|mm| mm as f32));
            }
            self.strokes.push((stroke, from));
        }
    }

    fn go(&mut self, step: &Step) {
        let [from, to] = [step.from, step.to].map(|at| [at[0] as f32, at[1] as f32]);
        let lays = step.lays();
        if step.e < 0.0 && !self.drawn {
            self.drawn = true;
            self.trace.retractions.push(from);
        }
        self.drawn &= step.e <= 0.0;
        if !lays {
            self.end_stroke();
        }
        if step.length == 0.0 {
            return;
        }
        if self.trace.pieces.len() >= MOST_PIECES {
            self.trace.left_out += 1;
            return;
        }
        let at = self.trace.pieces.len();
        if lays {
            let begin = || (Stroke::begin(step.from[0], step.from[1]), at);
            let (stroke, _) = self.stroke.get_or_insert_with(begin);
            stroke.go(
                [step.to[0], step.to[1]],
                step.length,
                step.length / step.speed,
                0.0,
            );
        }
        let way = match (lays, step.e < 0.0) {
            (true, _) => Way::Lays(self.line_type),
            (_, true) => Way::Wipes,
            _ => Way::Travels,
        };
        let rate = if lays {
            step.e * step.speed / step.length
        } else {
            0.0
        };
        let (speed, rate, line) = (step.speed as f32, rate as f32, step.line);
        self.trace.pieces.push(Piece {
            way,
            from,
            to,
            speed,
            rate,
            line,
        });
    }

    fn finish(mut self) -> Trace {
        self.end_stroke();
        if self.named {
            return self.trace;
        }
        let width = if self.width > 0.0 {
            self.width
        } else {
            USUAL_WIDTH
        };
        let only: Vec<Stroke> = self.strokes.iter().map(|(stroke, _)| *stroke).collect();
        let types = strokes::guess(&only, width, self.first);
        for ((stroke, from), line_type) in self.strokes.iter().zip(types) {
            if line_type == LineType::OuterLoop {
                self.trace.seams.push(stroke.start.map(|mm| mm as f32));
            }
            let pieces = self.trace.pieces.iter_mut().skip(*from);
            for piece in pieces.take(stroke.moves as usize) {
                piece.way = Way::Lays(line_type);
            }
        }
        self.trace
    }
}

impl Sink for Paths {
    fn moved(&mut self, steps: &[Step], _: &Machine) {
        steps.iter().for_each(|step| self.go(step));
    }

    fn asked(&mut self, ask: Ask, machine: &Machine) {
        if let Ask::FirmwareRetract(e, _) = ask {
            self.end_stroke();
            if e < 0.0 {
                self.trace
                    .retractions
                    .push([machine.at[0] as f32, machine.at[1] as f32]);
            }
        }
    }

    fn marked(&mut self, mark: Mark<'_>, _: &Machine) {
        match mark {
            Mark::Type(line_type) => {
                if line_type != self.line_type {
                    self.end_stroke();
                }
                self.line_type = line_type;
            }
            Mark::Width(mm) => self.width = mm,
            _ => {}
        }
    }

    fn odd(&mut self, _: Odd, _: &Machine) {}
}
