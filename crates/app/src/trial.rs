//! `usual-suspect knowledge trial`: a folder of vignettes in, figures and failures out.

use anyhow::{Context, Result, bail};
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use suspect_core::trial::{self, Share, Trial, Vignette};

/// Runs every `.json` below the folder. Exit status 2 when a file is no vignette.
pub fn run(folder: &Path, knowledge: Option<&Path>, json: bool) -> Result<ExitCode> {
    let Some(knowledge) = crate::knowledge::load(knowledge)? else { return Ok(ExitCode::from(2)) };
    let mut files = Vec::new();
    collect(folder, &mut files).with_context(|| format!("cannot read {}", folder.display()))?;
    files.sort();
    if files.is_empty() {
        bail!("{} holds no .json file", folder.display());
    }
    let mut vignettes: Vec<Vignette> = Vec::new();
    let mut refused = 0;
    for path in &files {
        let text = std::fs::read_to_string(path).with_context(|| format!("cannot read {}", path.display()))?;
        let name = path.strip_prefix(folder).unwrap_or(path).with_extension("").to_string_lossy().replace('\\', "/");
        match trial::read(&knowledge, &name, &text) {
            Ok(vignette) => vignettes.push(vignette),
            Err(e) => {
                refused += 1;
                eprintln!("{name}: {e}");
            }
        }
    }
    let result = trial::run(&knowledge, &vignettes);
    if json {
        println!("{}", serde_json::to_string_pretty(&result)?);
    } else {
        print(&result);
    }
    Ok(if refused > 0 { ExitCode::from(2) } else { ExitCode::SUCCESS })
}

fn collect(folder: &Path, files: &mut Vec<PathBuf>) -> std::io::Result<()> {
    for entry in std::fs::read_dir(folder)? {
        let path = entry?.path();
        if path.is_dir() {
            collect(&path, files)?;
        } else if path.extension().is_some_and(|e| e == "json") {
            files.push(path);
        }
    }
    Ok(())
}

fn print(trial: &Trial) {
    for failure in &trial.failures {
        println!("{}: {}", failure.name, failure.why);
        failure.wrong.iter().for_each(|line| println!("    {line}"));
        failure.explanation.iter().for_each(|line| println!("      {line}"));
    }
    if !trial.failures.is_empty() {
        println!();
    }
    let share = |name: &str, s: Share| {
        if s.of > 0 {
            println!("{name:32} {:4} of {:4}   {:5.1} %", s.right, s.of, s.rate() * 100.0);
        }
    };
    println!("{:32} {:4}", "vignettes", trial.vignettes);
    share("leader right", trial.leader_right);
    share("in the top three", trial.in_top_three);
    share("next step as expected", trial.next_right);
    share("kept from leading", trial.kept_back);
    share("spread in early cases", trial.spread);
    println!("{:32} {:4.2}", "mean rank of the truth", trial.mean_rank);
    println!("{:32} {:4.2}", "mean probability of the truth", trial.mean_probability);
    println!("{:32} {:5.3}", "Brier score", trial.brier);
    println!("calibration      statements   said   came true");
    for (n, bin) in trial.calibration.iter().enumerate() {
        let range = format!("{:3} to {:3} %", n * 10, n * 10 + 10);
        if bin.statements == 0 {
            println!("  {range}   {:10}      –           –", 0);
        } else {
            println!("  {range}   {:10} {:5.1} %     {:5.1} %", bin.statements, bin.said * 100.0, bin.came_true * 100.0);
        }
    }
}
