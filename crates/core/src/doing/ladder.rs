//! The ways to mend a suspect, and what to look at on the print that proves it.

use crate::evidence::Facts;
use crate::knowledge::{CauseId, FindingId, Fix, FixId, FixKind, Knowledge};
use crate::ranking::LineUp;

/// A rung of the ladder of fixes for one suspect.
#[derive(Debug, Clone, PartialEq)]
pub struct Rung {
    /// The fix.
    pub fix: FixId,
    /// Why it stands here.
    pub reason: String,
    /// It was tried already.
    pub tried: bool,
}

/// The fixes of the likeliest suspect that a fix mends: the easy way, the involved way, the
/// work-around, each with the reason.
pub fn ladder(
    knowledge: &Knowledge,
    facts: &Facts,
    line_up: &LineUp,
    fix: FixId,
) -> Option<(CauseId, Vec<Rung>)> {
    let mends = |c: CauseId| knowledge.cure(fix, c) > 0.0;
    let cause = line_up.causes.iter().map(|l| l.cause).find(|c| mends(*c))?;
    let mut fixes: Vec<FixId> = knowledge.cause(cause).fixes.clone();
    fixes.retain(|x| {
        *x == fix
            || !knowledge
                .fix(*x)
                .needs
                .iter()
                .any(|n| n.holds(&facts.context) == Some(false))
    });
    fixes.sort_by_key(|x| knowledge.fix(*x).kind as u8);
    let rungs = fixes.into_iter().map(|x| Rung {
        fix: x,
        reason: reason(knowledge.fix(x), knowledge.cure(x, cause)),
        tried: facts.tried.iter().any(|t| t.tries(x)),
    });
    Some((cause, rungs.collect()))
}

fn reason(fix: &Fix, chance: f64) -> String {
    let minutes = fix.work.minutes + fix.work.waiting;
    let mends = format!("mends it {:.0} times in 100", chance * 100.0);
    match fix.kind {
        FixKind::Easy => format!("easy way: {minutes:.0} min, little can go wrong, {mends}"),
        FixKind::Involved => {
            let why = match (fix.work.dismantling, fix.work.money > 0.0) {
                (0, false) => "it takes care",
                (0, true) => "it takes a part",
                (_, false) => "things come apart",
                (_, true) => "things come apart and a part is needed",
            };
            format!("involved way: {minutes:.0} min, {why}; when the easy way did nothing, {mends}")
        }
        FixKind::WorkAround => format!(
            "work-around: {minutes:.0} min, the fault stays and the print succeeds, {mends}"
        ),
    }
}

/// What to look at on the print that proves a fix: the signs of this case that what it mends brings
/// on.
pub fn look_for(knowledge: &Knowledge, facts: &Facts, fix: FixId) -> Vec<FindingId> {
    let causes = &knowledge.fix(fix).cures;
    let told = facts
        .findings
        .iter()
        .filter_map(|(f, s)| Some((*f, s.answer.state()?)));
    let odd = |f: FindingId, state: usize| {
        let finding = knowledge.finding(f);
        let print = matches!(
            finding.section,
            crate::knowledge::Section::Print | crate::knowledge::Section::Machine
        );
        print
            && finding
                .states
                .iter()
                .any(|s| s.background > finding.states[state].background)
    };
    let brings = |f: FindingId, state: usize| {
        causes.iter().any(|(c, _)| {
            knowledge.table.linked(*c, f)
                && knowledge.table.states(*c, f)[state]
                    > knowledge.finding(f).states[state].background
        })
    };
    let all: Vec<(FindingId, usize)> = told.filter(|(f, state)| odd(*f, *state)).collect();
    let own: Vec<FindingId> = all
        .iter()
        .filter(|(f, state)| brings(*f, *state))
        .map(|(f, _)| *f)
        .collect();
    if own.is_empty() {
        all.into_iter().map(|(f, _)| f).collect()
    } else {
        own
    }
}
