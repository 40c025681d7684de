//! The next step for whoever is at the screen: what they may do comes first, and what needs
//! somebody else is said.

use super::next::What;
use super::summary::Analysis;
use crate::knowledge::Knowledge;
use crate::people::{Needs, Role};
use crate::planning::Action;

/// The plan's first step, where whoever is here may not do it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Elsewhere {
    /// What it is.
    pub action: Action,
    /// Who may.
    pub needs: Needs,
    /// Another step stands first instead.
    pub instead: bool,
}

/// What an action needs.
fn needs(knowledge: &Knowledge, action: Action) -> Option<Needs> {
    match action {
        Action::Check(check) => Some(Needs::check(knowledge, check)),
        Action::Fix(fix) => Some(Needs::fix(knowledge, fix)),
        Action::ClearStop(stop) => Some(Needs::stop(knowledge, stop)),
        Action::GiveUp => None,
    }
}

/// Puts the best step first that somebody of this role may do. Returns the plan's own where that is
/// another's. While the plan asks for a cold look before any heat, nothing that heats takes its
/// place; a stop, a proof and an end are never passed by.
pub fn prefer(knowledge: &Knowledge, analysis: &mut Analysis, role: Role) -> Option<Elsewhere> {
    let action = match analysis.next.what {
        What::Check(check) => Action::Check(check),
        What::Fix(fix) => Action::Fix(fix),
        What::ClearStop(stop) => Action::ClearStop(stop),
        _ => return None,
    };
    let needs_of = needs(knowledge, action)?;
    if needs_of.met_by(role) {
        return None;
    }
    let cold_first = analysis.plan.before_heat;
    let may = |a: Action| {
        let heats = a.work(knowledge).is_some_and(|w| w.heats);
        let fits = !(cold_first && heats);
        fits && needs(knowledge, a).is_some_and(|n| n.met_by(role))
    };
    let planned = !matches!(action, Action::ClearStop(_));
    let steps = analysis.plan.steps.iter();
    let step = steps.filter(|_| planned).find(|s| may(s.action));
    let what = step.and_then(|s| match s.action {
        Action::Check(check) => Some(What::Check(check)),
        Action::Fix(fix) => Some(What::Fix(fix)),
        Action::ClearStop(_) | Action::GiveUp => None,
    });
    if let (Some(step), Some(what)) = (step, &what) {
        analysis.next.what = what.clone();
        analysis.next.minutes = step.minutes;
        analysis.next.saves = step.saves;
        analysis.next.cures = step.cures;
    }
    Some(Elsewhere {
        action,
        needs: needs_of,
        instead: what.is_some(),
    })
}
