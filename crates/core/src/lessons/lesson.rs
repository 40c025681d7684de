//! What one closed case teaches: reckoned once, when it is closed, and kept beside its log.

use super::sheet::UseLine;
use super::spent::Spent;
use super::worth;
use crate::case::{
    CaseState, Entry, Event, HeldAnswer, Outcome, Status, active, replay, told_first,
};
use crate::evidence::{Confidence, Evidence, Facts};
use crate::knowledge::{CauseId, FindingId, FixId, Knowledge, TryResult};
use crate::learning::calibration::gain;
use crate::learning::hold::Watched;
use crate::learning::rates::credit;
use crate::planning::checklist_minutes;
use crate::profile::FIELDS;
use crate::ranking::{Hypothesis, posterior};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// A use of a fix for a cause less likely than that teaches nothing.
const LEAST_WEIGHT: f64 = 0.02;
const DAY: f64 = 86_400.0;

/// Who led before anything was checked or done, and what it turned out to be.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FirstAdvice {
    /// The leader.
    pub leader: String,
    /// Its probability, by the book.
    pub sure: f64,
    /// That of the cause recorded, by the book.
    pub recorded: f64,
    /// Σ (p − truth)² over the causes.
    pub brier: f64,
    /// That of the cause recorded by what had been learned when the case was closed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub learned: Option<f64>,
}

/// A look that the program had asked for, and what it showed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct LookLine {
    /// The finding.
    pub finding: String,
    /// The state seen.
    pub state: String,
    /// How much of the case counts for it.
    pub weight: f64,
}

/// What a closed case teaches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Lesson {
    /// How it ended.
    pub outcome: Outcome,
    /// Its proof was complete.
    pub proven: bool,
    /// The cause recorded, where the knowledge knows it.
    pub cause: Option<String>,
    /// The fix recorded, where the knowledge knows it.
    pub fix: Option<String>,
    /// How much of the record counts for the cause.
    pub credit: f64,
    /// The machine's build and the material, by field.
    pub context: BTreeMap<String, String>,
    /// When it was closed.
    pub closed_at: OffsetDateTime,
    /// The last clean print, or the closing.
    pub clean_at: OffsetDateTime,
    /// Fixes used, each for the causes it may have been.
    pub uses: Vec<UseLine>,
    /// Looks that were asked for, under the cause recorded.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub looks: Vec<LookLine>,
    /// The line-up before the first check or fix.
    pub first: Option<FirstAdvice>,
    /// What it cost.
    pub spent: Spent,
    /// Not learned from, by somebody's word.
    pub left_out: bool,
}

impl Lesson {
    /// How much of a case it is, before it fades.
    pub fn counts(&self) -> f64 {
        match (self.left_out, &self.cause) {
            (false, Some(_)) => worth(self.outcome, self.proven) * self.credit,
            _ => 0.0,
        }
    }
}

impl Lesson {
    /// What learning gained for the cause recorded, where the case counts and it had been reckoned.
    pub fn gain(&self) -> Option<f64> {
        let first = self.first.as_ref().filter(|_| self.counts() > 0.0)?;
        Some(gain(first.learned?, first.recorded))
    }

    /// Keeps what had been learned when the case was closed, as an earlier writing of the same
    /// closing had it: later cases and this one itself are not to speak.
    pub fn as_advised(&mut self, before: &Lesson) {
        let same = (before.closed_at, &before.cause) == (self.closed_at, &self.cause);
        if let (true, Some(first), Some(then)) = (same, &mut self.first, &before.first) {
            first.learned = then.learned.or(first.learned);
        }
    }
}

