//! `usual-suspect rank`: case file in, line-up out.

use anyhow::{Context, Result};
use clap::Args;
use std::io::{BufRead, BufWriter, Read, Write};
use std::path::Path;
use std::process::ExitCode;
use suspect_core::case::file;
use suspect_core::case::report::{Mode, line_up};
use suspect_core::knowledge::Knowledge;

/// Largest case file that is read, in bytes.
const LARGEST: u64 = 8 * 1024 * 1024;

#[derive(Args)]
pub struct Options {
    /// A case file, or `-` for standard input.
    case: String,
    /// Single causes only, without groups and superseding, so that outside software can check the figures.
    #[arg(long)]
    plain: bool,
    /// Read one case per line (JSON Lines) and answer one line each.
    #[arg(long)]
    lines: bool,
}

/// Exit status when a case is not understood.
const REFUSED: u8 = 2;

pub fn run(options: &Options) -> Result<ExitCode> {
    let mode = if options.plain {
        Mode::Plain
    } else {
        Mode::Full
    };
    let knowledge = Knowledge::shipped();
    let out = std::io::stdout().lock();
    let input = match open(&options.case) {
        Ok(input) => input,
        Err(e) => {
            eprintln!("case: {e:#}");
            return Ok(ExitCode::from(REFUSED));
        }
    };
    if options.lines {
        return lines(&knowledge, input, mode, BufWriter::new(out));
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
        Ok(facts) => {
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

/// One answer per line: a line-up, or `{"line":N,"error":"…"}`. A refused line does not stop the others.
fn lines(
    knowledge: &Knowledge,
    input: impl Read,
    mode: Mode,
    mut out: impl Write,
) -> Result<ExitCode> {
    let mut refused = false;
    for (n, line) in std::io::BufReader::new(input).lines().enumerate() {
        let line = line.with_context(|| format!("line {}", n + 1))?;
        if line.trim().is_empty() {
            continue;
        }
        match file::read(knowledge, &line) {
            Ok(facts) => serde_json::to_writer(&mut out, &line_up(knowledge, &facts, mode))?,
            Err(e) => {
                refused = true;
                eprintln!("line {}: {e}", n + 1);
                serde_json::to_writer(
                    &mut out,
                    &serde_json::json!({ "line": n + 1, "error": e.to_string() }),
                )?;
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

fn open(path: &str) -> Result<Box<dyn Read>> {
    if path == "-" {
        return Ok(Box::new(std::io::stdin().lock()));
    }
    let file =
        std::fs::File::open(Path::new(path)).with_context(|| format!("cannot open {path}"))?;
    Ok(Box::new(file))
}
