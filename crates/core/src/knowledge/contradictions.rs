//! Signs and outcomes that contradict each other by the knowledge's own figures and are not said
//! to.

use super::build::Built;
use super::links::Table;
use super::load::{Entries, Problem};
use super::types::{CauseId, Check, FindingId, Section};

/// A cause brings a sign when the sign is at least so likely under it.
const BRINGS: f64 = 0.3;
/// And so many times as likely as where nobody is at fault.
const TIMES: f64 = 3.0;
/// An outcome contradicts a sign when every cause that brings the sign makes the outcome rarer than
/// this share of how often it is seen.
const RARER: f64 = 0.12;

/// Every pair of a sign and a sound outcome that contradict: declared (`excludes`), or settled by
/// the check (`supersedes`), or with another cause that brings the sign.
pub(super) fn find(entries: &Entries, built: &Built, table: &Table, problems: &mut Vec<Problem>) {
    for (sign, state) in signs(built) {
        let bringing: Vec<CauseId> = causes(built)
            .filter(|c| brings(built, table, *c, sign, state))
            .collect();
        if bringing.is_empty() {
            continue;
        }
        for (entry, check) in entries.checks.iter().zip(&built.checks) {
            let outcome = &built.findings[check.finding.at()];
            if outcome.also_fix.is_some() || settles(check, sign) {
                continue;
            }
            for at in (0..outcome.states.len()).filter(|s| outcome.is_sound(*s)) {
                let most = bringing.iter().map(|c| table.states(*c, check.finding)[at]);
                let most = most.fold(0.0, f64::max);
                let rarer = most < RARER * table.unlisted(check.finding)[at];
                if rarer && !check.excludes[at].contains(&(sign, state)) {
                    let sign = &built.findings[sign.at()];
                    let message = format!(
                        "whoever brings `{}={}` hardly ever shows `{}`: declare it in `excludes`, \
                         or link another cause to the sign",
                        sign.id, sign.states[state].id, outcome.states[at].id
                    );
                    problems.push(entry.problem("excludes", message));
                }
            }
        }
    }
}

/// Every sign on print and machine in every state that is not sound.
fn signs(built: &Built) -> impl Iterator<Item = (FindingId, usize)> + '_ {
    let all = built.findings.iter().enumerate();
    let asked = all.filter(|(_, f)| matches!(f.section, Section::Print | Section::Machine));
    asked.flat_map(|(at, f)| {
        let odd = (0..f.states.len()).filter(|s| !f.is_sound(*s));
        odd.map(move |s| (FindingId(at as u16), s))
    })
}

fn causes(built: &Built) -> impl Iterator<Item = CauseId> {
    (0..built.causes.len() as u16).map(CauseId)
}

fn brings(built: &Built, table: &Table, cause: CauseId, sign: FindingId, state: usize) -> bool {
    let likely = table.states(cause, sign)[state];
    let background = built.findings[sign.at()].states[state].background;
    table.linked(cause, sign) && likely >= BRINGS && likely > TIMES * background
}

/// Whether the check has the last word on the sign, or says the same.
fn settles(check: &Check, sign: FindingId) -> bool {
    check.supersedes.contains(&sign) || check.repeats.contains(&sign)
}
