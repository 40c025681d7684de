//! Trial of the knowledge over vignettes: cases whose answer is known beforehand.
//!
//! A vignette is a case file with one member more, `expect`. The trial ranks the case and compares: is the right suspect in
//! front, how far behind is it otherwise, do the probabilities mean what they say.

use crate::case::file::{self, FileError};
use crate::case::report::{CauseReport, EvidenceReport, Mode, Report, line_up};
use crate::evidence::Facts;
use crate::knowledge::Knowledge;
use crate::nearest::{hint, short};
use serde::{Deserialize, Serialize};

/// Bins of the calibration table.
pub const BINS: usize = 10;
/// Ledger rows shown per suspect when a vignette fails.
const ROWS: usize = 6;

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
    fn has(&self, id: &str) -> bool {
        self.0.iter().any(|n| n == id)
    }

    fn said(&self) -> String {
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
    for id in &expect.next.0 {
        let steps = || {
            let checks = knowledge
                .checks
                .iter()
                .map(|c| knowledge.finding(c.finding).id.as_str());
            let fixes = knowledge.fixes.iter().map(|x| x.id.as_str());
            checks
                .chain(fixes)
                .chain(knowledge.stops.iter().map(|s| s.id.as_str()))
                .chain(["ask-the-maker"])
        };
        if !steps().any(|known| known == id) {
            return Err(refuse(
                "expect.next",
                format!("`{}` is no known step{}", short(id), hint(id, steps())),
            ));
        }
    }
    Ok(Vignette {
        name: name.to_string(),
        facts,
        expect,
    })
}

impl Vignette {
    /// Causes that act, as far as the vignette says.
    fn truth(&self) -> &[String] {
        match (
            self.expect.truth.0.as_slice(),
            self.expect.leader.0.as_slice(),
        ) {
            ([], [one]) => std::slice::from_ref(one),
            (truth, _) => truth,
        }
    }
}

/// A vignette that did not go as expected.
#[derive(Debug, Serialize)]
pub struct Failure {
    /// The vignette.
    pub name: String,
    /// The rule it stands for.
    pub why: String,
    /// What was expected and what came, one line each.
    pub wrong: Vec<String>,
    /// The ledgers of those concerned.
    pub explanation: Vec<String>,
}

/// How often something went as expected.
#[derive(Debug, Default, Clone, Copy, PartialEq, Eq, Serialize)]
pub struct Share {
    /// Vignettes that went as expected.
    pub right: usize,
    /// Vignettes that asked for it.
    pub of: usize,
}

impl Share {
    fn count(&mut self, right: bool) {
        self.right += usize::from(right);
        self.of += 1;
    }

    /// Share between 0 and 1; 1 when nothing was asked.
    pub fn rate(self) -> f64 {
        if self.of == 0 {
            1.0
        } else {
            self.right as f64 / self.of as f64
        }
    }
}

/// One bin of the calibration table.
#[derive(Debug, Default, Clone, Copy, PartialEq, Serialize)]
pub struct Bin {
    /// Statements "this cause acts with probability p" whose p falls into the bin.
    pub statements: usize,
    /// Mean of p.
    pub said: f64,
    /// Share of them that were true.
    pub came_true: f64,
}

/// The figures over all vignettes.
#[derive(Debug, Default, Serialize)]
pub struct Trial {
    /// Vignettes run.
    pub vignettes: usize,
    /// The leader is the truth, or the expected one.
    pub leader_right: Share,
    /// The truth stands among the first three.
    pub in_top_three: Share,
    /// The first step advised is an expected one.
    pub next_right: Share,
    /// Suspects that must not lead do not.
    pub kept_back: Share,
    /// Early cases whose leader is no more certain than allowed.
    pub spread: Share,
    /// Mean rank of the truth, 1 for the leader.
    pub mean_rank: f64,
    /// Mean probability of the truth.
    pub mean_probability: f64,
    /// Mean over vignettes of Σ over causes (p − truth)²: 0 perfect, 1 for certainty of nothing.
    pub brier: f64,
    /// Calibration in ten bins of p.
    pub calibration: [Bin; BINS],
    /// What went wrong.
    pub failures: Vec<Failure>,
}

/// Ranks every vignette and compares.
pub fn run(knowledge: &Knowledge, vignettes: &[Vignette]) -> Trial {
    let mut trial = Trial {
        vignettes: vignettes.len(),
        ..Trial::default()
    };
    let (mut ranks, mut truths, mut known) = (0usize, 0usize, 0usize);
    for vignette in vignettes {
        let report = line_up(knowledge, &vignette.facts, Mode::Full);
        judge(vignette, &report, &mut trial);
        let truth = vignette.truth();
        if truth.is_empty() {
            continue;
        }
        known += 1;
        for (place, line) in report.line_up.iter().enumerate() {
            let acts = truth.contains(&line.cause);
            if acts {
                ranks += place + 1;
                truths += 1;
                trial.mean_probability += line.probability;
            }
            trial.brier += (line.probability - f64::from(u8::from(acts))).powi(2);
            let bin =
                &mut trial.calibration[((line.probability * BINS as f64) as usize).min(BINS - 1)];
            bin.statements += 1;
            bin.said += line.probability;
            bin.came_true += f64::from(u8::from(acts));
        }
    }
    if truths > 0 {
        trial.mean_rank = ranks as f64 / truths as f64;
        trial.mean_probability /= truths as f64;
        trial.brier /= known as f64;
    }
    for bin in trial.calibration.iter_mut().filter(|b| b.statements > 0) {
        bin.said /= bin.statements as f64;
        bin.came_true /= bin.statements as f64;
    }
    trial
}

