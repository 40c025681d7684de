//! Which questions are worth asking now: those whose answer would change the line-up, the most
//! telling per second first.

use super::field::Field;
use crate::case::CaseState;
use crate::evidence::Confidence;
use crate::knowledge::{CauseId, Finding, FindingId, Knowledge, Section};
use crate::planning::{Preview, preview_answers};
use crate::ranking::LineUp;

/// Questions asked at once, at most: more are not answered, they are skipped.
pub const AT_ONCE: usize = 3;
/// Questions looked at closely before it is given up to find enough that matter.
const TRIED: usize = 12;
/// Fewer bits are not worth a person's attention.
const LEAST_BITS: f64 = 0.02;
/// An answer rarer than this is not worth asking for.
const LEAST_ANSWER: f64 = 0.03;
/// A suspect must rise or fall by this much for the line-up to have changed.
const LEAST_CHANGE: f64 = 0.05;
/// A fact that shares its group with a known one counts half, so it tells about half.
const IN_GROUP: f64 = 0.5;

/// An answer with what it would do.
#[derive(Debug, Clone)]
pub struct Answer {
    /// State of the finding.
    pub state: usize,
    /// How likely it is.
    pub probability: f64,
    /// Who would lead then, and with what probability.
    pub leader: (CauseId, f64),
}

/// A question worth asking.
#[derive(Debug, Clone)]
pub struct Question {
    /// What is asked.
    pub finding: FindingId,
    /// Bits the answer is expected to tell.
    pub bits: f64,
    /// Seconds it takes to answer.
    pub seconds: f64,
    /// The two suspects it separates best, the one the likelier first.
    pub separates: (CauseId, CauseId),
    /// Its answers in the order of the states.
    pub answers: Vec<Answer>,
}

/// Seconds a person at the machine takes to look and answer.
///
/// A sign on the piece in hand takes a glance, a behaviour of the machine a closer look; every
/// further answer to read adds a second.
fn seconds(finding: &Finding) -> f64 {
    let look = match finding.section {
        Section::Print => 3.0,
        Section::History => 4.0,
        _ => 7.0,
    };
    look + finding.states.len().saturating_sub(2) as f64
}

/// At most [`AT_ONCE`] questions: not answered, not passed over, fitting machine and material.
pub fn questions(knowledge: &Knowledge, case: &CaseState, line_up: &LineUp) -> Vec<Question> {
    let field = Field::of(&line_up.posterior);
    let asked = |f: &Finding| {
        matches!(
            f.section,
            Section::Print | Section::Machine | Section::History
        ) && f.fits(&case.facts.context)
    };
    let open = |id: &FindingId| !case.facts.findings.contains_key(id) && !case.passed.contains(id);
    let mut candidates: Vec<(FindingId, f64, f64)> = (0..knowledge.findings.len() as u16)
        .map(FindingId)
        .filter(|id| open(id) && asked(knowledge.finding(*id)))
        .map(|id| {
            let halved = if line_up.evidence.shares_group(knowledge, id) {
                IN_GROUP
            } else {
                1.0
            };
            let bits = halved * field.information(knowledge, id, Confidence::Sure);
            (id, bits, seconds(knowledge.finding(id)))
        })
        .filter(|(_, bits, _)| *bits >= LEAST_BITS)
        .collect();
    candidates.sort_by(|a, b| (b.1 / b.2).total_cmp(&(a.1 / a.2)).then(a.0.cmp(&b.0)));
    let worth = |(finding, bits, seconds): (FindingId, f64, f64)| {
        let previews = preview_answers(knowledge, &case.facts, line_up, finding);
        changes(line_up, &previews).then(|| Question {
            finding,
            bits,
            seconds,
            separates: separates(knowledge, line_up, finding),
            answers: in_order(previews),
        })
    };
    candidates
        .into_iter()
        .take(TRIED)
        .filter_map(worth)
        .take(AT_ONCE)
        .collect()
}

/// Whether an answer that may well come would change who leads, or move the leader visibly.
fn changes(line_up: &LineUp, previews: &[Preview]) -> bool {
    let Some(now) = line_up.leader() else {
        return false;
    };
    let moves = |p: &Preview| {
        p.leader != now.cause || (p.leader_probability - now.probability).abs() >= LEAST_CHANGE
    };
    previews
        .iter()
        .any(|p| p.probability >= LEAST_ANSWER && moves(p))
}

fn in_order(mut previews: Vec<Preview>) -> Vec<Answer> {
    previews.sort_by_key(|p| p.state);
    let answer = |p: Preview| Answer {
        state: p.state,
        probability: p.probability,
        leader: (p.leader, p.leader_probability),
    };
    previews.into_iter().map(answer).collect()
}

/// The two suspects that matter most and answer most differently.
///
/// # Formula
/// the pair that maximises p_i · p_j · Σ_s |P(s|i) − P(s|j)|
fn separates(knowledge: &Knowledge, line_up: &LineUp, finding: FindingId) -> (CauseId, CauseId) {
    const LOOKED_AT: usize = 10;
    let first: Vec<_> = line_up.causes.iter().take(LOOKED_AT).collect();
    let apart = |a: CauseId, b: CauseId| {
        let (a, b) = (
            knowledge.table.states(a, finding),
            knowledge.table.states(b, finding),
        );
        a.iter().zip(b).map(|(x, y)| (x - y).abs()).sum::<f64>()
    };
    let mut best = (-1.0, (CauseId(0), CauseId(0)));
    for (n, a) in first.iter().enumerate() {
        for b in &first[n + 1..] {
            let worth = a.probability * b.probability * apart(a.cause, b.cause);
            if worth > best.0 {
                best = (worth, (a.cause, b.cause));
            }
        }
    }
    best.1
}
