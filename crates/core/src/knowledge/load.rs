//! Reads the TOML files and reports every problem at once, each with file, line and key.

use super::raw;
use crate::knowledge::{Family, Section};
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
    pub upkeep: Vec<Entry<raw::UpkeepTask>>,
    pub commissioning: Vec<Entry<raw::CommissionStep>>,
    pub kinds: Vec<Entry<raw::MachineKind>>,
    pub schools: Vec<Entry<raw::School>>,
    pub glossary: Vec<Entry<raw::Term>>,
    pub synonyms: Vec<Entry<raw::Synonyms>>,
    pub phrases: Vec<Entry<raw::Phrases>>,
}

/// Files and folders without which a knowledge is not whole.
const REQUIRED: [&str; 6] = [
    "knowledge.toml",
    "cautions.toml",
    "glossary.toml",
    "materials.toml",
    "stops.toml",
    "synonyms.toml",
];
const FOLDERS: [&str; 4] = ["causes/", "findings/", "checks/", "fixes/"];
/// Said of a file that is none of ours.
const NO_PLACE: &str = "this file has no place in the knowledge folder";
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
    "trade",
    "cautions",
];
const CHECK_KEYS: &[&str] = &[
    "plain",
    "outcomes",
    "sound",
    "background",
    "group",
    "supersedes",
    "excludes",
    "repeats",
    "also_fix",
    "ends_case",
    "proves_nothing",
    "several",
    "first_when",
    "before_heat",
    "early_when",
    "before_fixes_when",
    "needs",
];
const FIX_KEYS: &[&str] = &[
    "kind",
    "verify",
    "verify_prints",
    "verify_minutes",
    "verify_waiting",
    "verify_grams",
    "may_bring",
    "by_chance",
    "changes",
    "warranty",
    "needs",
];
const STOP_KEYS: &[&str] = &["title", "why", "holds", "until", "check"];

/// Reads the files into entries. Files are taken by name in sorted order: that is "knowledge
/// order".
pub(super) fn read(files: &BTreeMap<String, String>, problems: &mut Vec<Problem>) -> Entries {
    let mut entries = Entries::default();
    for required in REQUIRED {
        if !files.contains_key(required) {
            problems.push(file_problem(required, "the file is missing"));
        }
    }
    for folder in FOLDERS {
        if !files.keys().any(|name| name.starts_with(folder)) {
            let problem = "the folder is missing or holds no .toml file";
            problems.push(file_problem(folder, problem));
        }
    }
    for (name, text) in files {
        match table(name, text) {
            Ok(table) => entries.take(File { name, text, table }, problems),
            Err(problem) => problems.push(problem),
        }
    }
    entries.findings.sort_by_key(|(section, _)| *section as u8);
    entries
}

/// A file as a table.
fn table(name: &str, text: &str) -> Result<toml::Table, Problem> {
    if text.len() > LARGEST_FILE {
        let problem = format!("{} bytes are too many: at most {LARGEST_FILE}", text.len());
        return Err(file_problem(name, &problem));
    }
    toml::from_str(text).map_err(|e| {
        let before = e.span().map(|s| &text[..s.start.min(text.len())]);
        Problem {
            file: name.to_string(),
            line: before.map(|before| before.matches('\n').count() + 1),
            key: String::new(),
            message: e.message().to_string(),
        }
    })
}

impl Entries {
    /// Takes the entries of a file in.
    fn take(&mut self, file: File, problems: &mut Vec<Problem>) {
        match file.name.split_once('/') {
            Some((folder, _)) => self.take_of_folder(folder, &file, problems),
            None => self.take_alone(&file, problems),
        }
    }

    fn take_alone(&mut self, file: &File, problems: &mut Vec<Problem>) {
        match file.name {
            "knowledge.toml" => match file.table.get("version").and_then(|v| v.as_str()) {
                Some(version) => self.version = version.to_string(),
                None => problems.push(file_problem(file.name, "`version` is missing")),
            },
            "cautions.toml" => self.cautions = file.entries(None, problems),
            "materials.toml" => self.materials = file.entries(None, problems),
            "glossary.toml" => self.glossary = file.entries(None, problems),
            "synonyms.toml" => self.synonyms = file.entries(None, problems),
            // A folder without phrases is whole: plain words then propose nothing.
            "phrases.toml" => self.phrases = file.entries(None, problems),
            // Without schools nobody is asked for a side.
            "schools.toml" => self.schools = file.entries(None, problems),
            // Without precautions nothing is looked at before a print.
            "precautions.toml" => self.precautions = file.entries(None, problems),
            // Without steps a machine is in service as it comes.
            "commissioning.toml" => self.commissioning = file.entries(None, problems),
            // Without tasks nothing comes due.
            "upkeep.toml" => self.upkeep = file.entries(None, problems),
            "stops.toml" => self.stops = file.entries(Some(STOP_KEYS), problems),
            name => problems.push(file_problem(name, NO_PLACE)),
        }
    }

    fn take_of_folder(&mut self, folder: &str, file: &File, problems: &mut Vec<Problem>) {
        match folder {
            "causes" => {
                let family = family(file, problems);
                let causes = file.entries(None, problems).into_iter();
                self.causes.extend(causes.map(|e| (family, e)));
            }
            "findings" => match section(file.stem()) {
                Some(section) => {
                    let findings = file.entries(None, problems).into_iter();
                    self.findings.extend(findings.map(|e| (section, e)));
                }
                None => problems.push(file_problem(
                    file.name,
                    "findings stand in print, machine, history or numbers.toml",
                )),
            },
            "checks" => self.checks.extend(file.entries(Some(CHECK_KEYS), problems)),
            "fixes" => self.fixes.extend(file.entries(Some(FIX_KEYS), problems)),
            // A workshop may have none of the kinds that are known.
            "kinds" => self.kinds.extend(file.entries(None, problems)),
            _ => problems.push(file_problem(file.name, NO_PLACE)),
        }
    }
}

/// The family whose causes a file holds.
fn family(file: &File, problems: &mut Vec<Problem>) -> Family {
    let stem = file.stem();
    Family::from_id(stem).unwrap_or_else(|| {
        let near = hint(stem, Family::ALL.iter().map(|f| f.id()));
        let problem = format!("`{stem}` is no family{near}");
        problems.push(file_problem(file.name, &problem));
        Family::Normal
    })
}

/// The section whose findings a file holds.
fn section(stem: &str) -> Option<Section> {
    match stem {
        "print" => Some(Section::Print),
        "machine" => Some(Section::Machine),
        "history" => Some(Section::History),
        "numbers" => Some(Section::Number),
        _ => None,
    }
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
    /// Its name without folder and ending.
    fn stem(&self) -> &str {
        let last = self.name.rsplit('/').next().unwrap_or(self.name);
        last.trim_end_matches(".toml")
    }

    /// The file's tables as entries of one kind. `own_keys` are the keys beside those of
    /// [`raw::Work`], for kinds that share it.
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
