//! `usual-suspect trials`: the next piece of a plan, and the plan rehearsed.

use anyhow::{Result, bail};
use clap::{Args, Subcommand};
use std::io::Read;
use std::num::NonZeroUsize;
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use suspect_core::trials::{MOST_UNITS, Request};
use suspect_rehearsal::trials::{self as rehearsal, Report};

/// Largest plan that is read, in bytes.
const LARGEST: u64 = 1024 * 1024;

/// Most situations of a kind.
const MOST_RUNS: usize = 20_000;

#[derive(Subcommand)]
pub enum Command {
    /// Say what is known of a plan with its pieces, or of a ladder, and which piece comes next.
    Next {
        /// JSON with `plan` and `trials`, or with `ladder`; `-` reads standard input.
        file: PathBuf,
    },
    /// Find drawn culprits by the plan, by halving and one at a time.
    Rehearse(Rehearse),
}

#[derive(Args)]
pub struct Rehearse {
    /// Differences of each list.
    #[arg(long, default_value_t = 40)]
    differences: usize,
    /// Chance that a piece is taken for its opposite.
    #[arg(long, default_value_t = 0.1)]
    noise: f64,
    /// Situations of each kind.
    #[arg(long, default_value_t = 200)]
    runs: usize,
    /// The same seed draws the same situations.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// Print the figures as JSON.
    #[arg(long)]
    json: bool,
}

pub fn run(command: &Command) -> Result<ExitCode> {
    match command {
        Command::Next { file } => next(file),
        Command::Rehearse(options) => rehearse(options),
    }
}

/// A refusal is one line on standard error and exit status 2.
fn next(file: &Path) -> Result<ExitCode> {
    crate::told(read(file).and_then(|text| answer(&text)))
}

fn read(file: &Path) -> Result<String, String> {
    if file != Path::new("-") {
        return crate::files::read_text(file, LARGEST).map_err(|e| format!("{e:#}"));
    }
    let mut text = String::new();
    std::io::stdin()
        .take(LARGEST + 1)
        .read_to_string(&mut text)
        .map_err(|e| format!("standard input: {e}"))?;
    if text.len() as u64 > LARGEST {
        return Err(format!(
            "standard input has more than {LARGEST} bytes, no plan needs so many"
        ));
    }
    Ok(text)
}

fn answer(text: &str) -> Result<String, String> {
    let request = Request::read(text)?;
    let answer = request.answer().map_err(|e| e.to_string())?;
    serde_json::to_string_pretty(&answer)
        .map(|json| json + "\n")
        .map_err(|e| e.to_string())
}

fn rehearse(options: &Rehearse) -> Result<ExitCode> {
    if !(2..=MOST_UNITS).contains(&options.differences) {
        let given = options.differences;
        bail!("--differences must lie between 2 and {MOST_UNITS}, but {given} was given");
    }
    if !(0.0..=0.3).contains(&options.noise) {
        bail!(
            "--noise must lie between 0 and 0.3, but {} was given",
            options.noise
        );
    }
    if !(1..=MOST_RUNS).contains(&options.runs) {
        bail!(
            "--runs must lie between 1 and {MOST_RUNS}, but {} was given",
            options.runs
        );
    }
    let report = rehearsal::run(&rehearsal::Options {
        differences: options.differences,
        noise: options.noise,
        runs: options.runs,
        seed: options.seed,
        threads: std::thread::available_parallelism().unwrap_or(NonZeroUsize::MIN),
    });
    if options.json {
        crate::print_out(&format!("{}\n", serde_json::to_string_pretty(&report)?))?;
    } else {
        crate::print_out(&told(&report))?;
    }
    Ok(ExitCode::SUCCESS)
}

fn told(report: &Report) -> String {
    let mut lines = format!(
        "{} differences, {} % slips, {} situations of each kind\n{:18} {:14} {:>6} {:>5} {:>7}\n",
        report.differences,
        report.noise * 100.0,
        report.runs,
        "guilty",
        "way",
        "mean",
        "90 %",
        "right"
    );
    for line in &report.results {
        let kind = serde_json::to_value(line.kind).unwrap_or_default();
        lines += &format!(
            "{:18} {:14} {:6.1} {:5} {:5.1} %\n",
            kind.as_str().unwrap_or_default().replace('_', " "),
            line.way,
            line.mean_trials,
            line.p90_trials,
            line.right * 100.0
        );
    }
    lines
}
