//! Which facts a helper would ask for first, and how far each is expected to narrow the field.

use super::field::{Field, entropy};
use crate::case::CaseState;
use crate::evidence::{Confidence, Evidence};
use crate::knowledge::{CauseId, FindingId, Knowledge, Section, TryResult};
use crate::profile::{FIELDS, FieldId, MATERIAL};
use crate::ranking::{Hypothesis, LineUp, Posterior, posterior, tried_of};
use crate::settings::NumberId;

/// A fact that is missing.
#[derive(Debug, Clone, PartialEq)]
pub enum Lack {
    /// Fields of the machine's profile, by place in [`FIELDS`].
    Profile(Vec<usize>),
    /// The material family.
    Material,
    /// Numbers by identifier, of which the first is the most wanted.
    Numbers(Vec<NumberId>),
    /// A question of pattern.
    Question(FindingId),
    /// A picture of the fault.
    Picture,
    /// What was tried before.
    Tried,
}

/// A missing fact with what it is worth.
#[derive(Debug, Clone, PartialEq)]
pub struct Missing {
    /// What is missing.
    pub lack: Lack,
    /// Bits it is expected to tell.
    pub bits: f64,
    /// How many would then still be in question, where [`Completeness::in_question`] are now.
    pub narrows_to: f64,
}

/// What is missing of a case, the most telling first.
#[derive(Debug, Clone, PartialEq)]
pub struct Completeness {
    /// How many are in question now: as many equally likely suspects would be as hard to tell
    /// apart.
    pub in_question: f64,
    /// Missing facts.
    pub missing: Vec<Missing>,
}

/// Questions every helper asks.
const ALWAYS_ASKED: [&str; 3] = ["onset", "last-change", "spool-age"];
/// Numbers every helper asks for, with the finding drawn from them.
const NUMBERS_ASKED: [(&[NumberId], &str); 2] = [
    (&[NumberId::NozzleC], "nozzle-vs-window"),
    (&[NumberId::BedC], "bed-vs-window"),
];

/// What is missing.
pub fn completeness(knowledge: &Knowledge, case: &CaseState, line_up: &LineUp) -> Completeness {
    let field = Field::of(&line_up.posterior);
    let mut lacks = of_the_context(knowledge, case, &line_up.evidence);
    lacks.extend(answers_lacking(knowledge, case, &field));
    if case.pictures.is_empty() {
        lacks.push((Lack::Picture, picture_tells(knowledge, case, &field)));
    }
    if case.facts.tried.is_empty() {
        lacks.push((Lack::Tried, try_tells(knowledge, &field)));
    }
    lacks.sort_by(|a, b| b.1.total_cmp(&a.1));
    let now = entropy(&field.mass);
    let missing = lacks.into_iter().map(|(lack, bits)| Missing {
        lack,
        bits,
        narrows_to: (now - bits).exp2().max(1.0),
    });
    Completeness {
        missing: missing.collect(),
        in_question: field.in_question(),
    }
}

/// What is not known of machine and material, with the bits it would tell.
fn of_the_context(
    knowledge: &Knowledge,
    case: &CaseState,
    evidence: &Evidence,
) -> Vec<(Lack, f64)> {
    let context = &case.facts.context;
    let tells = |field: usize| context_tells(knowledge, evidence, field);
    let unknown = (0..MATERIAL).filter(|f| context.id(FieldId::ALL[*f]).is_none());
    let unknown: Vec<usize> = unknown.collect();
    let mut lacks = Vec::new();
    if !unknown.is_empty() {
        // One look at the machine answers them all; the most telling one is what it is worth at
        // least.
        let bits = unknown.iter().map(|f| tells(*f)).fold(0.0, f64::max);
        lacks.push((Lack::Profile(unknown), bits));
    }
    if context.id(FieldId::Material).is_none() {
        lacks.push((Lack::Material, tells(MATERIAL)));
    }
    lacks
}

