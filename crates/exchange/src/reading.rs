//! Reading a log or a table piece by piece, each with the line it stands in.

use crate::writing::unguarded;
use std::fs::File;
use std::io::{BufRead, BufReader, Read, Seek, SeekFrom};
use std::path::Path;
use suspect_core::exchange::{COLUMNS, Line, MachineLine, Row, read};
use suspect_core::machine::MachineEntry;
use suspect_core::nearest::short;
use suspect_store::machines::Machine;

/// Bytes of one line at most.
const LONGEST_LINE: u64 = 16 << 20;

/// Something that was read.
pub(crate) enum Item {
    /// A line of a log.
    Line(Box<Line>),
    /// A row of a table.
    Row(Box<Row>),
}

/// The machine that a line tells of, and its log.
///
/// # Errors
/// In words: when its identifier is none.
pub(crate) fn machine_of(told: MachineLine) -> Result<(Machine, Vec<MachineEntry>), String> {
    let Ok(id) = told.id.parse() else {
        return Err(format!("machine: `{}` is no identifier", short(&told.id)));
    };
    let machine = Machine {
        id,
        name: told.name,
        model: told.model,
        profile: told.profile,
        position: told.position,
        place: told.place,
        note: told.note,
        out_of_service: told.out_of_service,
    };
    Ok((machine, told.log))
}

/// What was read, and in which line; or what is wrong there.
pub(crate) type Read1 = (u64, Result<Item, String>);

/// A file that is read.
pub(crate) enum Source {
    Log { lines: BufReader<File>, line: u64 },
    Table(Box<csv::DeserializeRecordsIntoIter<File, Row>>),
}

/// Opens a log or a table; which one its first character says.
///
/// # Errors
/// In words: what the file is instead.
pub(crate) fn open(path: &Path) -> Result<Source, String> {
    let told = |e: std::io::Error| format!("the file cannot be read: {e}");
    let mut file = File::open(path).map_err(told)?;
    let mut head = Vec::new();
    file.by_ref()
        .take(4096)
        .read_to_end(&mut head)
        .map_err(told)?;
    file.seek(SeekFrom::Start(0)).map_err(told)?;
    let text = head.strip_prefix(b"\xef\xbb\xbf").unwrap_or(&head);
    let first = text.iter().find(|b| !b.is_ascii_whitespace());
    match first {
        None => Err("the file is empty".into()),
        Some(b'{') => Ok(Source::Log {
            lines: BufReader::new(file),
            line: 0,
        }),
        _ if head.starts_with(b"PK") => {
            let would_do = "it is restored into an empty database";
            Err(format!("this is an archive: if it is a backup, {would_do}"))
        }
        _ => table(file),
    }
}

fn table(file: File) -> Result<Source, String> {
    let mut table = csv::ReaderBuilder::new().flexible(true).from_reader(file);
    let none = "this is neither a log (lines of JSON) nor a table with the documented columns";
    let heads = table.headers().map_err(|_| none.to_string())?;
    let known = |head: &str| COLUMNS.iter().any(|(name, _)| *name == head);
    let unknown = heads.iter().map(str::trim).find(|head| !known(head));
    if !heads.iter().any(|head| head.trim() == "opened") {
        return Err(format!("{none}: no column is called `opened`"));
    }
    match unknown {
        Some(head) => {
            let near = suspect_core::nearest::hint(head, COLUMNS.iter().map(|(name, _)| *name));
            let head = short(head);
            Err(format!("line 1: no column is called `{head}`{near}"))
        }
        None => Ok(Source::Table(Box::new(table.into_deserialize()))),
    }
}

impl Iterator for Source {
    type Item = Read1;

    fn next(&mut self) -> Option<Read1> {
        match self {
            Source::Log { lines, line } => loop {
                *line += 1;
                match next_line(lines) {
                    Ok(None) => return None,
                    Ok(Some(text)) if text.trim().is_empty() => {}
                    Ok(Some(text)) => {
                        let item = read(text.trim_start_matches('\u{feff}').trim());
                        let item = item.map(|l| Item::Line(Box::new(l)));
                        return Some((*line, item.map_err(|e| e.to_string())));
                    }
                    Err(problem) => return Some((*line, Err(problem))),
                }
            },
            Source::Table(rows) => {
                let line = rows.reader().position().line();
                let row = rows.next()?;
                let row = row.map(|row| Item::Row(Box::new(plain(row))));
                Some((line, row.map_err(|e| in_words(&e))))
            }
        }
    }
}

fn next_line(lines: &mut BufReader<File>) -> Result<Option<String>, String> {
    let mut bytes = Vec::new();
    let read = lines.take(LONGEST_LINE).read_until(b'\n', &mut bytes);
    match read {
        Err(e) => Err(format!("the file cannot be read on: {e}")),
        Ok(0) => Ok(None),
        Ok(n) if n as u64 == LONGEST_LINE && bytes.last() != Some(&b'\n') => {
            // The rest of it is passed over.
            let mut more = vec![0u8];
            while more.last() != Some(&b'\n') && !more.is_empty() {
                more.clear();
                let rest = lines.take(LONGEST_LINE).read_until(b'\n', &mut more);
                rest.map_err(|e| format!("the file cannot be read on: {e}"))?;
            }
            Err(format!("the line is longer than {} MB", LONGEST_LINE >> 20))
        }
        Ok(_) => String::from_utf8(bytes)
            .map(Some)
            .map_err(|_| "the line is no UTF-8 text".into()),
    }
}

fn plain(row: Row) -> Row {
    Row {
        machine: unguarded(&row.machine),
        kind: unguarded(&row.kind),
        title: unguarded(&row.title),
        spool: unguarded(&row.spool),
        cause: unguarded(&row.cause),
        fix: unguarded(&row.fix),
        told: unguarded(&row.told),
        note: unguarded(&row.note),
        ..row
    }
}

/// What is wrong with a row, without the reader's own words for where.
fn in_words(e: &csv::Error) -> String {
    match e.kind() {
        csv::ErrorKind::Utf8 { .. } => "the row is no UTF-8 text".into(),
        csv::ErrorKind::UnequalLengths {
            expected_len, len, ..
        } => format!("the row has {len} columns where {expected_len} are expected"),
        csv::ErrorKind::Deserialize { err, .. } => err.kind().to_string(),
        _ => "the row cannot be read".into(),
    }
}
