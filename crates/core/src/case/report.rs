//! The line-up as it goes out: the open JSON format.

use crate::evidence::{Evidence, Facts, Source};
use crate::knowledge::{Knowledge, Work};
use crate::learning::learned::Counted;
use crate::planning::{Action, Plan, Present, Step, Workshop, plan};
use crate::ranking::{CauseLine, LineUp, PairLine, rank, rank_plain};
use crate::safety;
use serde::Serialize;

/// Name and version of the format.
pub const FORMAT: &str = "usual-suspect-lineup/1";

/// Which ranking is asked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Mode {
    /// Everything.
    Full,
    /// Single causes only, without groups and superseding, for outside checks.
    Plain,
}

/// The whole report.
#[derive(Debug, Serialize)]
pub struct Report {
    /// [`FORMAT`].
    pub format: &'static str,
    /// Which knowledge spoke.
    pub knowledge: KnowledgeStamp,
    /// Every cause, most probable first.
    pub line_up: Vec<CauseReport>,
    /// Pairs above 0.1 %.
    pub pairs: Vec<PairReport>,
    /// All pairs together.
    pub pairs_total: f64,
    /// Someone we have not met.
    pub unlisted: f64,
    /// Its prior.
    pub unlisted_prior: f64,
    /// Does the evidence fit together?
    pub surprise: SurpriseReport,
    /// Best step first.
    pub next: Vec<StepReport>,
    /// Expected counted minutes to the end.
    pub expected_minutes: f64,
    /// What to mind.
    pub cautions: Vec<CautionReport>,
    /// A stop holds.
    pub stop: bool,
    /// Which.
    pub stops: Vec<String>,
}

/// Version and hash of the knowledge.
#[derive(Debug, Serialize)]
pub struct KnowledgeStamp {
    /// Version.
    pub version: String,
    /// SHA-256, hexadecimal.
    pub sha256: String,
}

/// One cause.
#[derive(Debug, Serialize)]
#[allow(missing_docs, reason = "fields are those of docs/lineup.schema.json")]
pub struct CauseReport {
    pub cause: String,
    pub probability: f64,
    pub prior: f64,
    pub alone: f64,
    pub prior_alone: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub learned: Option<LearnedReport>,
    pub evidence: Vec<EvidenceReport>,
}

/// What outcomes moved a prior by, and by which counts.
#[derive(Debug, Serialize)]
#[allow(missing_docs, reason = "fields are those of docs/lineup.schema.json")]
pub struct LearnedReport {
    pub decibans: f64,
    pub factor: f64,
    pub machine: CountReport,
    pub kind: CountReport,
    pub shop: CountReport,
}

/// Counted and expected.
#[derive(Debug, Serialize)]
#[allow(missing_docs, reason = "fields are those of docs/lineup.schema.json")]
pub struct CountReport {
    pub n: f64,
    pub expected: f64,
}

/// One pair.
#[derive(Debug, Serialize)]
#[allow(missing_docs, reason = "fields are those of docs/lineup.schema.json")]
pub struct PairReport {
    pub causes: [String; 2],
    pub probability: f64,
    pub prior: f64,
    pub evidence: Vec<EvidenceReport>,
}

/// One row of a ledger.
#[derive(Debug, Serialize)]
#[serde(untagged)]
#[allow(missing_docs, reason = "fields are those of docs/lineup.schema.json")]
pub enum EvidenceReport {
    Finding {
        finding: String,
        state: String,
        decibans: f64,
    },
    Tried {
        tried: usize,
        result: &'static str,
        decibans: f64,
    },
    Cleared {
        cleared: String,
        decibans: f64,
    },
    Own {
        own: usize,
        decibans: f64,
    },
    Trials {
        trials: usize,
        decibans: f64,
    },
}

/// Surprise.
#[derive(Debug, Serialize)]
#[allow(missing_docs, reason = "fields are those of docs/lineup.schema.json")]
pub struct SurpriseReport {
    pub decibans: f64,
    pub disagree: Vec<String>,
    pub unexplained: Vec<String>,
}

/// One step.
#[derive(Debug, Serialize)]
#[allow(missing_docs, reason = "fields are those of docs/lineup.schema.json")]
pub struct StepReport {
    pub kind: &'static str,
    pub id: String,
    pub minutes: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub saves_minutes: Option<f64>,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cures: Option<f64>,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub outcomes: Option<Vec<OutcomeReport>>,
}

/// What an outcome would do.
#[derive(Debug, Serialize)]
#[allow(missing_docs, reason = "fields are those of docs/lineup.schema.json")]
pub struct OutcomeReport {
    pub state: String,
    pub probability: f64,
    pub leader: String,
    pub leader_probability: f64,
}

/// One caution.
#[derive(Debug, Serialize)]
#[allow(missing_docs, reason = "fields are those of docs/lineup.schema.json")]
pub struct CautionReport {
    pub id: String,
    pub level: String,
    pub text: String,
}

/// Ranks and plans a case with the workshop's default settings.
pub fn line_up(knowledge: &Knowledge, facts: &Facts, mode: Mode) -> Report {
    let ranked = match mode {
        Mode::Full => rank(knowledge, facts),
        Mode::Plain => rank_plain(knowledge, facts),
    };
    let stops = safety::stops(knowledge, facts);
    let plan = plan(
        knowledge,
        facts,
        &ranked,
        &Workshop::default(),
        Present::default(),
        &stops,
    );
    report(knowledge, facts, &ranked, &plan)
}

