//! `usual-suspect piece`: the test pieces listed, one made as STL or 3MF.

use anyhow::{Context, Result};
use clap::{Args, Subcommand};
use std::path::PathBuf;
use std::process::ExitCode;
use suspect_pieces::sheets::sheet;
use suspect_pieces::{PIECES, Piece, Settings, piece, stl, three_mf};

#[derive(Subcommand)]
pub enum Command {
    /// Say which pieces there are, and what each tests.
    List,
    /// Make a piece.
    Make(Make),
}

#[derive(Args)]
pub struct Make {
    /// Which piece.
    id: String,
    /// Bore of the nozzle, mm.
    #[arg(long, default_value_t = 0.4)]
    nozzle: f64,
    /// Width of a line, mm; without it as wide as the nozzle.
    #[arg(long)]
    line: Option<f64>,
    /// Layer height, mm; without it half the nozzle.
    #[arg(long)]
    layer: Option<f64>,
    /// Height of the first layer, mm; without it as the others.
    #[arg(long)]
    first: Option<f64>,
    /// Gaps of the piece with the pins, mm, parted by commas.
    #[arg(long, value_delimiter = ',')]
    gaps: Vec<f64>,
    /// Where to write it; the name ends in .stl or .3mf.
    #[arg(short)]
    output: PathBuf,
}

/// A refusal is one line on standard error and exit status 2.
pub fn run(command: &Command) -> Result<ExitCode> {
    match command {
        Command::List => {
            crate::print_out(&list())?;
            Ok(ExitCode::SUCCESS)
        }
        Command::Make(options) => match bytes(options) {
            Ok(bytes) => {
                let name = crate::files::shown(&options.output);
                std::fs::write(&options.output, bytes)
                    .with_context(|| format!("cannot write {name}"))?;
                Ok(ExitCode::SUCCESS)
            }
            Err(why) => crate::told(Err(why)),
        },
    }
}

fn list() -> String {
    let line = |p: &Piece| {
        let sheet = sheet(p.id);
        let tests = sheet.map_or("", |s| s.tests.as_str());
        let (minutes, grams) = sheet.map_or((0.0, 0.0), |s| (s.minutes, s.grams));
        format!("{:9} {minutes:3.0} min {grams:4.1} g  {tests}\n", p.id)
    };
    PIECES.iter().map(line).collect()
}

fn bytes(options: &Make) -> Result<Vec<u8>, String> {
    let piece = piece(&options.id).ok_or_else(|| {
        let known: Vec<&str> = PIECES.iter().map(|p| p.id).collect();
        format!("there is no piece \"{}\": {}", options.id, known.join(", "))
    })?;
    let usual = Settings::of_nozzle(options.nozzle);
    let layer = options.layer.unwrap_or(usual.layer);
    let settings = Settings {
        line: options.line.unwrap_or(usual.line),
        layer,
        first: options.first.unwrap_or(layer),
        clearances: match options.gaps.is_empty() {
            true => usual.clearances.clone(),
            false => options.gaps.clone(),
        },
        ..usual
    };
    let mesh = piece.mesh(&settings).map_err(|e| e.to_string())?;
    match options.output.extension().and_then(|e| e.to_str()) {
        Some("stl") => Ok(stl(&mesh, piece.id)),
        Some("3mf") => three_mf(&mesh, piece.id).map_err(|e| e.to_string()),
        _ => Err("-o: the name must end in .stl or .3mf".to_owned()),
    }
}
