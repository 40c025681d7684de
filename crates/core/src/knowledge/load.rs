//! Reads the TOML files and reports every problem at once, each with file, line and key.

use super::raw;
use crate::knowledge::Family;
use crate::nearest::hint;
use serde::de::DeserializeOwned;
use std::collections::BTreeMap;
use std::fmt;

/// A file larger than this is refused unread: knowledge files are a few ten kilobytes.
const LARGEST_FILE: usize = 4 * 1024 * 1024;

/// Something wrong in the knowledge, with its place.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct Problem {
    /// File relative to the knowledge folder.
    pub file: String,
    /// Line of the entry, when it could be found.
    pub line: Option<usize>,
    /// Entry and key: `pulley-slips.links.layer-step`.
    pub key: String,
    /// What is wrong and what would do.
    pub message: String,
}

impl fmt::Display for Problem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}", self.file)?;
        if let Some(line) = self.line {
            write!(f, ":{line}")?;
        }
        if !self.key.is_empty() {
            write!(f, ": {}", self.key)?;
        }
        write!(f, ": {}", self.message)
    }
}

/// One entry of a file with its place.
pub(super) struct Entry<T> {
    pub id: String,
    pub file: String,
    pub line: Option<usize>,
    pub raw: T,
}

impl<T> Entry<T> {
    /// A problem at this entry.
    pub fn problem(&self, key: &str, message: impl Into<String>) -> Problem {
        let key = if key.is_empty() {
            self.id.clone()
        } else {
            format!("{}.{key}", self.id)
        };
        Problem {
            file: self.file.clone(),
            line: self.line,
            key,
            message: message.into(),
        }
    }
}

/// All entries as written.
#[derive(Default)]
pub(super) struct Entries {
    pub version: String,
    pub causes: Vec<(Family, Entry<raw::Cause>)>,
    pub findings: Vec<(super::types::Section, Entry<raw::Finding>)>,
    pub checks: Vec<Entry<raw::Check>>,
    pub fixes: Vec<Entry<raw::Fix>>,
    pub cautions: Vec<Entry<raw::Caution>>,
    pub materials: Vec<Entry<raw::Material>>,
    pub stops: Vec<Entry<raw::Stop>>,
    pub precautions: Vec<Entry<raw::Precaution>>,
    pub glossary: Vec<Entry<raw::Term>>,
    pub synonyms: Vec<Entry<raw::Synonyms>>,
    pub phrases: Vec<Entry<raw::Phrases>>,
}

const WORK_KEYS: &[&str] = &[
    "name",
    "steps",
    "tools",
    "minutes",
    "waiting",
    "grams",
    "money",
    "dismantling",
    "risk",
    "state",
    "prints",
    "raises_nozzle_c",
    "cautions",
];
const CHECK_KEYS: &[&str] = &[
    "plain",
    "outcomes",
    "sound",
    "background",
    "group",
    "supersedes",
    "also_fix",
    "ends_case",
    "needs",
];
const FIX_KEYS: &[&str] = &[
    "kind",
    "verify",
    "verify_minutes",
    "verify_waiting",
    "verify_grams",
    "may_bring",
    "changes",
    "warranty",
    "school",
    "needs",
];
const STOP_KEYS: &[&str] = &["title", "why", "holds", "until", "check"];

