//! `usual-suspect backup`, `restore` and `records`: a workshop's history out and in.

use crate::serve::{Database, open};
use anyhow::{Context, Result, bail};
use clap::{Args, Subcommand, ValueEnum};
use std::fs::File;
use std::io::{BufReader, BufWriter, Write};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use suspect_core::knowledge::Knowledge;
use suspect_exchange::{Names, Report, RestoreError, Way};
use time::OffsetDateTime;

#[derive(Args)]
pub struct Backup {
    #[command(flatten)]
    database: Database,
    /// The archive to write; it must not be there yet.
    file: PathBuf,
    /// Members go with it, by name, without passphrases; without this no name leaves.
    #[arg(long)]
    names: bool,
}

#[derive(Args)]
pub struct Restore {
    #[command(flatten)]
    database: Database,
    /// The archive to read.
    file: PathBuf,
}

#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Format {
    /// Lines of JSON with every entry: usual-suspect-log/1.
    Log,
    /// A table, a row a case: CSV.
    Table,
}

#[derive(Subcommand)]
pub enum Records {
    /// Write all records down.
    Export {
        #[command(flatten)]
        database: Database,
        #[arg(long, value_enum, default_value = "log")]
        format: Format,
        /// Names that people typed go with the log; without this each is "somebody".
        #[arg(long)]
        names: bool,
        /// The file to write, `-` for standard output.
        #[arg(default_value = "-")]
        file: PathBuf,
    },
    /// Look through a log or a table: what would come, what is here, what is wrong. Takes nothing
    /// unless told to.
    Import {
        #[command(flatten)]
        database: Database,
        /// The file to read.
        file: PathBuf,
        /// Take it in.
        #[arg(long)]
        take: bool,
        /// Take everything else in when some lines are wrong.
        #[arg(long, requires = "take")]
        leave_out: bool,
    },
}

/// Writes a backup. It grows under another name and gets its own when it is whole.
pub async fn backup(options: &Backup) -> Result<ExitCode> {
    let file = &options.file;
    if file.exists() {
        bail!("{} is there already: name another file", file.display());
    }
    let (store, held) = open(&options.database).await?;
    held.release().await;
    let growing = file.with_extension("part");
    let out = File::create(&growing)
        .with_context(|| format!("{} cannot be written", growing.display()))?;
    let (knowledge, now) = (Knowledge::shipped(), OffsetDateTime::now_utc());
    let done =
        suspect_exchange::backup(&store, &knowledge, BufWriter::new(out), now, options.names).await;
    let done = match done {
        Ok(done) => done,
        Err(e) => {
            let _ = std::fs::remove_file(&growing);
            return Err(e.into());
        }
    };
    std::fs::rename(&growing, file)?;
    let (cases, pictures, files) = (done.cases, done.pictures, done.print_files);
    println!("{cases} cases, {pictures} pictures, {files} print files");
    Ok(ExitCode::SUCCESS)
}

/// Restores a backup into an empty database.
pub async fn restore(options: &Restore) -> Result<ExitCode> {
    let from = opened(&options.file)?;
    let (store, held) = open(&options.database).await?;
    let knowledge = Knowledge::shipped();
    let done = suspect_exchange::restore(&store, &knowledge, BufReader::new(from)).await;
    held.release().await;
    match done {
        Ok(there) => {
            let (cases, pictures, files) = (there.cases, there.pictures, there.print_files);
            println!("{cases} cases, {pictures} pictures, {files} print files restored");
            store.rebuild(&knowledge).await?;
            Ok(ExitCode::SUCCESS)
        }
        Err(RestoreError::Store(e)) => Err(e.into()),
        Err(refused) => {
            eprintln!(
                "{}: {refused}. Nothing was restored.",
                options.file.display()
            );
            Ok(ExitCode::from(2))
        }
    }
}

fn opened(file: &Path) -> Result<File> {
    File::open(file).with_context(|| format!("{} cannot be read", file.display()))
}

/// Writes records down, or looks through and takes in those of a file.
pub async fn records(command: &Records) -> Result<ExitCode> {
    match command {
        Records::Export {
            database,
            format,
            names,
            file,
        } => export(database, (*format, *names), file).await,
        Records::Import {
            database,
            file,
            take,
            leave_out,
        } => {
            let way = match leave_out {
                true => Way::LeaveOut,
                false => Way::AllOrNothing,
            };
            import(database, file, take.then_some(way)).await
        }
    }
}

async fn export(
    database: &Database,
    (format, names): (Format, bool),
    file: &Path,
) -> Result<ExitCode> {
    let kept = match names {
        true => Names::Kept,
        false => Names::LeftOut,
    };
    let (store, held) = open(database).await?;
    held.release().await;
    let mut out: Box<dyn Write + Send> = match file.as_os_str() == "-" {
        true => Box::new(BufWriter::new(std::io::stdout())),
        false => {
            let out = File::create_new(file);
            let out = out.with_context(|| format!("{} cannot be written", file.display()))?;
            Box::new(BufWriter::new(out))
        }
    };
    let from = store.snapshot().await?;
    match format {
        Format::Log => {
            suspect_exchange::write_log(&from, &mut out, OffsetDateTime::now_utc(), kept).await?
        }
        Format::Table => {
            suspect_exchange::write_table(&from, &Knowledge::shipped(), &mut out).await?
        }
    };
    out.flush()?;
    Ok(ExitCode::SUCCESS)
}

async fn import(database: &Database, file: &Path, way: Option<Way>) -> Result<ExitCode> {
    opened(file)?;
    let (store, held) = open(database).await?;
    held.release().await;
    let (knowledge, now) = (Knowledge::shipped(), OffsetDateTime::now_utc());
    let report = match way {
        None => suspect_exchange::look(&store, &knowledge, file, now).await?,
        Some(way) => suspect_exchange::take(&store, &knowledge, file, way, now).await?,
    };
    told(&report, way.is_some());
    if report.taken {
        store.rebuild(&knowledge).await?;
    }
    match report.wrong {
        0 => Ok(ExitCode::SUCCESS),
        _ => Ok(ExitCode::from(2)),
    }
}

/// What came, or would; problems go to standard error, each with its line.
fn told(report: &Report, asked: bool) {
    let Report {
        machines,
        settings,
        cases,
        entries,
        known,
        differ,
        ..
    } = report;
    let what = match (asked, report.taken) {
        (false, _) => "would come",
        (true, true) => "came",
        (true, false) => "would have come; nothing was taken",
    };
    println!(
        "{cases} cases with {entries} entries, {machines} machines, {settings} settings {what}"
    );
    println!(
        "{known} cases are here already; {differ} went on otherwise here and stay as they are"
    );
    for problem in &report.problems {
        eprintln!("line {}: {}", problem.line, problem.what);
    }
    let more = report.wrong - report.problems.len() as u64;
    if more > 0 {
        eprintln!("and {more} lines more");
    }
}
