//! The reader: bytes in, figures out, in one pass and bounded memory.
//!
//! Reading is two jobs of like size: to follow what the lines ask of the machine, and to count what
//! comes of it. The first is done where the bytes come in and leaves blocks of steps to the second.
//! A file of more than a few blocks is counted on a thread of its own, so that the two go on side
//! by side.

use super::block::{Block, Reckoning};
use super::figures::Limits;
use super::lines::Lines;
use super::machine::Machine;
use super::plain_move::Move;
use super::reading::Reading;
use super::words::Words;
use std::panic::resume_unwind;
use std::sync::mpsc::{Receiver, SyncSender, channel, sync_channel};
use std::thread::{self, JoinHandle};

/// A file of more blocks is counted on a thread of its own.
const FEW_BLOCKS: usize = 8;

/// Blocks that may wait for it.
const WAITING: usize = 4;

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
    plain: Move,
    block: Block,
    blocks: usize,
    here: Option<Box<Reckoning>>,
    beside: Option<Beside>,
}

/// Reckoning on a thread of its own: takes blocks until there are no more.
struct Beside {
    blocks: SyncSender<Block>,
    /// Blocks that it is done with.
    empty: Receiver<Block>,
    thread: JoinHandle<Option<Box<Reckoning>>>,
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
            plain: Move::default(),
            block: Block::default(),
            blocks: 0,
            here: Some(Box::new(Reckoning::new(limits))),
            beside: None,
        }
    }

    /// The next bytes of the file.
    pub fn feed(&mut self, mut bytes: &[u8]) {
        loop {
            let Reader {
                lines,
                words,
                machine,
                block,
                plain,
                ..
            } = self;
            // Nearly every line is a plain move, and is read without being cut out first.
            while !block.is_full()
                && lines.begins()
                && let Some((length, comment)) = plain.take(bytes)
            {
                (machine.line, machine.offset_in_file) = lines.pass(length);
                if let Some(comment) = comment {
                    machine.comment(comment, block);
                }
                machine.straight(plain, block);
                bytes = &bytes[length..];
            }
            if block.is_full() {
                self.hand_on();
                continue;
            }
            match lines.cut(bytes, |line| machine.read(words, line, block)) {
                Some(rest) => bytes = rest,
                None => return,
            }
        }
    }

    /// The file is at its end.
    pub fn finish(mut self) -> Reading {
        let Reader {
            lines,
            words,
            machine,
            block,
            ..
        } = &mut self;
        lines.end(|line| machine.read(words, line, block));
        self.hand_on();
        let lines = self.lines.count();
        let beside = self.beside.and_then(|Beside { blocks, thread, .. }| {
            drop(blocks);
            thread.join().unwrap_or_else(|panic| resume_unwind(panic))
        });
        // It is here, or came back from beside.
        let reckoning = beside.or(self.here);
        reckoning.map_or_else(Reading::default, |reckoning| reckoning.finish(lines))
    }

    /// A block is reckoned, here or beside.
    fn hand_on(&mut self) {
        if let Some(beside) = &self.beside {
            // Nobody takes it where the thread has panicked: that is told at the end.
            let empty = beside.empty.try_recv().unwrap_or_default();
            let _ = beside
                .blocks
                .send(std::mem::replace(&mut self.block, empty));
        } else if let Some(here) = &mut self.here {
            here.take(&self.block);
            self.block.clear();
            self.blocks += 1;
            if self.blocks == FEW_BLOCKS {
                self.reckon_beside();
            }
        }
    }

    /// The rest is reckoned on a thread of its own; here, should there be none.
    fn reckon_beside(&mut self) {
        let (blocks, coming) = sync_channel::<Block>(WAITING);
        let (back, empty) = channel();
        let (lend, lent) = sync_channel::<Box<Reckoning>>(1);
        let work = move || {
            let mut reckoning = lent.recv().ok()?;
            for mut block in coming {
                reckoning.take(&block);
                block.clear();
                // Nobody wants it any more where the file is at its end.
                let _ = back.send(block);
            }
            Some(reckoning)
        };
        if let Ok(thread) = thread::Builder::new().spawn(work)
            && let Some(here) = self.here.take()
        {
            let _ = lend.send(here);
            self.beside = Some(Beside {
                blocks,
                empty,
                thread,
            });
        }
    }
}

/// Reads a whole file at once.
pub fn read(bytes: &[u8]) -> Reading {
    let mut reader = Reader::new();
    reader.feed(bytes);
    reader.finish()
}