/// What a case teaches as its log stands: nothing while it is open.
pub fn lesson(knowledge: &Knowledge, log: &[Entry], case: &CaseState) -> Option<Lesson> {
    let Status::Resolved(end) = &case.status else {
        return None;
    };
    if matches!(end.outcome, Outcome::OpenedByError | Outcome::Joined) {
        return None;
    }
    let cause = end.cause.as_deref().and_then(|id| knowledge.cause_id(id));
    let fix = end.fix.as_deref().and_then(|id| knowledge.fix_id(id));
    // Whether a trait was compared with the reference piece nobody is asked yet.
    let proven = end.outcome == Outcome::FixedAndVerified && case.proven();
    let book = at_closing(knowledge, &case.facts, fix);
    let of = |c: CauseId| book.get(c.at() + 1).copied().unwrap_or(0.0);
    let credited = cause.map_or(0.0, |cause| credited(&book, cause));
    let clean_at = case.clean_at().unwrap_or(end.at);
    let told = told_first(knowledge, log);
    let listed = cause.map(|cause| checklist_minutes(knowledge, &told, cause, fix));
    Some(Lesson {
        outcome: end.outcome,
        proven,
        cause: cause.map(|c| knowledge.cause(c).id.clone()),
        fix: fix.map(|x| knowledge.fix(x).id.clone()),
        credit: credited,
        context: context(&case.facts),
        closed_at: end.at,
        clean_at,
        uses: uses(knowledge, case, (cause, fix), (credited, proven), of),
        looks: cause.map_or_else(Vec::new, |c| {
            let of = asked(knowledge, log, case);
            looks(
                knowledge,
                (&case.facts, of),
                (c, fix),
                worth(end.outcome, proven),
            )
        }),
        first: cause.and_then(|cause| first(knowledge, &told, &case.facts, cause)),
        spent: Spent::of(case, listed),
        left_out: case.left_out.is_some(),
    })
}

/// The book's probabilities at closing, without the result of the fix that ended it: `unlisted`,
/// then causes in knowledge order.
fn at_closing(knowledge: &Knowledge, facts: &Facts, fix: Option<FixId>) -> Vec<f64> {
    let mut book = facts.clone();
    book.learned = None;
    if let Some(fix) = fix {
        book.tried
            .retain(|t| !t.tries(fix) || t.counts_as() != TryResult::Cured);
        book.findings.retain(|f, s| {
            let finding = knowledge.finding(*f);
            let state = s.answer.state().map(|at| finding.states[at].id.as_str());
            finding.also_fix != Some(fix) || state != Some("cured")
        });
    }
    alone(knowledge, &book)
}

/// Probability of `unlisted` and of each cause alone.
fn alone(knowledge: &Knowledge, facts: &Facts) -> Vec<f64> {
    let posterior = posterior(knowledge, &Evidence::of(knowledge, facts), false);
    let mut all = vec![0.0; knowledge.causes.len() + 1];
    for (h, p) in posterior.hypotheses.iter().zip(&posterior.probability) {
        match h {
            Hypothesis::Unlisted => all[0] = *p,
            Hypothesis::One(c) => all[c.at() + 1] = *p,
            Hypothesis::Two(..) => {}
        }
    }
    all
}

fn context(facts: &Facts) -> BTreeMap<String, String> {
    let known = FIELDS.iter().filter_map(|f| {
        let value = facts.context.named(f.id)?;
        Some((f.id.to_string(), value.to_string()))
    });
    known.collect()
}

/// Every use of a fix, for each cause it touches: how likely it was that cause, and what came of
/// it. A cause recorded has the credit of its record, the others share the rest.
fn uses(
    knowledge: &Knowledge,
    case: &CaseState,
    (cause, fix): (Option<CauseId>, Option<FixId>),
    (credit, proven): (f64, bool),
    of: impl Fn(CauseId) -> f64,
) -> Vec<UseLine> {
    let weight = |c: CauseId| match cause {
        Some(recorded) if recorded == c => credit,
        Some(recorded) => of(c) * (1.0 - credit) / (1.0 - of(recorded)).max(1e-9),
        None => of(c),
    };
    let mut uses = Vec::new();
    for tried in &case.facts.tried {
        let ended = fix.is_some_and(|fix| tried.tries(fix));
        // Which of several did it nobody knows: each counts its share.
        let share = 1.0 / tried.fixes().count() as f64;
        let success = match tried.counts_as() {
            TryResult::Cured if ended && proven => 1.0,
            TryResult::Cured | TryResult::Better => 0.5,
            TryResult::Same | TryResult::Worse => 0.0,
        };
        for (fix, c) in tried
            .fixes()
            .flat_map(|x| knowledge.cause_ids().map(move |c| (x, c)))
        {
            let weight = weight(c) * share;
            if knowledge.cure(fix, c) > 0.0 && weight >= LEAST_WEIGHT {
                uses.push(UseLine {
                    fix: knowledge.fix(fix).id.clone(),
                    cause: knowledge.cause(c).id.clone(),
                    weight,
                    success,
                });
            }
        }
    }
    uses
}

/// How much of the record counts for a cause, by probabilities of `unlisted` and all causes.
fn credited(book: &[f64], cause: CauseId) -> f64 {
    let own = cause.at() + 1;
    let others = book.iter().enumerate().filter(|(at, _)| *at != own);
    credit(
        book.get(own).copied().unwrap_or(0.0),
        others.map(|(_, p)| *p),
    )
}