/// Reads the files into entries. Files are taken by name in sorted order: that is "knowledge order".
pub(super) fn read(files: &BTreeMap<String, String>, problems: &mut Vec<Problem>) -> Entries {
    use super::types::Section::{History, Machine, Number, Print};
    let mut entries = Entries::default();
    for required in [
        "knowledge.toml",
        "cautions.toml",
        "glossary.toml",
        "materials.toml",
        "stops.toml",
        "synonyms.toml",
    ] {
        if !files.contains_key(required) {
            problems.push(file_problem(required, "the file is missing"));
        }
    }
    for folder in ["causes/", "findings/", "checks/", "fixes/"] {
        if !files.keys().any(|name| name.starts_with(folder)) {
            problems.push(file_problem(
                folder,
                "the folder is missing or holds no .toml file",
            ));
        }
    }
    for (name, text) in files {
        if text.len() > LARGEST_FILE {
            problems.push(file_problem(
                name,
                &format!("{} bytes are too many: at most {LARGEST_FILE}", text.len()),
            ));
            continue;
        }
        let table: toml::Table = match toml::from_str(text) {
            Ok(table) => table,
            Err(e) => {
                let line = e
                    .span()
                    .map(|s| text[..s.start.min(text.len())].matches('\n').count() + 1);
                problems.push(Problem {
                    file: name.clone(),
                    line,
                    key: String::new(),
                    message: e.message().to_string(),
                });
                continue;
            }
        };
        let file = File { name, text, table };
        let stem = name
            .rsplit('/')
            .next()
            .unwrap_or(name)
            .trim_end_matches(".toml");
        match name.split_once('/') {
            None if name == "knowledge.toml" => {
                match file.table.get("version").and_then(|v| v.as_str()) {
                    Some(version) => entries.version = version.to_string(),
                    None => problems.push(file_problem(name, "`version` is missing")),
                }
            }
            None if name == "cautions.toml" => entries.cautions = file.entries(None, problems),
            None if name == "materials.toml" => entries.materials = file.entries(None, problems),
            None if name == "glossary.toml" => entries.glossary = file.entries(None, problems),
            None if name == "synonyms.toml" => entries.synonyms = file.entries(None, problems),
            // A folder without phrases is whole: plain words then propose nothing.
            None if name == "phrases.toml" => entries.phrases = file.entries(None, problems),
            // Without precautions nothing is looked at before a print.
            None if name == "precautions.toml" => {
                entries.precautions = file.entries(None, problems)
            }
            None if name == "stops.toml" => entries.stops = file.entries(Some(STOP_KEYS), problems),
            Some(("causes", _)) => {
                let family = Family::from_id(stem).unwrap_or_else(|| {
                    let known = hint(stem, Family::ALL.iter().map(|f| f.id()));
                    let problem = format!("`{stem}` is no family{known}");
                    problems.push(file_problem(name, &problem));
                    Family::Normal
                });
                let causes = file.entries(None, problems).into_iter();
                entries.causes.extend(causes.map(|e| (family, e)));
            }
            Some(("findings", _)) => {
                let section = match stem {
                    "print" => Print,
                    "machine" => Machine,
                    "history" => History,
                    "numbers" => Number,
                    _ => {
                        problems.push(file_problem(
                            name,
                            "findings stand in print, machine, history or numbers.toml",
                        ));
                        continue;
                    }
                };
                entries.findings.extend(
                    file.entries(None, problems)
                        .into_iter()
                        .map(|e| (section, e)),
                );
            }
            Some(("checks", _)) => entries
                .checks
                .extend(file.entries(Some(CHECK_KEYS), problems)),
            Some(("fixes", _)) => entries.fixes.extend(file.entries(Some(FIX_KEYS), problems)),
            _ => problems.push(file_problem(
                name,
                "this file has no place in the knowledge folder",
            )),
        }
    }
    entries.findings.sort_by_key(|(section, _)| *section as u8);
    entries
}

fn file_problem(name: &str, message: &str) -> Problem {
    Problem {
        file: name.to_string(),
        line: None,
        key: String::new(),
        message: message.to_string(),
    }
}

struct File<'a> {
    name: &'a str,
    text: &'a str,
    table: toml::Table,
}

impl File<'_> {
    /// The file's tables as entries of one kind. `own_keys` are the keys beside those of [`raw::Work`], for kinds that share it.
    fn entries<T: DeserializeOwned>(
        &self,
        own_keys: Option<&[&str]>,
        problems: &mut Vec<Problem>,
    ) -> Vec<Entry<T>> {
        let mut out = Vec::new();
        for (id, value) in &self.table {
            let heading = format!("[{id}]");
            let line = self
                .text
                .lines()
                .position(|l| l.trim() == heading)
                .map(|l| l + 1);
            let problem = |key: &str, message: String| Problem {
                file: self.name.to_string(),
                line,
                key: key.to_string(),
                message,
            };
            if !id
                .chars()
                .all(|c| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '-')
            {
                problems.push(problem(
                    id,
                    "an identifier is lower-case letters, digits and hyphens".into(),
                ));
            }
            if let (Some(own), Some(table)) = (own_keys, value.as_table()) {
                let known = || WORK_KEYS.iter().chain(own).copied();
                for key in table.keys().filter(|k| !known().any(|n| n == *k)) {
                    problems.push(problem(
                        &format!("{id}.{key}"),
                        format!("unknown key{}", hint(key, known())),
                    ));
                }
            }
            match serde_path_to_error::deserialize::<_, T>(value.clone()) {
                Ok(raw) => out.push(Entry {
                    id: id.clone(),
                    file: self.name.to_string(),
                    line,
                    raw,
                }),
                Err(e) => {
                    let path = e.path().to_string();
                    let key = if path == "." {
                        id.clone()
                    } else {
                        format!("{id}.{path}")
                    };
                    problems.push(problem(&key, e.into_inner().message().trim().to_string()));
                }
            }
        }
        out
    }
}
