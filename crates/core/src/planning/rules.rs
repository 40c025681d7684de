//! Rules of the trade that stand above the arithmetic: what is looked at before anything is heated,
//! what changed last, and the workshop's own side where practice differs.

use super::{Action, Weighed, Workshop};
use crate::evidence::{Confidence, Facts};
use crate::knowledge::{Check, CheckId, FindingId, FixId, Knowledge, School, Side};

/// A check that belongs early stands no later than here.
const EARLY: usize = 3;

/// Whether one of the signs was told with more than a hunch.
fn told(facts: &Facts, signs: &[(FindingId, usize)]) -> bool {
    signs.iter().any(|(finding, state)| {
        let seen = facts.findings.get(finding);
        seen.is_some_and(|s| s.answer.says(*state) && s.confidence != Confidence::Hunch)
    })
}

/// Puts the steps, best first, into the order the rules ask for. Says whether the first stands
/// there because nothing may be heated before it.
pub(super) fn order(knowledge: &Knowledge, facts: &Facts, weighed: &mut Vec<Weighed>) -> bool {
    let called = |w: &Weighed, signs: fn(&Check) -> &[(FindingId, usize)]| match w.action {
        Action::Check(c) => told(facts, signs(knowledge.check(c))),
        _ => false,
    };
    if let Some(at) = weighed.iter().position(|w| called(w, |c| &c.first_when)) {
        let first = weighed.remove(at);
        let before_heat =
            matches!(first.action, Action::Check(c) if knowledge.check(c).before_heat);
        if before_heat {
            weighed.retain(|w| !heats(knowledge, w.action));
        }
        weighed.insert(0, first);
        return before_heat;
    }
    // Work on one part: its checks come before cures of others.
    if let Some(fix) = weighed
        .iter()
        .position(|w| matches!(w.action, Action::Fix(_)))
    {
        let mut looks = Vec::new();
        let mut at = fix;
        while at < weighed.len().min(fix + EARLY) {
            match called(&weighed[at], |c| &c.before_fixes_when) {
                true => looks.push(weighed.remove(at)),
                false => at += 1,
            }
        }
        weighed.splice(fix..fix, looks);
    }
    let late =
        |(at, w): (usize, &Weighed)| (at >= EARLY && called(w, |c| &c.early_when)).then_some(at);
    if let Some(at) = weighed.iter().enumerate().find_map(late) {
        let early = weighed.remove(at);
        weighed.insert(EARLY - 1, early);
    }
    false
}

/// Whether a step is put forward by a rule, whatever minutes it saves.
pub(super) fn asked_for(knowledge: &Knowledge, facts: &Facts, action: Action) -> bool {
    match action {
        Action::Check(c) => {
            let check = knowledge.check(c);
            told(facts, &check.first_when) || told(facts, &check.early_when)
        }
        _ => false,
    }
}

/// Whether doing it heats the machine, a proof by printing included.
fn heats(knowledge: &Knowledge, action: Action) -> bool {
    match action {
        Action::Check(c) => knowledge.check(c).work.heats,
        Action::Fix(_) => true,
        Action::ClearStop(_) | Action::GiveUp => false,
    }
}

/// The side a workshop has chosen where practice differs.
pub fn chosen<'k>(workshop: &Workshop, school: &'k School) -> Option<&'k Side> {
    workshop
        .sides
        .get(&school.id)
        .and_then(|id| school.side(id))
}

/// Fixes of sides the workshop has not chosen: out where its own side has one.
pub(super) fn of_other_sides(knowledge: &Knowledge, workshop: &Workshop, fix: FixId) -> bool {
    knowledge.schools.iter().any(|school| {
        chosen(workshop, school).is_some_and(|own| {
            !own.fixes.is_empty() && school.has_fix(fix) && !own.fixes.contains(&fix)
        })
    })
}

/// Checks of sides the workshop has not chosen.
pub(super) fn check_of_other_sides(
    knowledge: &Knowledge,
    workshop: &Workshop,
    check: CheckId,
) -> bool {
    knowledge.schools.iter().any(|school| {
        chosen(workshop, school).is_some_and(|own| {
            !own.checks.is_empty() && school.has_check(check) && !own.checks.contains(&check)
        })
    })
}
