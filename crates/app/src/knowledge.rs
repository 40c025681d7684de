//! `usual-suspect knowledge`: counts or problems.

use crate::files;
use anyhow::{Context, Result, bail};
use std::collections::BTreeMap;
use std::path::Path;
use std::process::ExitCode;
use suspect_core::knowledge::{Knowledge, Section};

/// The knowledge of a folder, or the one shipped with the program. Its problems go to standard
/// error.
pub fn load(folder: Option<&Path>) -> Result<Option<Knowledge>> {
    let files = match folder {
        Some(folder) => read_folder(folder)?,
        None => Knowledge::shipped_files(),
    };
    match Knowledge::load(&files) {
        Ok(knowledge) => Ok(Some(knowledge)),
        Err(problems) => {
            for problem in &problems {
                eprintln!("{problem}");
            }
            eprintln!(
                "{} problem{}",
                problems.len(),
                if problems.len() == 1 { "" } else { "s" }
            );
            Ok(None)
        }
    }
}

/// Prints counts, or every problem; exit status 2 when there are problems.
pub fn check(folder: Option<&Path>) -> Result<ExitCode> {
    match load(folder)? {
        Some(knowledge) => {
            let count = |section| {
                knowledge
                    .findings
                    .iter()
                    .filter(|f| f.section == section)
                    .count()
            };
            println!(
                "knowledge version {}, {}",
                knowledge.version,
                &knowledge.sha256[..12]
            );
            println!(
                "{:4} causes, {} pairs that may act together",
                knowledge.causes.len(),
                knowledge.pairs.len()
            );
            println!(
                "{:4} findings: {} on the print, {} of the machine, {} of pattern and history, {} \
                    drawn from numbers",
                knowledge.findings.len() - knowledge.checks.len(),
                count(Section::Print),
                count(Section::Machine),
                count(Section::History),
                count(Section::Number)
            );
            println!("{:4} checks", knowledge.checks.len());
            println!("{:4} fixes", knowledge.fixes.len());
            println!(
                "{:4} cautions, {} stops, {} materials",
                knowledge.cautions.len(),
                knowledge.stops.len(),
                knowledge.materials.len()
            );
            println!("no problems");
            Ok(ExitCode::SUCCESS)
        }
        None => Ok(ExitCode::from(2)),
    }
}

/// Bytes of a file that are read at most: far above what the validator takes, so that it can name
/// the size of one that is too large.
const LARGEST: u64 = 64 * 1024 * 1024;
/// How deep folders of a knowledge may lie in each other.
const DEEPEST: usize = 8;

/// Reads every `.toml` file below a folder, named relative to it. A file that is no text is kept
/// with what can be read of it, so that the validator reports it beside everything else. Links are
/// not followed into folders: one that leads upwards would never end.
fn read_folder(folder: &Path) -> Result<BTreeMap<String, String>> {
    fn walk(
        root: &Path,
        dir: &Path,
        depth: usize,
        files: &mut BTreeMap<String, String>,
    ) -> Result<()> {
        if depth > DEEPEST {
            bail!("{} lies too deep", files::shown(dir));
        }
        let entries =
            std::fs::read_dir(dir).with_context(|| format!("cannot read {}", files::shown(dir)))?;
        for entry in entries {
            let entry = entry?;
            let path = entry.path();
            if entry.file_type()?.is_dir() {
                walk(root, &path, depth + 1, files)?;
            } else if path.extension().is_some_and(|e| e == "toml") {
                let below = path.strip_prefix(root).unwrap_or(&path);
                let name = files::shown(below).replace('\\', "/");
                let bytes = files::head(&path, LARGEST)?;
                files.insert(name, String::from_utf8_lossy(&bytes).into_owned());
            }
        }
        Ok(())
    }
    if !folder.is_dir() {
        bail!("{} is not a folder", files::shown(folder));
    }
    let mut files = BTreeMap::new();
    walk(folder, folder, 0, &mut files)?;
    Ok(files)
}