/// Cautions to read before a step.
fn cautions(knowledge: &Knowledge, facts: &Facts, work: &Work) -> Vec<CautionReport> {
    let caution = |c: usize| {
        let caution = &knowledge.cautions[c];
        CautionReport {
            id: caution.id.clone(),
            level: caution.level.to_string(),
            text: caution.text.clone(),
        }
    };
    let all = safety::cautions(knowledge, facts, work).into_iter();
    all.map(caution).collect()
}

fn report(knowledge: &Knowledge, facts: &Facts, ranked: &LineUp, plan: &Plan) -> Report {
    let name = |c: crate::knowledge::CauseId| knowledge.cause(c).id.clone();
    let names = |ids: &[crate::knowledge::FindingId]| {
        ids.iter()
            .map(|f| knowledge.finding(*f).id.clone())
            .collect()
    };
    let cause = |l: &CauseLine| CauseReport {
        cause: name(l.cause),
        probability: l.probability,
        prior: l.prior,
        alone: l.alone,
        prior_alone: l.prior_alone,
        learned: learned(facts, l),
        evidence: evidence(knowledge, &ranked.evidence, &l.ledger),
    };
    let pair = |p: &PairLine| PairReport {
        causes: p.causes.map(name),
        probability: p.probability,
        prior: p.prior,
        evidence: evidence(knowledge, &ranked.evidence, &p.ledger),
    };
    let first = plan.steps.first().and_then(|s| match s.action {
        Action::Check(c) => Some(&knowledge.check(c).work),
        Action::Fix(x) => Some(&knowledge.fix(x).work),
        Action::ClearStop(s) => Some(&knowledge.stops[s].work),
        Action::GiveUp => None,
    });
    Report {
        format: FORMAT,
        knowledge: KnowledgeStamp {
            version: knowledge.version.clone(),
            sha256: knowledge.sha256.clone(),
        },
        line_up: ranked.causes.iter().map(cause).collect(),
        pairs: ranked.pairs.iter().map(pair).collect(),
        pairs_total: ranked.pairs_total,
        unlisted: ranked.unlisted,
        unlisted_prior: ranked.unlisted_prior,
        surprise: SurpriseReport {
            decibans: ranked.surprise.decibans,
            disagree: names(&ranked.surprise.disagree),
            unexplained: names(&ranked.surprise.unexplained),
        },
        next: plan.steps.iter().map(|s| step(knowledge, s)).collect(),
        expected_minutes: plan.expected_minutes,
        cautions: first.map_or_else(Vec::new, |work| cautions(knowledge, facts, work)),
        stop: !plan.stops.is_empty(),
        stops: plan
            .stops
            .iter()
            .map(|s| knowledge.stops[*s].id.clone())
            .collect(),
    }
}

fn learned(facts: &Facts, line: &CauseLine) -> Option<LearnedReport> {
    let own = facts.learned.as_ref()?.cause(line.cause);
    let count = |c: Counted| CountReport {
        n: c.n,
        expected: c.expected,
    };
    Some(LearnedReport {
        decibans: line.learned?,
        factor: own.factor,
        machine: count(own.machine),
        kind: count(own.kind),
        shop: count(own.shop),
    })
}

fn evidence(knowledge: &Knowledge, evidence: &Evidence, ledger: &[f64]) -> Vec<EvidenceReport> {
    let rows = evidence.items.iter().zip(ledger);
    rows.map(|(item, &decibans)| match item.source {
        Source::Finding(f, sighting) => EvidenceReport::Finding {
            finding: knowledge.finding(f).id.clone(),
            state: sighting.answer.id(knowledge, f).to_string(),
            decibans,
        },
        Source::Tried(n, tried) => EvidenceReport::Tried {
            tried: n,
            result: tried.result.id(),
            decibans,
        },
        Source::Cleared(cause, _) => EvidenceReport::Cleared {
            cleared: knowledge.cause(cause).id.clone(),
            decibans,
        },
        Source::Own(n, ..) => EvidenceReport::Own { own: n, decibans },
        Source::Trials(n) => EvidenceReport::Trials {
            trials: n,
            decibans,
        },
    })
    .collect()
}

fn step(knowledge: &Knowledge, step: &Step) -> StepReport {
    let (kind, id) = match step.action {
        Action::Check(c) => ("check", knowledge.check_name(c).to_string()),
        Action::Fix(x) => ("fix", knowledge.fix(x).id.clone()),
        Action::ClearStop(s) => ("clear", knowledge.stops[s].id.clone()),
        Action::GiveUp => ("give-up", "ask-the-maker".to_string()),
    };
    let check = match step.action {
        Action::Check(c) => Some(c),
        _ => None,
    };
    StepReport {
        kind,
        id,
        minutes: step.minutes,
        saves_minutes: check.map(|_| step.saves),
        cures: matches!(step.action, Action::Fix(_)).then_some(step.cures),
        outcomes: check.map(|c| {
            let finding = knowledge.finding(knowledge.check(c).finding);
            step.outcomes
                .iter()
                .map(|o| OutcomeReport {
                    state: finding.states[o.state].id.clone(),
                    probability: o.probability,
                    leader: knowledge.cause(o.leader).id.clone(),
                    leader_probability: o.leader_probability,
                })
                .collect()
        }),
    }
}