fn judge(vignette: &Vignette, report: &Report, trial: &mut Trial) {
    let expect = &vignette.expect;
    let leader = &report.line_up[0];
    let mut wrong = Vec::new();
    let mut concerned = vec![leader.cause.as_str()];
    let came = format!(
        "{} leads with {:.0} %",
        leader.cause,
        leader.probability * 100.0
    );

    let expected = if expect.leader.0.is_empty() {
        &expect.truth
    } else {
        &expect.leader
    };
    if !expected.0.is_empty() && expect.leader_at_most.is_none() {
        let right = expected.has(&leader.cause);
        trial.leader_right.count(right);
        if !right {
            wrong.push(format!("expected {} to lead, but {came}", expected.said()));
            concerned.extend(expected.0.iter().map(String::as_str));
        }
    }
    let first_three = || report.line_up.iter().take(3).map(|l| l.cause.as_str());
    let truth = vignette.truth();
    if !truth.is_empty() || !expect.top_three.0.is_empty() {
        let missing: Vec<&str> = expect
            .top_three
            .0
            .iter()
            .map(String::as_str)
            .filter(|id| !first_three().any(|c| c == *id))
            .collect();
        let right = missing.is_empty()
            && (truth.is_empty() || first_three().any(|c| truth.iter().any(|t| t == c)));
        trial.in_top_three.count(right);
        if !right {
            let named = if missing.is_empty() {
                truth.join(" or ")
            } else {
                missing.join(" and ")
            };
            wrong.push(format!(
                "expected {named} among the first three, which are {}",
                first_three().collect::<Vec<_>>().join(", ")
            ));
            concerned.extend(missing);
        }
    }
    if !expect.next.0.is_empty() {
        let first = report.next.first().map_or("nothing", |s| s.id.as_str());
        trial.next_right.count(expect.next.has(first));
        if !expect.next.has(first) {
            wrong.push(format!(
                "expected the next step to be {}, but {first} is advised",
                expect.next.said()
            ));
        }
    }
    if !expect.not_leader.0.is_empty() {
        let held = !expect.not_leader.has(&leader.cause);
        trial.kept_back.count(held);
        if !held {
            wrong.push(format!("{} must not lead, but {came}", leader.cause));
            concerned.extend(report.line_up.get(1).map(|l| l.cause.as_str()));
        }
    }
    if let Some(most) = expect.leader_at_most {
        trial.spread.count(leader.probability <= most);
        if leader.probability > most {
            wrong.push(format!(
                "expected no leader above {:.0} %, but {came}",
                most * 100.0
            ));
        }
    }
    if !wrong.is_empty() {
        let mut shown: Vec<&str> = Vec::new();
        for id in concerned {
            if !shown.contains(&id) {
                shown.push(id);
            }
        }
        let explanation = shown.iter().filter_map(|id| explain(report, id)).collect();
        trial.failures.push(Failure {
            name: vignette.name.clone(),
            why: expect.why.clone(),
            wrong,
            explanation,
        });
    }
}

/// Place, probability and the weightiest rows of a suspect's ledger.
fn explain(report: &Report, id: &str) -> Option<String> {
    let place = report.line_up.iter().position(|l| l.cause == id)?;
    let CauseReport {
        cause,
        probability,
        prior,
        evidence,
        ..
    } = &report.line_up[place];
    let mut rows: Vec<&EvidenceReport> = evidence.iter().collect();
    let weight = |row: &EvidenceReport| match row {
        EvidenceReport::Finding { decibans, .. }
        | EvidenceReport::Tried { decibans, .. }
        | EvidenceReport::Cleared { decibans, .. } => *decibans,
    };
    rows.sort_by(|a, b| weight(b).abs().total_cmp(&weight(a).abs()));
    let rows: Vec<String> = rows
        .into_iter()
        .take(ROWS)
        .map(|row| match row {
            EvidenceReport::Finding {
                finding,
                state,
                decibans,
            } => format!("{finding}={state} {decibans:+.1}"),
            EvidenceReport::Tried {
                tried,
                result,
                decibans,
            } => format!("tried[{tried}]={result} {decibans:+.1}"),
            EvidenceReport::Cleared { cleared, decibans } => {
                format!("cleared {cleared} {decibans:+.1}")
            }
        })
        .collect();
    Some(format!(
        "{}. {cause} {:.1} % (before {:.1} %): {}",
        place + 1,
        probability * 100.0,
        prior * 100.0,
        rows.join(", ")
    ))
}
