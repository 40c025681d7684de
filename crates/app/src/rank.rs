//! `usual-suspect rank`: case file in, line-up out.

use anyhow::{Context, Result};
use clap::Args;
use std::io::{BufRead, BufWriter, Read, Write};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::sync::Arc;
use suspect_core::case::file;
use suspect_core::case::report::{Mode, line_up};
use suspect_core::knowledge::Knowledge;
use suspect_core::learning::Learned;
use suspect_core::lessons::sheet::Sheet;

/// Largest case file that is read, in bytes.
pub const LARGEST: u64 = 8 * 1024 * 1024;

#[derive(Args)]
pub struct Options {
    /// A case file, or `-` for standard input.
    case: String,
    /// Single causes only, without groups and superseding, so that outside software can check the
    /// figures.
    #[arg(long)]
    plain: bool,
    /// Read one case per line (JSON Lines) and answer one line each.
    #[arg(long)]
    lines: bool,
    /// A knowledge folder; without it the knowledge shipped with the program.
    #[arg(long)]
    knowledge: Option<PathBuf>,
    /// Rank with what outcomes taught: a sheet printed by `learn rates`. Not with `--plain`.
    #[arg(long)]
    learned: Option<PathBuf>,
    /// The machine, by its name in that sheet; without it its kind, or the whole shop.
    #[arg(long, requires = "learned", default_value = "")]
    machine: String,
    /// The kind of machine, by its name in that sheet.
    #[arg(long, requires = "learned", default_value = "")]
    machine_kind: String,
}

/// Largest sheet of learned numbers that is read, in bytes.
const LARGEST_SHEET: u64 = 64 * 1024 * 1024;

/// What outcomes taught of the machine, when a sheet is given.
fn learned(options: &Options, knowledge: &Knowledge) -> Result<Option<Arc<Learned>>, String> {
    let Some(file) = &options.learned else {
        return Ok(None);
    };
    let text = crate::files::read_text(file, LARGEST_SHEET).map_err(|e| format!("{e:#}"))?;
    let sheet = Sheet::read(&text).map_err(|e| e.to_string())?;
    let numbers = sheet.for_machine(knowledge, &options.machine, &options.machine_kind);
    Ok(Some(Arc::new(numbers)))
}

/// Exit status when a case is not understood.
pub const REFUSED: u8 = 2;

/// Whether somebody who reads what we write stopped reading: that is no failure.
pub fn stopped_reading(e: &anyhow::Error) -> bool {
    e.chain().any(|cause| {
        let io = cause
            .downcast_ref::<std::io::Error>()
            .map(std::io::Error::kind);
        let json = cause
            .downcast_ref::<serde_json::Error>()
            .and_then(serde_json::Error::io_error_kind);
        io.or(json) == Some(std::io::ErrorKind::BrokenPipe)
    })
}

/// Ranks; whoever reads may stop reading, that is no failure.
pub fn run(options: &Options) -> Result<ExitCode> {
    rank(options).or_else(|e| {
        if stopped_reading(&e) {
            Ok(ExitCode::SUCCESS)
        } else {
            Err(e)
        }
    })
}

fn rank(options: &Options) -> Result<ExitCode> {
    let mode = if options.plain {
        Mode::Plain
    } else {
        Mode::Full
    };
    let Some(knowledge) = crate::knowledge::load(options.knowledge.as_deref())? else {
        return Ok(ExitCode::from(REFUSED));
    };
    let learned = match learned(options, &knowledge) {
        Ok(learned) => learned,
        Err(e) => {
            eprintln!("learned: {e}");
            return Ok(ExitCode::from(REFUSED));
        }
    };
    let out = std::io::stdout().lock();
    let input = match open(&options.case) {
        Ok(input) => input,
        Err(e) => {
            eprintln!("case: {e:#}");
            return Ok(ExitCode::from(REFUSED));
        }
    };
    if options.lines {
        return lines((&knowledge, learned), input, mode, BufWriter::new(out));
    }
    let mut text = String::new();
    let read = input.take(LARGEST + 1).read_to_string(&mut text);
    if let Err(e) = read {
        eprintln!("case: not readable as text: {e}");
        return Ok(ExitCode::from(REFUSED));
    }
    if text.len() as u64 > LARGEST {
        eprintln!("case: longer than {LARGEST} bytes, which no case needs");
        return Ok(ExitCode::from(REFUSED));
    }
    match file::read(&knowledge, &text) {
        Ok(mut facts) => {
            facts.learned = learned;
            let mut out = BufWriter::new(out);
            serde_json::to_writer_pretty(&mut out, &line_up(&knowledge, &facts, mode))?;
            writeln!(out)?;
            out.flush()?;
            Ok(ExitCode::SUCCESS)
        }
        Err(e) => {
            eprintln!("{e}");
            Ok(ExitCode::from(REFUSED))
        }
    }
}

/// One answer per line: a line-up, or `{"line":N,"error":"…"}`. A refused line does not stop the
/// others: one that is no text, or longer than a case file may be, neither.
fn lines(
    (knowledge, learned): (&Knowledge, Option<Arc<Learned>>),
    input: impl Read,
    mode: Mode,
    mut out: impl Write,
) -> Result<ExitCode> {
    let mut refused = false;
    let mut input = std::io::BufReader::new(input);
    for n in 1.. {
        let Some(line) = line(&mut input).with_context(|| format!("line {n}"))? else {
            break;
        };
        let text = line.and_then(|bytes| String::from_utf8(bytes).ok().ok_or("not text in UTF-8"));
        let read = match &text {
            Ok(text) if text.trim().is_empty() => continue,
            Ok(text) => file::read(knowledge, text).map_err(|e| e.to_string()),
            Err(why) => Err(format!("case: {why}")),
        };
        match read {
            Ok(mut facts) => {
                facts.learned = learned.clone();
                serde_json::to_writer(&mut out, &line_up(knowledge, &facts, mode))?;
            }
            Err(e) => {
                refused = true;
                eprintln!("line {n}: {e}");
                let answer = serde_json::json!({ "line": n, "error": e });
                serde_json::to_writer(&mut out, &answer)?;
            }
        }
        writeln!(out)?;
    }
    out.flush()?;
    Ok(if refused {
        ExitCode::from(REFUSED)
    } else {
        ExitCode::SUCCESS
    })
}

/// The next line, or why it is none; nothing at the end. Of an endless line only so much is kept.
fn line(input: &mut impl BufRead) -> std::io::Result<Option<Result<Vec<u8>, &'static str>>> {
    let mut bytes = Vec::new();
    let read = input
        .by_ref()
        .take(LARGEST + 1)
        .read_until(b'\n', &mut bytes)?;
    if read == 0 {
        return Ok(None);
    }
    if bytes.len() as u64 <= LARGEST || bytes.ends_with(b"\n") {
        return Ok(Some(Ok(bytes)));
    }
    // The rest of it is passed over in pieces.
    loop {
        let piece = input.fill_buf()?;
        let end = piece.iter().position(|b| *b == b'\n');
        let (passed, last) = (
            end.map_or(piece.len(), |e| e + 1),
            end.is_some() || piece.is_empty(),
        );
        input.consume(passed);
        if last {
            return Ok(Some(Err("longer than a case file may be")));
        }
    }
}

/// A file, or standard input for `-`.
pub fn open(path: &str) -> Result<Box<dyn Read>> {
    if path == "-" {
        return Ok(Box::new(std::io::stdin().lock()));
    }
    let file =
        std::fs::File::open(Path::new(path)).with_context(|| format!("cannot open {path}"))?;
    Ok(Box::new(file))
}
