//! `usual-suspect gcode`: a print file in, its figures out; two compared; one made into a ladder.

use crate::rank::REFUSED;
use anyhow::{Context, Result, bail};
use clap::{Args, Subcommand};
use serde_json::json;
use std::fs::File;
use std::io::{Read, Write};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use suspect_core::case::file;
use suspect_core::evidence::Facts;
use suspect_core::gcode::ladder::{self, Plan, Quantity};
use suspect_core::gcode::report::{self, FileFacts, Wanted};
use suspect_core::gcode::{Limits as Motion, Reader, Reading, differences, evidence};
use suspect_core::knowledge::Knowledge;
use suspect_core::settings::NumberId;
use suspect_print_files::intake::{Intake, Limits, Refused, Taken};

/// Bytes read at once.
const PIECE: usize = 256 * 1024;

#[derive(Args)]
#[command(args_conflicts_with_subcommands = true, subcommand_negates_reqs = true)]
pub struct Options {
    #[command(subcommand)]
    command: Option<Command>,
    #[command(flatten)]
    read: ReadOptions,
}

#[derive(Subcommand)]
enum Command {
    /// Compare two files: settings, figures, and by height.
    Compare(CompareOptions),
    /// Make a ladder of a file: one quantity changes by bands of height.
    Ladder(LadderOptions),
}

#[derive(Args)]
struct ReadOptions {
    /// A print file, plain, gzipped or in a container, or `-` for standard input.
    #[arg(required = true)]
    file: Option<String>,
    /// Print JSON (`usual-suspect-gcode/1`).
    #[arg(long)]
    json: bool,
    /// Every layer, too.
    #[arg(long)]
    layers: bool,
    /// What happens at this height, in mm.
    #[arg(long, value_name = "MM")]
    at: Option<f64>,
    /// A case file: what the print file says of it.
    #[arg(long, value_name = "CASE.json")]
    case: Option<PathBuf>,
    /// The last good file of the same machine, to compare the settings with.
    #[arg(long, value_name = "FILE", requires = "case")]
    good: Option<String>,
    /// Which print file of a container is read; its first otherwise.
    #[arg(long, value_name = "NAME")]
    entry: Option<String>,
    /// A knowledge folder; without it the knowledge shipped with the program.
    #[arg(long)]
    knowledge: Option<PathBuf>,
}

#[derive(Args)]
struct CompareOptions {
    /// The file before.
    before: String,
    /// The file after.
    after: String,
    /// Print JSON (`usual-suspect-differences/1`).
    #[arg(long)]
    json: bool,
}

#[derive(Args)]
struct LadderOptions {
    /// A print file, plain or packed.
    file: String,
    /// What changes by bands.
    #[arg(long, value_parser = Quantity::ALL.map(Quantity::id))]
    quantity: String,
    /// Its value in the lowest band.
    #[arg(long, allow_negative_numbers = true)]
    from: f64,
    /// What is added from band to band.
    #[arg(long, allow_negative_numbers = true)]
    step: f64,
    /// Height of a band, in mm.
    #[arg(long)]
    band_mm: f64,
    /// Height beneath the first band that stays as it is, in mm.
    #[arg(long, default_value_t = 0.0)]
    base_mm: f64,
    /// A case file that says material and hot end.
    #[arg(long, value_name = "CASE.json")]
    case: Option<PathBuf>,
    /// Where the new file goes.
    #[arg(short, long, value_name = "OUT")]
    output: PathBuf,
    /// A knowledge folder; without it the knowledge shipped with the program.
    #[arg(long)]
    knowledge: Option<PathBuf>,
}

pub fn run(options: &Options) -> Result<ExitCode> {
    let done = match &options.command {
        None => read_one(&options.read),
        Some(Command::Compare(options)) => compare(options),
        Some(Command::Ladder(options)) => make_ladder(options),
    };
    match done {
        Ok(()) => Ok(ExitCode::SUCCESS),
        Err(e) if crate::rank::stopped_reading(&e) => Ok(ExitCode::SUCCESS),
        Err(e) => {
            eprintln!("{e:#}");
            Ok(ExitCode::from(REFUSED))
        }
    }
}

/// A reader that takes text as it is written.
struct Text<W>(W);

impl Write for Text<Reader> {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        self.0.feed(bytes);
        Ok(bytes.len())
    }

    fn flush(&mut self) -> std::io::Result<()> {
        Ok(())
    }
}

/// Takes a file in, its text going to `out`.
fn take<W: Write>(path: &str, out: W, entry: Option<&str>) -> Result<(W, Taken)> {
    let mut input: Box<dyn Read> = if path == "-" {
        Box::new(std::io::stdin().lock())
    } else {
        Box::new(File::open(Path::new(path)).with_context(|| format!("cannot open {path}"))?)
    };
    let refused = |e: Refused| anyhow::anyhow!("{path}: {e}");
    let mut intake = Intake::new(out, Limits::default(), entry.map(str::to_owned));
    let mut piece = vec![0; PIECE];
    loop {
        let many = input
            .read(&mut piece)
            .with_context(|| format!("cannot read {path}"))?;
        if many == 0 {
            break;
        }
        intake.feed(&piece[..many]).map_err(refused)?;
    }
    intake.end().map_err(refused)
}

