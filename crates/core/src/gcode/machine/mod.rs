//! The machine as a file moves it: where it stands, in which units and modes.

mod asks;
mod motion;
mod spoken;

use super::comments::{self, Mark};
use super::lines::Line;
use super::plain_move::Move;
use super::sink::{Ask, Sink, Step};
use super::words::{Kind, Odd, Words};
use serde::{Deserialize, Serialize};

/// Ways of writing a move, as bits.
pub(crate) mod modes {
    /// Filament is counted on.
    pub const ABSOLUTE: u8 = 1;
    /// Filament is told as amounts.
    pub const RELATIVE: u8 = 2;
    /// Inches.
    pub const INCH: u8 = 4;
    /// Along an arc.
    pub const ARC: u8 = 8;

    /// How a machine begins.
    pub(super) fn usual() -> u8 {
        ABSOLUTE
    }
}

/// Millimetres to the inch.
const INCH: f64 = 25.4;

/// State of the machine between two lines of a file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub(crate) struct Machine {
    /// Where the nozzle stands, mm: X, Y, Z.
    pub at: [f64; 3],
    /// What the file calls this place is so far off, mm.
    offset: [f64; 3],
    /// Filament by the file's own count, in its unit.
    e: f64,
    /// Millimetres to the file's unit.
    pub unit: f64,
    /// Positions are places, not ways.
    absolute: bool,
    /// Filament is counted on, not told as an amount.
    pub e_absolute: bool,
    /// How filament was last said to be counted; `G90` goes back to it.
    e_said_absolute: bool,
    /// Millimetres of filament to a unit of E: below 1 where E counts mm³.
    e_scale: f64,
    /// Speed asked for, mm/s.
    pub feed: f64,
    /// Factor of all speeds.
    pub speed_factor: f64,
    /// Factor of all amounts.
    pub flow_factor: f64,
    /// The tool in use.
    pub tool: u8,
    /// Filament is drawn back by the firmware.
    drawn_back: bool,
    /// What the firmware draws back, mm, and how fast, mm/s.
    firmware: [f64; 2],
    /// The [`modes`] in force.
    #[serde(skip, default = "modes::usual")]
    pub modes: u8,
    /// Number of the line that is read.
    #[serde(default)]
    pub line: u64,
    /// Where it begins, in bytes.
    #[serde(default)]
    pub offset_in_file: u64,
}

impl Default for Machine {
    fn default() -> Self {
        Machine {
            at: [0.0; 3],
            offset: [0.0; 3],
            e: 0.0,
            unit: 1.0,
            absolute: true,
            e_absolute: true,
            e_said_absolute: true,
            e_scale: 1.0,
            feed: 25.0,
            speed_factor: 1.0,
            flow_factor: 1.0,
            tool: 0,
            drawn_back: false,
            firmware: [1.0, 35.0],
            modes: modes::usual(),
            line: 0,
            offset_in_file: 0,
        }
    }
}

impl Machine {
    /// Reads one line and tells `sink` what it does.
    #[inline]
    pub fn read(&mut self, words: &mut Words, line: Line<'_>, sink: &mut impl Sink) {
        (self.line, self.offset_in_file) = (line.number, line.offset);
        let (kind, comment) = words.take(line.bytes);
        if let Some(comment) = comment {
            self.comment(comment, sink);
        }
        match kind {
            Kind::Empty => {}
            Kind::Command => self.command(words, sink),
            Kind::Spoken(name, rest) => self.spoken(name, rest, sink),
        }
        if line.cut {
            words.say(Odd::Long);
        }
        if let Some(odd) = words.odd {
            sink.odd(odd, self);
        }
    }

    /// As it was before `step`, after which it has only moved.
    pub fn before(&self, step: &Step) -> Machine {
        let (e, feed) = step.before;
        Machine {
            at: step.from,
            e,
            feed,
            line: step.line,
            offset_in_file: step.offset,
            ..self.clone()
        }
    }

    #[inline]
    fn command(&mut self, words: &mut Words, sink: &mut impl Sink) {
        match (words.letter, words.code) {
            (b'G', 0 | 1) => self.straight(&Move::of(words), sink),
            (b'G', 2 | 3) => self.arc(words, sink),
            (b'G', _) => self.geometry(words, sink),
            (b'M', _) => self.miscellany(words, sink),
            _ => self.change_tool(words.code, sink),
        }
    }

    /// Tells that what follows is to be taken in another way.
    fn tell_mode(&mut self, sink: &mut impl Sink) {
        let filament = if self.e_absolute {
            modes::ABSOLUTE
        } else {
            modes::RELATIVE
        };
        let inch = if self.unit == 1.0 { 0 } else { modes::INCH };
        self.modes = filament | inch;
        sink.asked(Ask::Mode, self);
    }

