//! The text of a file, read and put aside at once: what breaks off leaves nothing behind.

use crate::intake::{Intake, Limits, Refused, Taken, hex};
use sha2::{Digest, Sha256};
use std::fs::File;
use std::io::{self, Seek, SeekFrom, Write};
use suspect_core::gcode::{Reader, Reading};

/// Reads a text and writes it to a temporary file that has no name.
struct Aside {
    reader: Reader,
    file: File,
    sum: Sha256,
}

impl Write for Aside {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.file.write_all(bytes)?;
        self.sum.update(bytes);
        self.reader.feed(bytes);
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        self.file.flush()
    }
}

/// A print file that came whole.
#[derive(Debug)]
pub struct Kept {
    /// As it came.
    pub taken: Taken,
    /// Its figures.
    pub reading: Reading,
    /// Its text, from the beginning.
    pub text: File,
    /// Sum over its text, in hexadecimal: plain or packed, the same text has the same.
    pub text_sha256: String,
}

/// Takes a print file in as it comes.
pub struct Keeper(Intake<Aside>);

impl Keeper {
    /// Of a container the entry `chosen`, or its first print file.
    ///
    /// # Errors
    /// When there is no room to put it aside.
    pub fn new(limits: Limits, chosen: Option<String>) -> Result<Self, Refused> {
        let file = tempfile::tempfile().map_err(|e| Refused::Kept(e.to_string()))?;
        let aside = Aside {
            reader: Reader::new(),
            file,
            sum: Sha256::new(),
        };
        Ok(Keeper(Intake::new(aside, limits, chosen)))
    }

    /// The next bytes.
    ///
    /// # Errors
    /// As soon as it is clear that the file will not be taken in.
    pub fn feed(&mut self, bytes: &[u8]) -> Result<(), Refused> {
        self.0.feed(bytes)
    }

    /// The file is at its end.
    ///
    /// # Errors
    /// When it breaks off, is no print file, or lays no plastic.
    pub fn end(self) -> Result<Kept, Refused> {
        let (mut aside, taken) = self.0.end()?;
        aside
            .file
            .seek(SeekFrom::Start(0))
            .map_err(|e| Refused::Kept(e.to_string()))?;
        let reading = aside.reader.finish();
        if !reading.is_print_file() {
            return Err(Refused::NoCommands {
                odd: reading.problem_count,
                lines: reading.lines,
            });
        }
        if !reading.lays() {
            return Err(Refused::NoPlastic);
        }
        let sum = aside.sum.finalize();
        let text_sha256 = hex(&sum);
        Ok(Kept {
            taken,
            reading,
            text: aside.file,
            text_sha256,
        })
    }
}
