//! The open case file: JSON in, checked facts out.

use crate::evidence::{self, Confidence, Facts, Sighting, Tried};
use crate::knowledge::{Knowledge, Section, TryResult};
use crate::nearest::{hint, short};
use serde::Deserialize;
use std::collections::BTreeMap;

/// Name and version of the format.
pub const FORMAT: &str = "usual-suspect-case/1";

/// What is wrong with a case file, and where.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{path}: {message}")]
pub struct FileError {
    /// Path in the case: `findings[2].state`.
    pub path: String,
    /// What was found, what is allowed, the nearest known identifier.
    pub message: String,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Case {
    format: String,
    #[serde(default)]
    title: String,
    #[serde(default)]
    machine: BTreeMap<String, String>,
    material: Option<String>,
    #[serde(default)]
    settings: BTreeMap<String, f64>,
    #[serde(default)]
    findings: Vec<Finding>,
    #[serde(default)]
    tried: Vec<TriedFix>,
    #[serde(default)]
    cleared: Vec<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Finding {
    id: String,
    state: String,
    confidence: Option<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct TriedFix {
    fix: Option<String>,
    aimed_at: Option<String>,
    result: String,
}

/// Longest message: a huge value or key that is quoted in it stays readable.
const LONGEST_MESSAGE: usize = 400;

fn at<T>(path: impl Into<String>, message: impl ToString) -> Result<T, FileError> {
    // One line on standard error: a message never holds a line break of the input.
    let line = |text: String, most: usize| -> String {
        let mut chars = text.chars();
        let kept = chars.by_ref().take(most);
        let mut line: String = kept.map(|c| if c.is_control() { ' ' } else { c }).collect();
        if chars.next().is_some() {
            line.push('…');
        }
        line
    };
    Err(FileError {
        path: line(path.into(), LONGEST_MESSAGE / 2),
        message: line(message.to_string(), LONGEST_MESSAGE),
    })
}

/// Reads a case file and checks everything in it.
///
/// # Errors
/// The first thing wrong, with its path, what is allowed and the nearest known identifier.
pub fn read(knowledge: &Knowledge, text: &str) -> Result<Facts, FileError> {
    let mut json = serde_json::Deserializer::from_str(text);
    let case: Case = serde_path_to_error::deserialize(&mut json).or_else(|e| {
        let path = e.path().to_string();
        let path = if path == "." || path == "?" {
            "case".to_string()
        } else {
            path
        };
        at(path, e.into_inner().to_string())
    })?;
    json.end().or_else(|e| at("case", e.to_string()))?;
    if case.format != FORMAT {
        return at(
            "format",
            format!(
                "`{}` is not a format known here: expected `{FORMAT}`",
                short(&case.format)
            ),
        );
    }
    if case.title.chars().count() > super::LONGEST_TITLE {
        return at(
            "title",
            format!(
                "{} characters are too many: at most {}",
                case.title.chars().count(),
                super::LONGEST_TITLE
            ),
        );
    }
    facts_of(knowledge, &case)
}

/// What a case says, checked.
fn facts_of(knowledge: &Knowledge, case: &Case) -> Result<Facts, FileError> {
    let mut facts = Facts::default();
    surroundings(case, &mut facts)?;
    findings(knowledge, &case.findings, &mut facts)?;
    if case.tried.len() > super::MOST_TRIED {
        let many = case.tried.len();
        let most = super::MOST_TRIED;
        return at(
            "tried",
            format!("{many} tries are too many: at most {most}"),
        );
    }
    for (n, tried) in case.tried.iter().enumerate() {
        facts.tried.push(read_tried(knowledge, n, tried)?);
    }
    for (n, cause) in case.cleared.iter().enumerate() {
        let path = format!("cleared[{n}]");
        let Some(id) = knowledge.cause_id(cause) else {
            return unknown_cause(knowledge, &path, cause);
        };
        if let Some(before) = facts.cleared.iter().position(|(c, _)| *c == id) {
            let message = format!("`{cause}` stands already at cleared[{before}]");
            return at(path, message);
        }
        facts.cleared.push((id, Confidence::Sure));
    }
    Ok(facts)
}

/// Machine, material and numbers.
fn surroundings(case: &Case, facts: &mut Facts) -> Result<(), FileError> {
    for (field, value) in &case.machine {
        if field == "material" {
            return at(
                "machine.material",
                "the material stands beside the machine: `\"material\": \"pla\"`",
            );
        }
        facts
            .context
            .set(field, value)
            .or_else(|e| at(format!("machine.{field}"), e))?;
    }
    if let Some(material) = &case.material {
        facts
            .context
            .set("material", material)
            .or_else(|e| at("material", e))?;
    }
    for (number, value) in &case.settings {
        facts
            .settings
            .set(number, *value)
            .or_else(|e| at(format!("settings.{number}"), e))?;
    }
    Ok(())
}

fn findings(knowledge: &Knowledge, given: &[Finding], facts: &mut Facts) -> Result<(), FileError> {
    let mut seen: BTreeMap<&str, usize> = BTreeMap::new();
    for (n, finding) in given.iter().enumerate() {
        let path = format!("findings[{n}]");
        let Some(id) = knowledge.finding_id(&finding.id) else {
            let known = knowledge
                .findings
                .iter()
                .filter(|f| f.section != Section::Number)
                .map(|f| f.id.as_str());
            return at(
                format!("{path}.id"),
                format!(
                    "`{}` is no known finding{}",
                    short(&finding.id),
                    hint(&finding.id, known)
                ),
            );
        };
        if knowledge.finding(id).section == Section::Number {
            return at(
                format!("{path}.id"),
                format!(
                    "`{}` is drawn from the numbers in `settings` and cannot be given",
                    finding.id
                ),
            );
        }
        if let Some(before) = seen.insert(&finding.id, n) {
            return at(
                path,
                format!(
                    "`{}` stands already at findings[{before}]: one value per finding",
                    finding.id
                ),
            );
        }
        let confidence = confidence(&path, finding.confidence.as_deref())?;
        let answer = evidence::answer(knowledge, id, &finding.state)
            .or_else(|e| at(format!("{path}.state"), e))?;
        if let Some(answer) = answer {
            facts.findings.insert(id, Sighting { answer, confidence });
        }
    }
    Ok(())
}

/// How sure an answer is; sure where nothing is said.
fn confidence(path: &str, word: Option<&str>) -> Result<Confidence, FileError> {
    let Some(word) = word else {
        return Ok(Confidence::Sure);
    };
    if let Some(confidence) = Confidence::from_id(word) {
        return Ok(confidence);
    }
    let words = Confidence::ALL.map(Confidence::id);
    let message = format!(
        "`{}` is no confidence: allowed are {}{}",
        short(word),
        words.join(", "),
        hint(word, words)
    );
    at(format!("{path}.confidence"), message)
}

fn read_tried(knowledge: &Knowledge, n: usize, tried: &TriedFix) -> Result<Tried, FileError> {
    let path = format!("tried[{n}]");
    let Some(result) = TryResult::from_id(&tried.result) else {
        let allowed = TryResult::ALL.map(TryResult::id);
        let message = format!(
            "`{}` is no result: allowed are {}{}",
            short(&tried.result),
            allowed.join(", "),
            hint(&tried.result, allowed)
        );
        return at(format!("{path}.result"), message);
    };
    match (&tried.fix, &tried.aimed_at) {
        (Some(fix), None) => match knowledge.fix_id(fix) {
            Some(fix) => Ok(Tried::of(fix, result)),
            None => {
                let known = knowledge.fixes.iter().map(|f| f.id.as_str());
                at(
                    format!("{path}.fix"),
                    format!("`{}` is no known fix{}", short(fix), hint(fix, known)),
                )
            }
        },
        (None, Some(cause)) => match knowledge.cause_id(cause) {
            Some(id) => Ok(Tried {
                aimed_at: Some(id),
                ..Tried::of(knowledge.cause(id).fixes[0], result)
            }),
            None => unknown_cause(knowledge, &format!("{path}.aimed_at"), cause),
        },
        _ => at(path, "name either the `fix` or the cause it was `aimed_at`"),
    }
}

fn unknown_cause<T>(knowledge: &Knowledge, path: &str, cause: &str) -> Result<T, FileError> {
    let known = knowledge.causes.iter().map(|c| c.id.as_str());
    at(
        path,
        format!("`{}` is no known cause{}", short(cause), hint(cause, known)),
    )
}
