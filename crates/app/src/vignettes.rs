//! `usual-suspect knowledge trial`: a folder of vignettes in, figures and failures out.

use crate::files;
use anyhow::{Context, Result, bail};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use suspect_core::knowledge::Knowledge;
use suspect_core::vignettes::{self, Examination, Share, Shift, Vignette};

/// Largest vignette that is read, in bytes.
const LARGEST: u64 = 1024 * 1024;

/// Runs every `.json` below the folder, and once more under the knowledge of before where one is
/// given. Exit status 2 when a file is no vignette.
pub fn run(
    folder: &Path,
    knowledge: Option<&Path>,
    against: Option<&Path>,
    json: bool,
) -> Result<ExitCode> {
    let Some(knowledge) = crate::knowledge::load(knowledge)? else {
        return Ok(ExitCode::from(2));
    };
    let mut files = Vec::new();
    collect(folder, &mut files).with_context(|| format!("cannot read {}", folder.display()))?;
    files.sort();
    if files.is_empty() {
        bail!("{} holds no .json file", folder.display());
    }
    let (vignettes, refused) = read(&knowledge, folder, &files, true)?;
    let text = match against {
        Some(old) => {
            let Some(old) = crate::knowledge::load(Some(old))? else {
                return Ok(ExitCode::from(2));
            };
            // What only the newer one can say cannot be compared.
            let (before, _) = read(&old, folder, &files, false)?;
            let (now, shifts) = vignettes::against((&old, &before), (&knowledge, &vignettes));
            match json {
                true => serde_json::to_string_pretty(&shifts)? + "\n",
                false => told(&now) + &told_against(&shifts),
            }
        }
        None => {
            let result = vignettes::run(&knowledge, &vignettes);
            match json {
                true => serde_json::to_string_pretty(&result)? + "\n",
                false => told(&result),
            }
        }
    };
    crate::print_out(&text)?;
    Ok(if refused > 0 {
        ExitCode::from(2)
    } else {
        ExitCode::SUCCESS
    })
}

/// The vignettes a knowledge can read, and how many it cannot; `say` tells which and why.
fn read(
    knowledge: &Knowledge,
    folder: &Path,
    files: &[PathBuf],
    say: bool,
) -> Result<(Vec<Vignette>, usize)> {
    let (mut vignettes, mut refused) = (Vec::new(), 0);
    for path in files {
        let text = files::read_text(path, LARGEST)?;
        let name = path
            .strip_prefix(folder)
            .unwrap_or(path)
            .with_extension("")
            .to_string_lossy()
            .replace('\\', "/");
        match vignettes::read(knowledge, &name, &text) {
            Ok(vignette) => vignettes.push(vignette),
            Err(e) => {
                refused += 1;
                if say {
                    eprintln!("{name}: {e}");
                }
            }
        }
    }
    Ok((vignettes, refused))
}

/// What got worse since, what better.
fn told_against(shifts: &[Shift]) -> String {
    let line = |s: &Shift| {
        let truth = s.truth.map_or(String::new(), |(before, now)| {
            format!(", truth {:.0} % → {:.0} %", before * 100.0, now * 100.0)
        });
        let (before, now) = s.missed;
        format!("  {}: missed {before} → {now}{truth}", s.name)
    };
    let worse: Vec<String> = shifts.iter().filter(|s| s.gain() < 0.0).map(line).collect();
    let better: Vec<String> = shifts.iter().filter(|s| s.gain() > 0.0).map(line).collect();
    let mut lines = vec![format!("worse than before: {}", worse.len())];
    lines.extend(worse);
    lines.push(format!("better than before: {}", better.len()));
    lines.extend(better);
    lines.join("\n") + "\n"
}

fn collect(folder: &Path, files: &mut Vec<PathBuf>) -> std::io::Result<()> {
    for entry in std::fs::read_dir(folder)? {
        let entry = entry?;
        let path = entry.path();
        if entry.file_type()?.is_dir() {
            collect(&path, files)?;
        } else if path.extension().is_some_and(|e| e == "json") {
            files.push(path);
        }
    }
    Ok(())
}

/// The figures as text: what failed first, then the shares, then the calibration.
fn told(examination: &Examination) -> String {
    let mut lines = Vec::new();
    for failure in &examination.failures {
        lines.push(format!("{}: {}", failure.name, failure.why));
        lines.extend(failure.wrong.iter().map(|line| format!("    {line}")));
        lines.extend(
            failure
                .explanation
                .iter()
                .map(|line| format!("      {line}")),
        );
    }
    if !examination.failures.is_empty() {
        lines.push(String::new());
    }
    lines.push(format!("{:32} {:4}", "vignettes", examination.vignettes));
    let shares = [
        ("leader right", examination.leader_right),
        ("in the top three", examination.in_top_three),
        ("next step as expected", examination.next_right),
        ("early steps early", examination.early_right),
        ("kept from leading", examination.kept_back),
        ("spread in early cases", examination.spread),
    ];
    let share = |(name, s): &(&str, Share)| {
        format!(
            "{name:32} {:4} of {:4}   {:5.1} %",
            s.right,
            s.of,
            s.rate() * 100.0
        )
    };
    lines.extend(shares.iter().filter(|(_, s)| s.of > 0).map(share));
    lines.push(format!(
        "{:32} {:4.2}",
        "mean rank of the truth", examination.mean_rank
    ));
    lines.push(format!(
        "{:32} {:4.2}",
        "mean probability of the truth", examination.mean_probability
    ));
    lines.push(format!("{:32} {:5.3}", "Brier score", examination.brier));
    lines.push("calibration      statements   said   came true".into());
    for (n, bin) in examination.calibration.iter().enumerate() {
        let range = format!("{:3} to {:3} %", n * 10, n * 10 + 10);
        lines.push(if bin.statements == 0 {
            format!("  {range}   {:10}      –           –", 0)
        } else {
            format!(
                "  {range}   {:10} {:5.1} %     {:5.1} %",
                bin.statements,
                bin.said * 100.0,
                bin.came_true * 100.0
            )
        });
    }
    lines.join("\n") + "\n"
}