    fn change_tool(&mut self, tool: u32, sink: &mut impl Sink) {
        // Numbers above stand for "none" or for a macro of the machine's own.
        if tool < 64 {
            self.tool = tool as u8;
            sink.asked(Ask::Tool(self.tool), self);
        }
    }

    fn geometry(&mut self, words: &Words, sink: &mut impl Sink) {
        match words.code {
            4 => {
                let seconds = words.get(b'S').unwrap_or(0.0) + words.get(b'P').unwrap_or(0.0) / 1e3;
                sink.asked(Ask::Dwell(seconds.clamp(0.0, 86_400.0)), self);
            }
            10 if !words.any(b"PLXYZR") => self.firmware_retract(true, sink),
            11 => self.firmware_retract(false, sink),
            20 => self.unit = INCH,
            21 => self.unit = 1.0,
            28 => self.home(words, sink),
            29 => sink.asked(mesh_command(words), self),
            80 => sink.asked(Ask::MeasureMesh, self),
            // A macro of the machine's own that probes the bed: what it does is not in the file.
            32 => sink.asked(Ask::Macro, self),
            // Ends of files draw back in `G91` and mean an amount, whatever was said before. What
            // `M83` said holds beyond the next `G90`: not every machine sees it so, but a file
            // that works there says it again.
            90 => (self.absolute, self.e_absolute) = (true, self.e_said_absolute),
            91 => (self.absolute, self.e_absolute) = (false, false),
            92 => self.rename_place(words),
            _ => {}
        }
        if matches!(words.code, 20 | 21 | 90..=92) {
            self.tell_mode(sink);
        }
    }

    fn home(&mut self, words: &Words, sink: &mut impl Sink) {
        let all = !(words.has(b'X') || words.has(b'Y') || words.has(b'Z'));
        for (axis, letter) in [b'X', b'Y', b'Z'].into_iter().enumerate() {
            if all || words.has(letter) {
                (self.at[axis], self.offset[axis]) = (0.0, 0.0);
            }
        }
        sink.asked(
            if all || words.has(b'Z') {
                Ask::Home
            } else {
                Ask::Finish
            },
            self,
        );
    }

    /// `G92`: the place the machine stands at gets another name. Nothing moves.
    fn rename_place(&mut self, words: &Words) {
        let all = !words.any(b"XYZE");
        for (axis, letter) in [b'X', b'Y', b'Z'].into_iter().enumerate() {
            let name = words.get(letter).or(all.then_some(0.0));
            if let Some(name) = name {
                self.offset[axis] = self.at[axis] - name * self.unit;
            }
        }
        if let Some(name) = words.get(b'E').or(all.then_some(0.0)) {
            self.e = name;
        }
    }

    fn firmware_retract(&mut self, back: bool, sink: &mut impl Sink) {
        if self.drawn_back != back {
            self.drawn_back = back;
            let [length, speed] = self.firmware;
            let length = if back { -length } else { length };
            sink.asked(Ask::FirmwareRetract(length, speed), self);
        }
    }

    /// A comment is read.
    #[inline]
    pub fn comment(&self, comment: &[u8], sink: &mut impl Sink) {
        let mark = comments::read(comment);
        if !matches!(mark, Mark::Nothing) {
            sink.marked(mark, self);
        }
    }

    /// A step from here to `to`; the machine stands there afterwards.
    #[inline]
    fn step(&mut self, to: [f64; 3], e: f64, before: (f64, f64), sink: &mut impl Sink) {
        let from = self.at;
        let way = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
        let square = way[0] * way[0] + way[1] * way[1] + way[2] * way[2];
        let length = square.sqrt();
        self.at = to;
        if length > 0.0 || e != 0.0 {
            let speed = self.feed * self.speed_factor;
            let moves = if length > 0.0 { length } else { e.abs() };
            let step = Step {
                from,
                to,
                length,
                one: 1.0 / moves,
                e,
                speed,
                plain: moves / speed,
                before,
                modes: self.modes,
                line: self.line,
                offset: self.offset_in_file,
            };
            sink.moved(std::slice::from_ref(&step), self);
        }
    }
}

/// What a command of the bed's mesh does: measure, put to use, or switch off. `L` beside other
/// sides bounds where it is measured.
fn mesh_command(words: &Words) -> Ask {
    let bounds = words.any(b"RFB");
    let loads = words.has(b'A') || (words.has(b'L') && !bounds) || words.get(b'S') == Some(1.0);
    let drops = words.has(b'D') || words.get(b'S') == Some(2.0);
    match () {
        () if words.has(b'P') => Ask::MeasureMesh,
        () if drops => Ask::DropMesh,
        () if loads => Ask::LoadMesh,
        () => Ask::MeasureMesh,
    }
}