fn reading_of(path: &str, entry: Option<&str>, machine: Motion) -> Result<(Reading, Taken)> {
    let (reader, taken) = take(path, Text(Reader::with_limits(machine)), entry)?;
    let reading = reader.0.finish();
    if !reading.is_print_file() {
        let odd = reading.problem_count;
        bail!(
            "{path}: this is no print file: {odd} of {} lines are no command",
            reading.lines
        );
    }
    Ok((reading, taken))
}

fn facts_of(knowledge: &Knowledge, case: Option<&Path>) -> Result<Option<Facts>> {
    let Some(path) = case else { return Ok(None) };
    let text = crate::files::read_text(path, crate::rank::LARGEST)?;
    let facts = file::read(knowledge, &text);
    Ok(Some(
        facts.map_err(|e| anyhow::anyhow!("{}: {e}", path.display()))?,
    ))
}

fn read_one(options: &ReadOptions) -> Result<()> {
    let Some(path) = options.file.as_deref() else {
        bail!("a print file is needed, or -")
    };
    if options.at.is_some_and(|z| !(0.0..=5000.0).contains(&z)) {
        bail!("--at: a height is 0 to 5000 mm");
    }
    let knowledge = load(options.knowledge.as_deref())?;
    let case = facts_of(&knowledge, options.case.as_deref())?;
    let (reading, taken) = reading_of(path, options.entry.as_deref(), motion(case.as_ref()))?;
    let says = match case {
        Some(facts) => Some(says(&knowledge, options, &reading, facts)?),
        None => None,
    };
    let wanted = Wanted {
        layers: options.layers,
        at: options.at,
        says: says.as_ref(),
    };
    let facts = FileFacts {
        bytes: taken.bytes,
        sha256: taken.sha256.clone(),
        packed: taken.packed,
        text_bytes: taken.text_bytes,
    };
    let mut out = std::io::stdout().lock();
    if options.json {
        let mut json = report::json(&facts, &reading, wanted);
        if taken.entries.len() > 1 {
            json["file"]["entries"] = json!(taken.entries);
        }
        serde_json::to_writer_pretty(&mut out, &json)?;
        writeln!(out)?;
    } else {
        out.write_all(report::words(&facts, &reading, wanted).as_bytes())?;
    }
    Ok(())
}

/// What bounds the machine's motion where the file sets nothing: the case may know.
fn motion(case: Option<&Facts>) -> Motion {
    let usual = Motion::default();
    let told = case.and_then(|facts| facts.settings.get(NumberId::AccelMmS2));
    match told {
        Some(told) => Motion {
            laying: told,
            travel: told,
            ..usual
        },
        None => usual,
    }
}

fn says(
    knowledge: &Knowledge,
    options: &ReadOptions,
    reading: &Reading,
    facts: Facts,
) -> Result<evidence::Says> {
    let good = match &options.good {
        Some(path) => Some(reading_of(path, None, motion(Some(&facts)))?.0),
        None => None,
    };
    let told = facts.settings.get(NumberId::FaultHeightMm);
    let beside = evidence::Beside {
        facts: &facts,
        fault_mm: options.at.or(told),
        good: good.as_ref(),
    };
    Ok(evidence::says(knowledge, reading, beside))
}

fn load(folder: Option<&Path>) -> Result<Knowledge> {
    crate::knowledge::load(folder)?.context("the knowledge has the problems above")
}

fn compare(options: &CompareOptions) -> Result<()> {
    let (before, _) = reading_of(&options.before, None, Motion::default())?;
    let (after, _) = reading_of(&options.after, None, Motion::default())?;
    let compared = differences::compare(&before, &after);
    let mut out = std::io::stdout().lock();
    if options.json {
        serde_json::to_writer_pretty(&mut out, &compared)?;
        writeln!(out)?;
        return Ok(());
    }
    for one in &compared.differences {
        let said = |value: &Option<String>| value.clone().unwrap_or_else(|| "-".to_owned());
        let (before, after) = (said(&one.before), said(&one.after));
        writeln!(
            out,
            "{:<12} {:<32} {before:>16} -> {after}",
            one.group, one.name
        )?;
    }
    for one in &compared.by_height {
        let (unit, name) = (one.figure.unit(), one.figure.id().replace('_', " "));
        writeln!(
            out,
            "{:>7} to {:<7} mm  {name}: {} -> {} {unit}",
            one.from_mm, one.to_mm, one.before, one.after
        )?;
    }
    if compared.differences.is_empty() && compared.by_height.is_empty() {
        writeln!(out, "nothing differs")?;
    }
    Ok(())
}

fn make_ladder(options: &LadderOptions) -> Result<()> {
    let knowledge = load(options.knowledge.as_deref())?;
    let facts = facts_of(&knowledge, options.case.as_deref())?.unwrap_or_default();
    let (text, _) = take(&options.file, Vec::new(), None)?;
    let quantity: Quantity = options
        .quantity
        .parse()
        .map_err(|e| anyhow::anyhow!("{e}"))?;
    let plan = Plan {
        quantity,
        from: options.from,
        step: options.step,
        band_mm: options.band_mm,
        base_mm: options.base_mm,
    };
    let ladder = ladder::make(&knowledge, &facts, &text, &plan)?;
    std::fs::write(&options.output, &ladder.text)
        .with_context(|| format!("cannot write {}", options.output.display()))?;
    let mut out = std::io::stdout().lock();
    for (at, band) in ladder.bands.iter().enumerate() {
        writeln!(
            out,
            "band {}: {} mm to {} mm, {quantity} {} (line {})",
            at + 1,
            band.from_mm,
            band.to_mm,
            band.value,
            band.line
        )?;
    }
    Ok(())
}