/// Numbers and answers that are always asked for and not known, with the bits they would tell.
fn answers_lacking(knowledge: &Knowledge, case: &CaseState, field: &Field) -> Vec<(Lack, f64)> {
    let facts = &case.facts;
    let tells = |f| field.information(knowledge, f, Confidence::Sure);
    let mut lacks = Vec::new();
    for (numbers, finding) in NUMBERS_ASKED {
        let wanted = numbers.iter().copied();
        let wanted: Vec<NumberId> = wanted
            .filter(|n| facts.settings.get(*n).is_none())
            .collect();
        if let (false, Some(f)) = (wanted.is_empty(), knowledge.finding_id(finding)) {
            lacks.push((Lack::Numbers(wanted), tells(f)));
        }
    }
    for f in ALWAYS_ASKED
        .iter()
        .filter_map(|id| knowledge.finding_id(id))
    {
        if !facts.findings.contains_key(&f) && !case.passed.contains(&f) {
            lacks.push((Lack::Question(f), tells(f)));
        }
    }
    lacks
}

/// Bits that knowing a field of the context tells, each of its values thought equally likely
/// beforehand.
///
/// # Formula
/// H(Σ_v P(v)·p_v) − Σ_v P(v)·H(p_v), p_v the posterior of single causes in that context
fn context_tells(knowledge: &Knowledge, evidence: &Evidence, field: usize) -> f64 {
    let values = FIELDS[field].values;
    let given = |value: &str| {
        let mut evidence = evidence.clone();
        // The value comes from the table itself, so it cannot be refused.
        let _ = evidence.context.set(FIELDS[field].id, value);
        by_cause(knowledge, &posterior(knowledge, &evidence, false))
    };
    let after: Vec<Vec<f64>> = values.iter().map(|v| given(v.id)).collect();
    let share = 1.0 / after.len() as f64;
    let mean: Vec<f64> = (0..after[0].len())
        .map(|c| after.iter().map(|p| p[c] * share).sum())
        .collect();
    (entropy(&mean) - after.iter().map(|p| entropy(p) * share).sum::<f64>()).max(0.0)
}

/// Mass by cause with `unlisted` last, so that posteriors of different contexts compare.
fn by_cause(knowledge: &Knowledge, posterior: &Posterior) -> Vec<f64> {
    let mut out = vec![0.0; knowledge.causes.len() + 1];
    for (h, p) in posterior.hypotheses.iter().zip(&posterior.probability) {
        match h {
            Hypothesis::One(CauseId(c)) => out[*c as usize] += p,
            _ => out[knowledge.causes.len()] += p,
        }
    }
    out
}

/// A picture lets others see what the person at the machine did not name: worth the most telling
/// open sign, seen as "likely".
fn picture_tells(knowledge: &Knowledge, case: &CaseState, field: &Field) -> f64 {
    let signs = knowledge
        .findings
        .iter()
        .enumerate()
        .filter(|(_, f)| f.section == Section::Print);
    let open = signs
        .map(|(at, _)| FindingId(at as u16))
        .filter(|f| !case.facts.findings.contains_key(f));
    open.map(|f| field.information(knowledge, f, Confidence::Likely))
        .fold(0.0, f64::max)
}

/// To hear what came of the fix people try first, that is, of the one most likely to cure.
fn try_tells(knowledge: &Knowledge, field: &Field) -> f64 {
    let chance = |fix, h: &Hypothesis| match *h {
        Hypothesis::Unlisted => 0.0,
        Hypothesis::One(c) => knowledge.cure(fix, c),
        Hypothesis::Two(a, b) => knowledge.cure(fix, a) * knowledge.cure(fix, b),
    };
    let likely = |fix| {
        field
            .hypotheses
            .iter()
            .zip(&field.mass)
            .map(|(h, m)| chance(fix, h) * m)
            .sum::<f64>()
    };
    let fixes = (0..knowledge.fixes.len() as u16).map(crate::knowledge::FixId);
    let Some(fix) = fixes.max_by(|a, b| likely(*a).total_cmp(&likely(*b)).then(b.cmp(a))) else {
        return 0.0;
    };
    let rows: Vec<_> = field
        .hypotheses
        .iter()
        .map(|h| tried_of(knowledge, &field.seen, *h, fix, |c| knowledge.cure(fix, c)))
        .collect();
    let columns: Vec<Vec<f64>> = (0..TryResult::ALL.len())
        .map(|r| rows.iter().map(|row| row[r]).collect())
        .collect();
    field.tells(&columns)
}
