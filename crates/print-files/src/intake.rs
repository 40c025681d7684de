//! Bytes as they come, in pieces of any size, become the text of a print file.
//!
//! Plain text and gzip are passed on as they come. A container has its table at its end and is
//! put aside in a temporary file first; nothing in it is ever written under its own name.

use flate2::write::MultiGzDecoder;
use sha2::{Digest, Sha256};
use std::fs::File;
use std::io::{self, Read, Seek, SeekFrom, Write};

/// What is taken in at most.
#[derive(Debug, Clone, Copy)]
pub struct Limits {
    /// Bytes as they come.
    pub bytes: u64,
    /// Bytes of the text once unpacked.
    pub text: u64,
    /// Entries of a container.
    pub entries: usize,
}

impl Default for Limits {
    fn default() -> Self {
        Limits {
            bytes: 512 << 20,
            text: 1 << 30,
            entries: 256,
        }
    }
}

/// Why a file is not taken in.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum Refused {
    /// Nothing came.
    #[error("the file is empty")]
    Empty,
    /// It is something else.
    #[error("this is {0}, no print file; choose the file that was sent to the machine")]
    Other(&'static str),
    /// It is larger than what is taken in.
    #[error("the file is larger than {0} MB; that is the most that is read")]
    Large(u64),
    /// Unpacked it is larger than what is read.
    #[error("unpacked the file is larger than {0} MB; that is the most that is read")]
    LargeUnpacked(u64),
    /// A packed file breaks off or is damaged.
    #[error("the packed file is damaged or breaks off after {0} bytes of text; copy it again")]
    Damaged(u64),
    /// A container without a print file in it.
    #[error("the container holds no print file, only the model; slice it and choose the result")]
    NoEntry,
    /// A container with too many entries.
    #[error("the container holds {0} entries, more than any print file needs")]
    ManyEntries(usize),
    /// The entry that was chosen is not there.
    #[error("the container has no print file named \"{0}\"")]
    NoSuchEntry(String),
    /// A text of something else.
    #[error("this is no print file: {odd} of its {lines} lines are no command of a machine")]
    NoCommands {
        /// Lines that are no command.
        odd: u64,
        /// All lines.
        lines: u64,
    },
    /// Commands, but no print.
    #[error("nothing in this file lays plastic; choose the file of the print itself")]
    NoPlastic,
    /// The place for what was read failed.
    #[error("what was read could not be kept: {0}")]
    Kept(String),
}

/// A file that was taken in whole.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Taken {
    /// Bytes as they came.
    pub bytes: u64,
    /// Sum over them, in hexadecimal.
    pub sha256: String,
    /// How it was packed: `gzip` or `container`.
    pub packed: Option<&'static str>,
    /// Bytes of the text.
    pub text_bytes: u64,
    /// The entry of a container that was read, and all it could have been.
    pub entries: Vec<String>,
}

/// Counts what is passed on and stops at the limit.
struct Bounded<W> {
    out: W,
    count: u64,
    limit: u64,
    over: bool,
}

impl<W: Write> Write for Bounded<W> {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        if self.count + bytes.len() as u64 > self.limit {
            self.over = true;
            return Err(io::Error::other("over the limit"));
        }
        self.out.write_all(bytes)?;
        self.count += bytes.len() as u64;
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        self.out.flush()
    }
}

enum Way<W: Write> {
    /// Too little came to say what it is.
    Begin(Bounded<W>, Vec<u8>),
    Plain(Bounded<W>),
    Gzip(Box<MultiGzDecoder<Bounded<W>>>),
    Container(Bounded<W>, File),
    Broken,
}

/// Takes a file in and writes its text to `W`.
pub struct Intake<W: Write> {
    way: Way<W>,
    limits: Limits,
    sum: Sha256,
    bytes: u64,
    chosen: Option<String>,
}

/// Bytes that tell what a file is.
const TELLING: usize = 512;

impl<W: Write> Intake<W> {
    /// Takes in a file. Of a container the entry `chosen`, or its first print file.
    pub fn new(out: W, limits: Limits, chosen: Option<String>) -> Self {
        let out = Bounded {
            out,
            count: 0,
            limit: limits.text,
            over: false,
        };
        let way = Way::Begin(out, Vec::new());
        Intake {
            way,
            limits,
            sum: Sha256::new(),
            bytes: 0,
            chosen,
        }
    }

    /// The next bytes.
    ///
    /// # Errors
    /// As soon as it is clear that the file will not be taken in.
    pub fn feed(&mut self, bytes: &[u8]) -> Result<(), Refused> {
        self.bytes += bytes.len() as u64;
        if self.bytes > self.limits.bytes {
            return Err(Refused::Large(self.limits.bytes >> 20));
        }
        self.sum.update(bytes);
        if let Way::Begin(_, first) = &mut self.way {
            first.extend_from_slice(bytes);
            return if first.len() < TELLING {
                Ok(())
            } else {
                self.begin()
            };
        }
        self.pass(bytes)
    }

    /// Says what the file is by its first bytes, and passes them on.
    fn begin(&mut self) -> Result<(), Refused> {
        let Way::Begin(out, first) = std::mem::replace(&mut self.way, Way::Broken) else {
            return Ok(());
        };
        self.way = if first.starts_with(&[0x1f, 0x8b]) {
            Way::Gzip(Box::new(MultiGzDecoder::new(out)))
        } else if first.starts_with(b"PK\x03\x04") || first.starts_with(b"PK\x05\x06") {
            Way::Container(
                out,
                tempfile::tempfile().map_err(|e| Refused::Kept(e.to_string()))?,
            )
        } else {
            match something_else(&first) {
                Some(what) => return Err(Refused::Other(what)),
                None => Way::Plain(out),
            }
        };
        self.pass(&first)
    }

