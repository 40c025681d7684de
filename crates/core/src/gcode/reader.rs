//! The reader: bytes in, figures out, in one pass and bounded memory.

use super::figures::{Figures, Limits};
use super::lines::Lines;
use super::machine::Machine;
use super::reading::Reading;
use super::words::Words;

/// Reads a print file as it comes, in pieces of any size.
///
/// ```
/// use suspect_core::gcode::Reader;
///
/// let mut reader = Reader::new();
/// for piece in ["G28\nG1 Z.2 F600\nG1 X10 Y10 F60", "00\nG1 X50 E1.5 F12", "00\n"] {
///     reader.feed(piece.as_bytes());
/// }
/// let reading = reader.finish();
/// assert_eq!(reading.layers.len(), 1);
/// assert_eq!(reading.mesh.word(), Some("homes-only"));
/// ```
pub struct Reader {
    lines: Lines,
    words: Words,
    machine: Machine,
    figures: Figures,
}

impl Default for Reader {
    fn default() -> Self {
        Self::new()
    }
}

impl Reader {
    /// A reader for a machine of usual limits, as far as the file sets none.
    pub fn new() -> Self {
        Self::with_limits(Limits::default())
    }

    /// A reader for a machine with these limits, as far as the file sets none.
    pub fn with_limits(limits: Limits) -> Self {
        Reader {
            lines: Lines::default(),
            words: Words::default(),
            machine: Machine::default(),
            figures: Figures::new(limits),
        }
    }

    /// The next bytes of the file.
    pub fn feed(&mut self, bytes: &[u8]) {
        let Reader {
            lines,
            words,
            machine,
            figures,
        } = self;
        lines.feed(bytes, |line| machine.read(words, line, figures));
    }

    /// The file is at its end.
    pub fn finish(mut self) -> Reading {
        let Reader {
            lines,
            words,
            machine,
            figures,
        } = &mut self;
        lines.end(|line| machine.read(words, line, figures));
        self.figures.finish(self.lines.count())
    }
}

/// Reads a whole file at once.
pub fn read(bytes: &[u8]) -> Reading {
    let mut reader = Reader::new();
    reader.feed(bytes);
    reader.finish()
}
