//! `usual-suspect learn`: one rule answered, the rates that outcomes teach, and learning itself
//! rehearsed. Needs no database.

use crate::rank::REFUSED;
use anyhow::{Result, bail};
use clap::{Args, Subcommand};
use serde_json::Value;
use std::fmt::Write as _;
use std::io::{BufRead, Read};
use std::num::NonZeroUsize;
use std::path::PathBuf;
use std::process::ExitCode;
use suspect_core::lessons::rule::{RULES, answer};
use suspect_core::lessons::sheet::{OutcomeLine, learn};
use suspect_rehearsal::floor::{self, Learning};

/// Largest request that is read, and longest line of outcomes, in bytes.
const LARGEST: u64 = 8 * 1024 * 1024;
/// Most outcomes that are read at once.
const MOST_LINES: usize = 1_000_000;
/// Most floors played for each way: an hour of two processors.
const MOST_WORLDS: usize = 5_000;

#[derive(Subcommand)]
pub enum Command {
    /// Answer one rule of learning by its name, or `list` them.
    Rule(RuleOptions),
    /// Read outcomes as JSON Lines and print what they teach.
    Rates(RatesOptions),
    /// Play years of floors whose machines differ from the book, and judge what learning is worth.
    Rehearse(RehearseOptions),
}

#[derive(Args)]
pub struct RuleOptions {
    /// The rule, or `list`.
    rule: String,
    /// Where what is given comes from: `-`, standard input.
    #[arg(long, num_args = 0..=1, default_missing_value = "-")]
    json: Option<String>,
}

#[derive(Args)]
pub struct RatesOptions {
    /// A file of outcomes, or `-` for standard input.
    outcomes: String,
    /// A knowledge folder; without it the knowledge shipped with the program.
    #[arg(long)]
    knowledge: Option<PathBuf>,
}

#[derive(Args)]
pub struct RehearseOptions {
    /// Floors drawn for each way.
    #[arg(long, default_value_t = 30)]
    worlds: usize,
    /// The same seed draws the same floors.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// Print the figures as JSON.
    #[arg(long)]
    json: bool,
}

pub fn run(command: &Command) -> Result<ExitCode> {
    match command {
        Command::Rule(options) => crate::told(rule(options)),
        Command::Rates(options) => rates(options),
        Command::Rehearse(options) => rehearse(options),
    }
}

fn rule(options: &RuleOptions) -> Result<String, String> {
    if options.rule == "list" {
        let mut text = String::new();
        for (name, what) in RULES {
            let _ = writeln!(text, "{name}: {what}");
        }
        return Ok(text);
    }
    if let Some(other) = options.json.as_deref().filter(|j| *j != "-") {
        return Err(format!(
            "--json {other}: only `-`, standard input, can be read"
        ));
    }
    let mut text = String::new();
    let read = std::io::stdin()
        .lock()
        .take(LARGEST + 1)
        .read_to_string(&mut text);
    read.map_err(|e| format!("what is given is not readable as text: {e}"))?;
    if text.len() as u64 > LARGEST {
        return Err(format!("what is given is longer than {LARGEST} bytes"));
    }
    let given: Value =
        serde_json::from_str(&text).map_err(|e| format!("what is given is not understood: {e}"))?;
    answer(&options.rule, &given).map(|answer| format!("{answer}\n"))
}

fn rates(options: &RatesOptions) -> Result<ExitCode> {
    let Some(knowledge) = crate::knowledge::load(options.knowledge.as_deref())? else {
        return Ok(ExitCode::from(REFUSED));
    };
    let read = outcomes(&options.outcomes);
    crate::told(read.and_then(|(numbers, lines)| {
        let sheet = learn(&knowledge, &lines).map_err(|(at, why)| {
            let line = numbers.get(at - 1).copied().unwrap_or(at);
            format!("line {line}: {why}")
        })?;
        let text = serde_json::to_string_pretty(&sheet).map_err(|e| e.to_string())?;
        Ok(text + "\n")
    }))
}

/// Outcomes with the numbers of their lines.
fn outcomes(path: &str) -> Result<(Vec<usize>, Vec<OutcomeLine>), String> {
    let input = crate::rank::open(path).map_err(|e| format!("{e:#}"))?;
    let mut input = std::io::BufReader::new(input);
    let (mut numbers, mut lines) = (Vec::new(), Vec::new());
    for number in 1.. {
        let mut bytes = Vec::new();
        let read = input
            .by_ref()
            .take(LARGEST + 1)
            .read_until(b'\n', &mut bytes);
        let at = |why: String| format!("line {number}: {why}");
        if read.map_err(|e| at(e.to_string()))? == 0 {
            break;
        }
        if bytes.len() as u64 > LARGEST {
            return Err(at(format!("longer than {LARGEST} bytes")));
        }
        if bytes.trim_ascii().is_empty() {
            continue;
        }
        if lines.len() == MOST_LINES {
            return Err(at(format!("more than {MOST_LINES} outcomes")));
        }
        let line: OutcomeLine = serde_json::from_slice(&bytes).map_err(|e| at(e.to_string()))?;
        numbers.push(number);
        lines.push(line);
    }
    Ok((numbers, lines))
}

fn rehearse(options: &RehearseOptions) -> Result<ExitCode> {
    if !(1..=MOST_WORLDS).contains(&options.worlds) {
        bail!(
            "--worlds must lie between 1 and {MOST_WORLDS}, but {} was given",
            options.worlds
        );
    }
    let learning = floor::learning(&floor::Options {
        worlds: options.worlds,
        seed: options.seed,
        threads: std::thread::available_parallelism().unwrap_or(NonZeroUsize::MIN),
    });
    let text = match options.json {
        true => serde_json::to_string_pretty(&learning)? + "\n",
        false => in_words(&learning),
    };
    crate::print_out(&text)?;
    Ok(ExitCode::SUCCESS)
}

fn in_words(learning: &Learning) -> String {
    let mut text = format!("{} floors each\n", learning.worlds);
    for floor in &learning.floors {
        let _ = writeln!(text, "{}", floor.name);
        let _ = writeln!(
            text,
            "  {:>6} {:8} {:>7} {:>9} {:>7} {:>8} {:>8} {:>8}",
            "cases", "", "leader", "log score", "Brier", "minutes", "gain", "worst"
        );
        for row in &floor.rows {
            for (name, s) in [("book", row.book), ("learned", row.learned)] {
                let gain = match name {
                    "book" => String::new(),
                    _ => format!("{:+8.3} {:+8.3}", row.gain, row.worst),
                };
                let _ = writeln!(
                    text,
                    "  {:6} {name:8} {:7.3} {:9.3} {:7.3} {:8.1} {gain}",
                    row.cases, s.leader, s.log_score, s.brier, s.minutes
                );
            }
        }
    }
    for t in &learning.targets {
        let met = if t.met { "met" } else { "NOT met" };
        let _ = writeln!(
            text,
            "{met}: {} is {:+.3}, at least {:+.3} wanted",
            t.what, t.reached, t.least
        );
    }
    text
}
