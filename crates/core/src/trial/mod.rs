//! Trial of the knowledge over vignettes: cases whose answer is known beforehand.
//!
//! A vignette is a case file with one member more, `expect`. The trial ranks the case and compares:
//! is the right suspect in front, how far behind is it otherwise, do the probabilities mean what
//! they say.

mod vignette;

pub use vignette::{Expect, Names, Vignette, read};

use crate::case::report::{CauseReport, EvidenceReport, Mode, Report, line_up};
use crate::knowledge::Knowledge;
use serde::Serialize;

/// Bins of the calibration table.
pub const BINS: usize = 10;

/// Ledger rows shown per suspect when a vignette fails.
const ROWS: usize = 6;

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
    let mut verdict = Verdict {
        vignette,
        report,
        wrong: Vec::new(),
        concerned: vec![report.line_up[0].cause.clone()],
    };
    verdict.leader(trial);
    verdict.top_three(trial);
    verdict.next(trial);
    verdict.not_leader(trial);
    verdict.spread(trial);
    trial.failures.extend(verdict.failure());
}

/// What is wrong with the answer to a vignette, while it is looked through.
struct Verdict<'a> {
    vignette: &'a Vignette,
    report: &'a Report,
    wrong: Vec<String>,
    /// Causes whose reasons explain it, the leader first.
    concerned: Vec<String>,
}

impl Verdict<'_> {
    /// "belt-loose leads with 40 %"
    fn came(&self) -> String {
        let leader = &self.report.line_up[0];
        let percent = leader.probability * 100.0;
        format!("{} leads with {percent:.0} %", leader.cause)
    }

    fn leader(&mut self, trial: &mut Trial) {
        let expect = &self.vignette.expect;
        let expected = match expect.leader.0.is_empty() {
            true => &expect.truth,
            false => &expect.leader,
        };
        if expected.0.is_empty() || expect.leader_at_most.is_some() {
            return;
        }
        let right = expected.has(&self.report.line_up[0].cause);
        trial.leader_right.count(right);
        if !right {
            let came = self.came();
            let wrong = format!("expected {} to lead, but {came}", expected.said());
            self.wrong.push(wrong);
            self.concerned.extend(expected.0.iter().cloned());
        }
    }

    fn top_three(&mut self, trial: &mut Trial) {
        let expected = &self.vignette.expect.top_three.0;
        let truth = self.vignette.truth();
        if truth.is_empty() && expected.is_empty() {
            return;
        }
        let first = self.report.line_up.iter().take(3);
        let first: Vec<&str> = first.map(|l| l.cause.as_str()).collect();
        let missing = expected.iter().filter(|id| !first.contains(&id.as_str()));
        let missing: Vec<String> = missing.cloned().collect();
        let among = truth.iter().any(|t| first.contains(&t.as_str()));
        let right = missing.is_empty() && (truth.is_empty() || among);
        trial.in_top_three.count(right);
        if !right {
            let named = match missing.is_empty() {
                true => truth.join(" or "),
                false => missing.join(" and "),
            };
            self.wrong.push(format!(
                "expected {named} among the first three, which are {}",
                first.join(", ")
            ));
            self.concerned.extend(missing);
        }
    }

    fn next(&mut self, trial: &mut Trial) {
        let expected = &self.vignette.expect.next;
        if expected.0.is_empty() {
            return;
        }
        let first = self.report.next.first();
        let first = first.map_or("nothing", |s| s.id.as_str());
        trial.next_right.count(expected.has(first));
        if !expected.has(first) {
            self.wrong.push(format!(
                "expected the next step to be {}, but {first} is advised",
                expected.said()
            ));
        }
    }

    fn not_leader(&mut self, trial: &mut Trial) {
        let barred = &self.vignette.expect.not_leader;
        if barred.0.is_empty() {
            return;
        }
        let leader = &self.report.line_up[0].cause;
        let held = !barred.has(leader);
        trial.kept_back.count(held);
        if !held {
            let wrong = format!("{leader} must not lead, but {}", self.came());
            self.wrong.push(wrong);
            let second = self.report.line_up.get(1);
            self.concerned.extend(second.map(|l| l.cause.clone()));
        }
    }

    fn spread(&mut self, trial: &mut Trial) {
        let Some(most) = self.vignette.expect.leader_at_most else {
            return;
        };
        let spread = self.report.line_up[0].probability <= most;
        trial.spread.count(spread);
        if !spread {
            let most = most * 100.0;
            let wrong = format!("expected no leader above {most:.0} %, but {}", self.came());
            self.wrong.push(wrong);
        }
    }

    /// What is told of it, when anything is wrong; each cause is explained once.
    fn failure(self) -> Option<Failure> {
        if self.wrong.is_empty() {
            return None;
        }
        let mut shown: Vec<&str> = Vec::new();
        for id in &self.concerned {
            if !shown.contains(&id.as_str()) {
                shown.push(id);
            }
        }
        let explained = shown.iter().filter_map(|id| explain(self.report, id));
        Some(Failure {
            name: self.vignette.name.clone(),
            why: self.vignette.expect.why.clone(),
            explanation: explained.collect(),
            wrong: self.wrong,
        })
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
