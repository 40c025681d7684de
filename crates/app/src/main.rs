//! `usual-suspect`: names likely causes of filament-printing faults, ranks them by evidence, leads to the fix.

mod knowledge;
mod rank;

use clap::{Parser, Subcommand};
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
}

fn main() -> ExitCode {
    let result = match Cli::parse().command {
        Command::Rank(options) => rank::run(&options),
        Command::Knowledge { command: KnowledgeCommand::Check { folder } } => knowledge::check(folder.as_deref()),
    };
    result.unwrap_or_else(|e| {
        eprintln!("usual-suspect: {e:#}");
        ExitCode::from(1)
    })
}
