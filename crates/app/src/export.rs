//! `usual-suspect knowledge export`: the knowledge in open formats.

use anyhow::Result;
use clap::{Args, ValueEnum};
use std::path::PathBuf;
use std::process::ExitCode;
use suspect_core::case::file;
use suspect_core::evidence::Facts;
use suspect_core::export;

#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
enum Format {
    /// Everything, as docs/knowledge.schema.json describes it.
    Json,
    /// The single-cause network in the Bayesian Interchange Format.
    Bif,
}

/// Largest case file that is read, in bytes.
const LARGEST: u64 = 8 * 1024 * 1024;

#[derive(Args)]
pub struct Options {
    #[arg(long)]
    format: Format,
    /// A case file: the network gets its priors, its tried fixes and cleared parts, and names its
    /// answers as evidence.
    #[arg(long)]
    case: Option<PathBuf>,
    /// A knowledge folder; without it the knowledge shipped with the program.
    #[arg(long)]
    knowledge: Option<PathBuf>,
}

/// Prints the export. Exit status 2 when the case or the knowledge is not understood.
pub fn run(options: &Options) -> Result<ExitCode> {
    let Some(knowledge) = crate::knowledge::load(options.knowledge.as_deref())? else {
        return Ok(ExitCode::from(2));
    };
    let facts = match &options.case {
        None => Facts::default(),
        Some(path) => {
            let text = crate::files::read_text(path, LARGEST)?;
            match file::read(&knowledge, &text) {
                Ok(facts) => facts,
                Err(e) => {
                    eprintln!("{e}");
                    return Ok(ExitCode::from(2));
                }
            }
        }
    };
    let text = match options.format {
        Format::Json => serde_json::to_string_pretty(&export::json(&knowledge))? + "\n",
        Format::Bif => export::bif(&knowledge, &facts),
    };
    crate::print_out(&text)?;
    Ok(ExitCode::SUCCESS)
}