    fn pass(&mut self, bytes: &[u8]) -> Result<(), Refused> {
        let limit = self.limits.text >> 20;
        match &mut self.way {
            Way::Begin(..) | Way::Broken => Ok(()),
            Way::Plain(out) => out.write_all(bytes).map_err(|e| match out.over {
                true => Refused::LargeUnpacked(limit),
                false => Refused::Kept(e.to_string()),
            }),
            Way::Gzip(packed) => packed.write_all(bytes).map_err(|_| {
                let out = packed.get_ref();
                if out.over {
                    Refused::LargeUnpacked(limit)
                } else {
                    Refused::Damaged(out.count)
                }
            }),
            Way::Container(_, file) => file
                .write_all(bytes)
                .map_err(|e| Refused::Kept(e.to_string())),
        }
    }

    /// The file is at its end: what it was, and the place its text went to.
    ///
    /// # Errors
    /// When it breaks off, or is no print file.
    pub fn end(mut self) -> Result<(W, Taken), Refused> {
        if self.bytes == 0 {
            return Err(Refused::Empty);
        }
        if let Way::Begin(..) = self.way {
            self.begin()?;
        }
        let limit = self.limits.text >> 20;
        let mut entries = Vec::new();
        let (out, packed) = match std::mem::replace(&mut self.way, Way::Broken) {
            Way::Plain(out) => (out, None),
            Way::Gzip(mut decoder) => {
                let ended = decoder.try_finish();
                let out = decoder.get_ref();
                if out.over {
                    return Err(Refused::LargeUnpacked(limit));
                }
                ended.map_err(|_| Refused::Damaged(out.count))?;
                let count = out.count;
                (
                    decoder.finish().map_err(|_| Refused::Damaged(count))?,
                    Some("gzip"),
                )
            }
            Way::Container(mut out, file) => {
                entries = unpack(file, &mut out, self.limits, self.chosen.as_deref())?;
                (out, Some("container"))
            }
            Way::Begin(..) | Way::Broken => return Err(Refused::Empty),
        };
        let sum = self.sum.finalize();
        let taken = Taken {
            bytes: self.bytes,
            sha256: hex(&sum),
            packed,
            text_bytes: out.count,
            entries,
        };
        Ok((out.out, taken))
    }
}

/// Reads one entry of a container. Returns the names of those that could be read, that one first.
fn unpack<W: Write>(
    mut file: File,
    out: &mut Bounded<W>,
    limits: Limits,
    chosen: Option<&str>,
) -> Result<Vec<String>, Refused> {
    file.seek(SeekFrom::Start(0))
        .map_err(|e| Refused::Kept(e.to_string()))?;
    let mut container = zip::ZipArchive::new(file).map_err(|_| Refused::Damaged(0))?;
    if container.len() > limits.entries {
        return Err(Refused::ManyEntries(container.len()));
    }
    let mut found = print_files(&mut container)?;
    found.sort();
    if let Some(chosen) = chosen {
        let Some(at) = found.iter().position(|(name, _)| name == chosen) else {
            return Err(Refused::NoSuchEntry(chosen.chars().take(120).collect()));
        };
        found.swap(0, at);
    }
    let Some((_, index)) = found.first() else {
        return Err(Refused::NoEntry);
    };
    let mut entry = container
        .by_index(*index)
        .map_err(|_| Refused::Damaged(0))?;
    let mut buffer = vec![0; 64 * 1024];
    loop {
        let many = entry
            .read(&mut buffer)
            .map_err(|_| Refused::Damaged(out.count))?;
        if many == 0 {
            break;
        }
        out.write_all(&buffer[..many]).map_err(|e| match out.over {
            true => Refused::LargeUnpacked(limits.text >> 20),
            false => Refused::Kept(e.to_string()),
        })?;
    }
    Ok(found.into_iter().map(|(name, _)| name).collect())
}

/// The print files of a container by name and place. Names that lead elsewhere are passed over.
fn print_files(container: &mut zip::ZipArchive<File>) -> Result<Vec<(String, usize)>, Refused> {
    let mut found: Vec<(String, usize)> = Vec::new();
    for index in 0..container.len() {
        let entry = container
            .by_index_raw(index)
            .map_err(|_| Refused::Damaged(0))?;
        let Ok(name) = entry.name() else { continue };
        let name = name.to_string();
        let tricky = name.split(['/', '\\']).any(|part| part == "..")
            || name.starts_with(['/', '\\'])
            || name.chars().any(char::is_control);
        let lower = name.to_lowercase();
        if !tricky
            && [".gcode", ".gco", ".g"]
                .iter()
                .any(|end| lower.ends_with(end))
        {
            found.push((name, index));
        }
    }
    Ok(found)
}

/// What a file is that is none of ours, by its first bytes.
fn something_else(first: &[u8]) -> Option<&'static str> {
    let begins: [(&[u8], &str); 8] = [
        (b"\xff\xd8\xff", "a photo (JPEG)"),
        (b"\x89PNG", "a picture (PNG)"),
        (b"GIF8", "a picture (GIF)"),
        (b"%PDF", "a document (PDF)"),
        (b"RIFF", "a recording or picture"),
        (b"\x7fELF", "a program"),
        (b"solid ", "a model (STL)"),
        (b"<?xml", "a text of another kind (XML)"),
    ];
    let known = begins
        .iter()
        .find(|(begin, _)| first.starts_with(begin))
        .map(|(_, what)| *what);
    known.or_else(|| first.contains(&0).then_some("a binary file"))
}

/// Bytes in hexadecimal.
pub(crate) fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|byte| format!("{byte:02x}")).collect()
}
