//! What a printed guide would say to the same signs: the measure the advice is held against.

use crate::evidence::{Answer, Facts};
use crate::knowledge::{CauseId, Finding, FindingId, FixId, Knowledge, Section};

/// A sign speaks for a cause that makes it so many times likelier.
const SPEAKS_FOR: f64 = 3.0;
/// Minutes it takes to find what a printed guide does not list.
const NOT_LISTED: f64 = 240.0;
/// A fix that cures a cause so often is the right one for it.
const RIGHT: f64 = 0.5;

/// Whether a state is not what one sees when all is well: not the commonest one.
pub fn odd(finding: &Finding, state: usize) -> bool {
    let usual = finding.states[state].background;
    finding.states.iter().any(|s| s.background > usual)
}

/// The first fix of every cause that a sign told speaks for, commonest cause first.
pub fn checklist(knowledge: &Knowledge, facts: &Facts) -> Vec<FixId> {
    let told = facts.findings.iter().filter_map(|(f, s)| match s.answer {
        Answer::State(state) => Some((*f, state)),
        _ => None,
    });
    let tells = |(f, state): &(FindingId, usize)| {
        let finding = knowledge.finding(*f);
        finding.section != Section::History && odd(finding, *state)
    };
    let seen: Vec<(FindingId, usize)> = told.filter(tells).collect();
    let speaks = |c: &CauseId| {
        let likelier = |(f, state): &(FindingId, usize)| {
            let usual = knowledge.finding(*f).states[*state].background;
            knowledge.table.states(*c, *f)[*state] > SPEAKS_FOR * usual
        };
        knowledge.weight(*c, &facts.context) > 0.0 && seen.iter().any(likelier)
    };
    let mut causes: Vec<CauseId> = knowledge.cause_ids().filter(speaks).collect();
    let weight = |c: &CauseId| knowledge.cause(*c).weight;
    causes.sort_by(|a, b| weight(b).total_cmp(&weight(a)).then(a.cmp(b)));
    let first = causes.iter().map(|c| knowledge.cause(*c).fixes.first());
    first.filter_map(Option::<&FixId>::copied).collect()
}

/// Minutes of hands that working through the list would have taken, up to the right fix: the one
/// recorded, or one that cures the cause recorded more often than not. 240 where the list has none.
/// Waiting is left out, so that the advice is not made to look better than it is.
pub fn checklist_minutes(
    knowledge: &Knowledge,
    facts: &Facts,
    cause: CauseId,
    fix: Option<FixId>,
) -> f64 {
    let mut minutes = 0.0;
    for listed in checklist(knowledge, facts) {
        let known = knowledge.fix(listed);
        minutes += known.work.minutes + known.proof().0;
        if Some(listed) == fix || knowledge.cure(listed, cause) >= RIGHT {
            return minutes.min(NOT_LISTED);
        }
    }
    NOT_LISTED
}
