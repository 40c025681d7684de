//! What a stretch of a file asks of the machine, written down to be counted later.

use super::comments::{LayerWord, Mark};
use super::figures::{Figures, Limits};
use super::line_type::LineType;
use super::machine::Machine;
use super::reading::Reading;
use super::sink::{Ask, Sink, Step};
use super::words::Odd;

/// Steps of a block, which the last line may go beyond; and as many other things.
const MOST: usize = 1024;

/// Bytes of settings in it, which the last may go beyond.
const TEXT: usize = 64 * 1024;

/// Steps counted together.
const TOGETHER: usize = 64;

/// Steps, and what is asked and said between them, in their order.
#[derive(Debug)]
pub(super) struct Block {
    steps: Vec<Step>,
    events: Vec<Event>,
    text: Vec<u8>,
}

/// Something that is no step.
#[derive(Debug)]
struct Event {
    /// Steps of the block before it.
    after: usize,
    what: What,
    /// As it is then.
    machine: Machine,
}

#[derive(Debug, Clone, Copy)]
enum What {
    Asked(Ask),
    Odd(Odd),
    Layer(LayerWord),
    Z(f64),
    Height(f64),
    Width(f64),
    Type(LineType),
    /// A setting: so many bytes of name and of value in the text; and whether as heads of files
    /// write it.
    Setting(usize, usize, bool),
}

impl Default for Block {
    fn default() -> Self {
        Block {
            steps: Vec::with_capacity(MOST + MOST / 4),
            events: Vec::new(),
            text: Vec::new(),
        }
    }
}

impl Block {
    /// Whether it is to be handed on.
    #[inline]
    pub fn is_full(&self) -> bool {
        self.steps.len() >= MOST || self.events.len() >= MOST || self.text.len() >= TEXT
    }

    /// Makes room for what comes next.
    pub fn clear(&mut self) {
        self.steps.clear();
        self.events.clear();
        self.text.clear();
    }

    fn add(&mut self, what: What, machine: &Machine) {
        self.events.push(Event {
            after: self.steps.len(),
            what,
            machine: machine.clone(),
        });
    }

    fn setting(&mut self, name: &[u8], value: &[u8], head: bool) -> What {
        self.text.extend_from_slice(name);
        self.text.extend_from_slice(value);
        What::Setting(name.len(), value.len(), head)
    }
}

impl Sink for Block {
    #[inline]
    fn moved(&mut self, steps: &[Step], _: &Machine) {
        self.steps.extend_from_slice(steps);
    }

    fn asked(&mut self, ask: Ask, machine: &Machine) {
        self.add(What::Asked(ask), machine);
    }

    fn marked(&mut self, mark: Mark<'_>, machine: &Machine) {
        let what = match mark {
            Mark::Nothing => return,
            Mark::Layer(word) => What::Layer(word),
            Mark::Z(mm) => What::Z(mm),
            Mark::Height(mm) => What::Height(mm),
            Mark::Width(mm) => What::Width(mm),
            Mark::Type(line_type) => What::Type(line_type),
            Mark::Setting(name, value) => self.setting(name, value, false),
            Mark::Head(name, value) => self.setting(name, value, true),
        };
        self.add(what, machine);
    }

    fn odd(&mut self, odd: Odd, machine: &Machine) {
        self.add(What::Odd(odd), machine);
    }
}

/// The figures of a file, as far as its blocks are counted.
pub(super) struct Reckoning {
    figures: Figures,
    /// As it was when something was asked or said last; steps since then bring their own place.
    machine: Machine,
}

impl Reckoning {
    pub fn new(limits: Limits) -> Self {
        Reckoning {
            figures: Figures::new(limits),
            machine: Machine::default(),
        }
    }

    /// Counts a block.
    pub fn take(&mut self, block: &Block) {
        let (mut done, mut text) = (0, &block.text[..]);
        for event in &block.events {
            self.go(&block.steps[done..event.after]);
            done = event.after;
            self.machine.clone_from(&event.machine);
            self.heed(event.what, &mut text);
        }
        self.go(&block.steps[done..]);
    }

    fn go(&mut self, steps: &[Step]) {
        for steps in steps.chunks(TOGETHER) {
            self.figures.moved(steps, &self.machine);
        }
    }

    fn heed(&mut self, what: What, text: &mut &[u8]) {
        let mark = match what {
            What::Asked(ask) => return self.figures.asked(ask, &self.machine),
            What::Odd(odd) => return self.figures.odd(odd, &self.machine),
            What::Layer(word) => Mark::Layer(word),
            What::Z(mm) => Mark::Z(mm),
            What::Height(mm) => Mark::Height(mm),
            What::Width(mm) => Mark::Width(mm),
            What::Type(line_type) => Mark::Type(line_type),
            What::Setting(name, value, head) => {
                let (name, rest) = text.split_at(name);
                let (value, rest) = rest.split_at(value);
                *text = rest;
                if head {
                    Mark::Head(name, value)
                } else {
                    Mark::Setting(name, value)
                }
            }
        };
        self.figures.marked(mark, &self.machine);
    }

    /// The file is at its end after so many lines.
    pub fn finish(self, lines: u64) -> Reading {
        self.figures.finish(lines)
    }
}
