//! A vignette: a case with what is expected of the answer.

use crate::case::file::{self, FileError};
use crate::evidence::Facts;
use crate::knowledge::Knowledge;
use crate::nearest::{hint, short};
use serde::Deserialize;

/// What a vignette expects. Every part may be missing; lists may be a single name.
#[derive(Debug, Clone, Default, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Expect {
    /// The rule or experience the vignette stands for.
    pub why: String,
    /// Causes that act. Without it the single expected leader is taken to be the truth.
    pub truth: Names,
    /// One of these leads the line-up.
    pub leader: Names,
    /// All of these stand among the first three.
    pub top_three: Names,
    /// One of these is advised first: a check, a fix, a stop's identifier or `ask-the-maker`.
    pub next: Names,
    /// All of these are among the first three steps advised.
    pub early: Names,
    /// None of these leads.
    pub not_leader: Names,
    /// Early cases: the leader's probability is at most this.
    pub leader_at_most: Option<f64>,
}

/// One name or a list of names.
#[derive(Debug, Clone, Default, Deserialize)]
#[serde(from = "OneOrMany")]
pub struct Names(pub Vec<String>);

#[derive(Deserialize)]
#[serde(untagged)]
enum OneOrMany {
    One(String),
    Many(Vec<String>),
}

impl From<OneOrMany> for Names {
    fn from(names: OneOrMany) -> Self {
        match names {
            OneOrMany::One(name) => Names(vec![name]),
            OneOrMany::Many(names) => Names(names),
        }
    }
}

impl Names {
    pub(super) fn has(&self, id: &str) -> bool {
        self.0.iter().any(|n| n == id)
    }

    pub(super) fn said(&self) -> String {
        self.0.join(" or ")
    }
}

/// A case with its expected answer.
#[derive(Debug, Clone)]
pub struct Vignette {
    /// Name, as a rule the file's.
    pub name: String,
    /// The facts of the case.
    pub facts: Facts,
    /// What is expected.
    pub expect: Expect,
}

/// Reads a vignette.
///
/// # Errors
/// As for a case file; `expect` is checked against the knowledge as well.
pub fn read(knowledge: &Knowledge, name: &str, text: &str) -> Result<Vignette, FileError> {
    let refuse = |path: &str, message: String| FileError {
        path: path.into(),
        message: message.replace(['\n', '\r'], " "),
    };
    let mut case: serde_json::Map<String, serde_json::Value> =
        serde_json::from_str(text).map_err(|e| refuse("case", e.to_string()))?;
    let expect = case
        .remove("expect")
        .ok_or_else(|| refuse("expect", "a vignette says what it expects".into()))?;
    let expect: Expect = serde_path_to_error::deserialize(expect)
        .map_err(|e| refuse(&format!("expect.{}", e.path()), e.inner().to_string()))?;
    let facts = file::read(knowledge, &serde_json::Value::Object(case).to_string())?;
    let causes = [
        ("truth", &expect.truth),
        ("leader", &expect.leader),
        ("top_three", &expect.top_three),
        ("not_leader", &expect.not_leader),
    ];
    for (key, names) in causes {
        if let Some(id) = names.0.iter().find(|id| knowledge.cause_id(id).is_none()) {
            let known = knowledge.causes.iter().map(|c| c.id.as_str());
            return Err(refuse(
                &format!("expect.{key}"),
                format!("`{}` is no known cause{}", short(id), hint(id, known)),
            ));
        }
    }
    for (key, names) in [("next", &expect.next), ("early", &expect.early)] {
        for id in &names.0 {
            known_step(knowledge, id).map_err(|e| refuse(&format!("expect.{key}"), e))?;
        }
    }
    Ok(Vignette {
        name: name.to_string(),
        facts,
        expect,
    })
}

/// Whether a step has this name: a check, a fix, a stop, or asking the maker.
fn known_step(knowledge: &Knowledge, id: &str) -> Result<(), String> {
    let checks = knowledge.checks.iter();
    let checks = checks.map(|c| knowledge.finding(c.finding).id.as_str());
    let fixes = knowledge.fixes.iter().map(|x| x.id.as_str());
    let stops = knowledge.stops.iter().map(|s| s.id.as_str());
    let steps = || checks.clone().chain(fixes.clone()).chain(stops.clone());
    match id == "ask-the-maker" || steps().any(|known| known == id) {
        true => Ok(()),
        false => Err(format!(
            "`{}` is no known step{}",
            short(id),
            hint(id, steps().chain(["ask-the-maker"]))
        )),
    }
}

impl Vignette {
    /// Causes that act, as far as the vignette says.
    pub(super) fn truth(&self) -> &[String] {
        match (
            self.expect.truth.0.as_slice(),
            self.expect.leader.0.as_slice(),
        ) {
            ([], [one]) => std::slice::from_ref(one),
            (truth, _) => truth,
        }
    }
}
