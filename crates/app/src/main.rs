//! `usual-suspect`: names likely causes of filament-printing faults, ranks them by evidence, leads
//! to the fix.
//!
//! A file per command: `serve`, `rank`, `measure`, `gcode`, `stand_in`, `rehearse`, `learn`,
//! `trials`, `pieces`, `history` (`backup`, `restore`, `records`), `knowledge`, `vignettes`,
//! `export`; `demo` the made-up workshop, `files` reading and its errors, `memory` what the
//! allocator gives back.

mod demo;
mod export;
mod files;
mod gcode;
mod history;
mod knowledge;
mod learn;
mod measure;
mod memory;
mod pieces;
mod practice;
mod rank;
mod rehearse;
mod serve;
mod stand_in;
mod trials;
mod vignettes;

use clap::{Parser, Subcommand};
use std::io::Write;
use std::path::PathBuf;
use std::process::ExitCode;

#[derive(Parser)]
#[command(version, about)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Rank a case file and print the line-up as JSON. Needs no database.
    Rank(rank::Options),
    /// Reckon what follows from readings, with its uncertainty. Needs no database.
    Measure(measure::Options),
    /// Read a print file: its figures, what it does at a height, what it says of a case. Needs no
    /// database.
    Gcode(gcode::Options),
    /// Follow the advice on drawn cases and compare it with other ways of going about them. Needs
    /// no database.
    Rehearse(rehearse::Options),
    /// Practise on made-up cases before touching a machine. Needs no database.
    Practice(practice::Options),
    /// Reckon with what outcomes teach. Needs no database.
    Learn {
        #[command(subcommand)]
        command: learn::Command,
    },
    /// Trials: which of many differences is guilty. Needs no database.
    Trials {
        #[command(subcommand)]
        command: trials::Command,
    },
    /// Test pieces: listed, or made as a file. Needs no database.
    Piece {
        #[command(subcommand)]
        command: pieces::Command,
    },
    /// Serve the pages.
    Serve(serve::Options),
    /// Load the demo workshop into an empty database.
    Demo {
        #[command(flatten)]
        database: serve::Database,
        /// Load its cases this many times, for measuring.
        #[arg(long, default_value_t = 1)]
        copies: usize,
    },
    /// Write everything that is kept into one archive, while others work.
    Backup(history::Backup),
    /// Read such an archive into an empty database.
    Restore(history::Restore),
    /// Records out and in: a log with every entry, or a table.
    Records {
        #[command(subcommand)]
        command: history::Records,
    },
    /// Simulate a device on a port of this computer, with a fault to choose.
    StandIn(stand_in::Options),
    /// Look into the knowledge.
    Knowledge {
        #[command(subcommand)]
        command: KnowledgeCommand,
    },
}

#[derive(Subcommand)]
enum KnowledgeCommand {
    /// Print counts, or every problem with file, line and key.
    Check {
        /// A knowledge folder; without it the knowledge shipped with the program.
        folder: Option<PathBuf>,
    },
    /// Print the knowledge in an open format.
    Export(export::Options),
    /// Rank a folder of vignettes, cases whose answer is known, and print how well the knowledge
    /// does.
    Trial {
        /// A folder of `.json` files, read with all folders below it.
        folder: PathBuf,
        /// A knowledge folder; without it the knowledge shipped with the program.
        #[arg(long)]
        knowledge: Option<PathBuf>,
        /// A knowledge folder of before: tells which vignettes got better since, and which worse.
        #[arg(long)]
        against: Option<PathBuf>,
        /// Print the figures as JSON.
        #[arg(long)]
        json: bool,
    },
}

/// Prints a text. Whoever reads may stop reading: `export … | head` is no failure.
fn print_out(text: &str) -> anyhow::Result<()> {
    match std::io::stdout().write_all(text.as_bytes()) {
        Err(e) if e.kind() != std::io::ErrorKind::BrokenPipe => Err(e.into()),
        _ => Ok(()),
    }
}

/// Prints an answer; a refusal is one line on standard error and exit status 2.
fn told(answered: Result<String, String>) -> anyhow::Result<ExitCode> {
    match answered {
        Ok(text) => {
            print_out(&text)?;
            Ok(ExitCode::SUCCESS)
        }
        Err(why) => {
            let plain = |c: char| if c.is_control() { ' ' } else { c };
            eprintln!("{}", why.chars().map(plain).collect::<String>());
            Ok(ExitCode::from(rank::REFUSED))
        }
    }
}

/// Runs what waits on network and database; the other commands need no runtime.
fn asynchronous(work: impl Future<Output = anyhow::Result<ExitCode>>) -> anyhow::Result<ExitCode> {
    let filter =
        tracing_subscriber::EnvFilter::try_from_default_env().unwrap_or_else(|_| "warn".into());
    tracing_subscriber::fmt()
        .with_env_filter(filter)
        .with_writer(std::io::stderr)
        .init();
    let runtime = tokio::runtime::Builder::new_multi_thread()
        .enable_all()
        .build()?;
    let result = runtime.block_on(work);
    // Work that still goes on is left: whoever asked to stop has waited long enough.
    runtime.shutdown_timeout(std::time::Duration::from_millis(500));
    result
}

fn main() -> ExitCode {
    let result = match Cli::parse().command {
        Command::Rank(options) => rank::run(&options),
        Command::Measure(options) => measure::run(&options),
        Command::Gcode(options) => gcode::run(&options),
        Command::Rehearse(options) => rehearse::run(&options),
        Command::Practice(options) => practice::run(&options),
        Command::Learn { command } => learn::run(&command),
        Command::Trials { command } => trials::run(&command),
        Command::Piece { command } => pieces::run(&command),
        Command::Serve(options) => {
            memory::hand_back_large_blocks();
            asynchronous(serve::run(&options))
        }
        Command::Backup(options) => asynchronous(history::backup(&options)),
        Command::Restore(options) => asynchronous(history::restore(&options)),
        Command::Records { command } => asynchronous(history::records(&command)),
        Command::StandIn(options) => asynchronous(stand_in::run(&options)),
        Command::Demo { database, copies } => asynchronous(serve::demo(&database, copies)),
        Command::Knowledge { command } => match command {
            KnowledgeCommand::Check { folder } => knowledge::check(folder.as_deref()),
            KnowledgeCommand::Export(options) => export::run(&options),
            KnowledgeCommand::Trial {
                folder,
                knowledge,
                against,
                json,
            } => vignettes::run(&folder, knowledge.as_deref(), against.as_deref(), json),
        },
    };
    result.unwrap_or_else(|e| {
        eprintln!("usual-suspect: {e:#}");
        ExitCode::from(1)
    })
}