/// Findings whose answer the program had asked for: by a check, by a question.
fn asked(knowledge: &Knowledge, log: &[Entry], case: &CaseState) -> Vec<FindingId> {
    let was_asked = |f: &FindingId| {
        let seq = case.source.get(f)?;
        let entry = log.get((*seq as usize).checked_sub(1)?)?;
        let asked = match &entry.event {
            Event::Observed { asked, .. } => *asked,
            Event::Checked { .. } | Event::Gauged { .. } => true,
            _ => false,
        };
        (asked && knowledge.finding(*f).also_fix.is_none()).then_some(*f)
    };
    case.facts.findings.keys().filter_map(was_asked).collect()
}

/// What each look that was asked for counts, judged without itself.
fn looks(
    knowledge: &Knowledge,
    (facts, asked): (&Facts, Vec<FindingId>),
    (cause, fix): (CauseId, Option<FixId>),
    worth: f64,
) -> Vec<LookLine> {
    let line = |f: FindingId| {
        let sighting = facts.findings.get(&f)?;
        let state = sighting.answer.state()?;
        let linked = knowledge.table.linked(cause, f);
        if worth <= 0.0 || !linked || sighting.confidence == Confidence::Hunch {
            return None;
        }
        let mut without = facts.clone();
        without.findings.remove(&f);
        let weight = worth * credited(&at_closing(knowledge, &without, fix), cause);
        (weight > 0.0).then(|| LookLine {
            finding: knowledge.finding(f).id.clone(),
            state: knowledge.finding(f).states[state].id.clone(),
            weight,
        })
    };
    asked.into_iter().filter_map(line).collect()
}

/// The line-up before the first check or fix, by the book, and by what had been learned.
fn first(
    knowledge: &Knowledge,
    facts: &Facts,
    known: &Facts,
    cause: CauseId,
) -> Option<FirstAdvice> {
    let p = alone(knowledge, facts);
    let causes = p.iter().enumerate().skip(1);
    let (at, sure) = causes
        .clone()
        .max_by(|a, b| a.1.total_cmp(b.1).then(b.0.cmp(&a.0)))?;
    let squares: f64 = causes.map(|(_, p)| p * p).sum();
    let recorded = p[cause.at() + 1];
    Some(FirstAdvice {
        leader: knowledge.cause(CauseId((at - 1) as u16)).id.clone(),
        sure: *sure,
        recorded,
        brier: squares - 2.0 * recorded + 1.0,
        learned: known.learned.as_ref().map(|learned| {
            let mut facts = facts.clone();
            facts.learned = Some(learned.awake());
            alone(knowledge, &facts)[cause.at() + 1]
        }),
    })
}

/// How one fix held.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct HoldRecord {
    /// The fix.
    pub fix: String,
    /// The cause recorded with it.
    pub cause: Option<String>,
    /// Days from the last clean print to the last yes, or to the return.
    pub day: f64,
    /// It came back.
    pub returned: bool,
}

impl HoldRecord {
    /// As the figures of holding take it.
    pub fn watched(&self) -> Watched {
        Watched {
            day: self.day,
            returned: self.returned,
        }
    }
}

/// How the fixes of a case held: each closing that was opened again, and the last one as far as
/// somebody answered.
pub fn holds(knowledge: &Knowledge, log: &[Entry], case: &CaseState) -> Vec<HoldRecord> {
    let mut all = Vec::new();
    let counts = active(log);
    for (at, entry) in log.iter().enumerate().filter(|(at, _)| counts[*at]) {
        let Event::Reopened { after_days, .. } = &entry.event else {
            continue;
        };
        let before = replay(knowledge, &log[..at]);
        let day = before.days_to_return(entry.at, *after_days);
        all.extend(record(&before, day, true));
    }
    if let (Status::Resolved(end), false) = (&case.status, case.left_out.is_some()) {
        let yes = end.asked.iter().filter(|(_, a)| *a == HeldAnswer::Held);
        if let Some(last) = yes.map(|(at, _)| *at).max() {
            let day = (last - case.clean_at().unwrap_or(end.at)).as_seconds_f64() / DAY;
            all.extend(record(case, day.max(0.0), false));
        }
    }
    all
}

fn record(case: &CaseState, day: f64, returned: bool) -> Option<HoldRecord> {
    let Status::Resolved(end) = &case.status else {
        return None;
    };
    Some(HoldRecord {
        fix: end.fix.clone()?,
        cause: end.cause.clone(),
        day,
        returned,
    })
}
