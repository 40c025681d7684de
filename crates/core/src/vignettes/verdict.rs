//! What is right and wrong with the answer to one vignette.

use super::{Examination, Failure, Vignette};
use crate::case::report::{CauseReport, EvidenceReport, Report};

/// Ledger rows shown per suspect when a vignette fails.
const ROWS: usize = 6;

pub(super) fn judge(vignette: &Vignette, report: &Report, examination: &mut Examination) {
    let mut verdict = Verdict {
        vignette,
        report,
        wrong: Vec::new(),
        concerned: vec![report.line_up[0].cause.clone()],
    };
    verdict.leader(examination);
    verdict.top_three(examination);
    verdict.next(examination);
    verdict.early(examination);
    verdict.not_leader(examination);
    verdict.spread(examination);
    examination.failures.extend(verdict.failure());
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

    fn leader(&mut self, examination: &mut Examination) {
        let expect = &self.vignette.expect;
        let expected = match expect.leader.0.is_empty() {
            true => &expect.truth,
            false => &expect.leader,
        };
        if expected.0.is_empty() || expect.leader_at_most.is_some() {
            return;
        }
        let right = expected.has(&self.report.line_up[0].cause);
        examination.leader_right.count(right);
        if !right {
            let came = self.came();
            let wrong = format!("expected {} to lead, but {came}", expected.said());
            self.wrong.push(wrong);
            self.concerned.extend(expected.0.iter().cloned());
        }
    }

    fn top_three(&mut self, examination: &mut Examination) {
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
        examination.in_top_three.count(right);
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

    fn next(&mut self, examination: &mut Examination) {
        let expected = &self.vignette.expect.next;
        if expected.0.is_empty() {
            return;
        }
        let first = self.report.next.first();
        let first = first.map_or("nothing", |s| s.id.as_str());
        examination.next_right.count(expected.has(first));
        if !expected.has(first) {
            self.wrong.push(format!(
                "expected the next step to be {}, but {first} is advised",
                expected.said()
            ));
        }
    }

    fn early(&mut self, examination: &mut Examination) {
        let expected = &self.vignette.expect.early.0;
        if expected.is_empty() {
            return;
        }
        let first = self.report.next.iter().take(3);
        let first: Vec<&str> = first.map(|s| s.id.as_str()).collect();
        let late: Vec<&String> = expected
            .iter()
            .filter(|id| !first.contains(&id.as_str()))
            .collect();
        examination.early_right.count(late.is_empty());
        for id in late {
            let first = first.join(", ");
            let wrong = format!("expected {id} among the first three steps, which are {first}");
            self.wrong.push(wrong);
        }
    }

    fn not_leader(&mut self, examination: &mut Examination) {
        let barred = &self.vignette.expect.not_leader;
        if barred.0.is_empty() {
            return;
        }
        let leader = &self.report.line_up[0].cause;
        let held = !barred.has(leader);
        examination.kept_back.count(held);
        if !held {
            let wrong = format!("{leader} must not lead, but {}", self.came());
            self.wrong.push(wrong);
            let second = self.report.line_up.get(1);
            self.concerned.extend(second.map(|l| l.cause.clone()));
        }
    }

    fn spread(&mut self, examination: &mut Examination) {
        let Some(most) = self.vignette.expect.leader_at_most else {
            return;
        };
        let spread = self.report.line_up[0].probability <= most;
        examination.spread.count(spread);
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
        | EvidenceReport::Cleared { decibans, .. }
        | EvidenceReport::Own { decibans, .. }
        | EvidenceReport::Trials { decibans, .. } => *decibans,
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
            EvidenceReport::Own { own, decibans } => format!("own[{own}] {decibans:+.1}"),
            EvidenceReport::Trials { trials, decibans } => {
                format!("trials[{trials}] {decibans:+.1}")
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
