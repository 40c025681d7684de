//! Which steps are out: done, contradicted by the context, too hot for the material, lacking a
//! tool, put off.

use super::rules::{check_of_other_sides, of_other_sides};
use super::workshop::Workshop;
use crate::evidence::{Facts, Tried};
use crate::knowledge::{CheckId, FixId, Knowledge, TryResult, Work};
use crate::profile::Condition;
use crate::settings::NumberId;

/// Steps that are out of the question, by index.
#[derive(Debug, Clone)]
pub struct Out {
    /// Checks.
    pub checks: Vec<bool>,
    /// Fixes.
    pub fixes: Vec<bool>,
}

impl Out {
    /// What is out for the facts of a case, in a workshop.
    pub fn of(knowledge: &Knowledge, facts: &Facts, workshop: &Workshop) -> Self {
        let lacks = |work: &Work| {
            work.tools
                .iter()
                .any(|t| workshop.missing_tools.contains(t))
        };
        let contradicted =
            |needs: &[Condition]| needs.iter().any(|n| n.holds(&facts.context) == Some(false));
        // Never advise heating past the window: in a lined hot end that would lead straight into a
        // stop.
        let hottest = crate::evidence::hottest_nozzle(knowledge, &facts.context, &facts.settings);
        let too_hot = |work: &Work| {
            work.raises_nozzle_c > 0.0
                && facts
                    .settings
                    .get(NumberId::NozzleC)
                    .is_some_and(|t| t + work.raises_nozzle_c > hottest)
        };
        let put_off = |id: &str| workshop.not_now.iter().any(|n| n == id);
        let tried: Vec<FixId> = facts
            .tried
            .iter()
            .filter(|t| !t.came_undone && !came_undone(knowledge, facts, t.result))
            .flat_map(Tried::fixes)
            .collect();
        let mut fixes: Vec<bool> = knowledge
            .fixes
            .iter()
            .enumerate()
            .map(|(x, f)| {
                tried.contains(&FixId(x as u16))
                    || contradicted(&f.needs)
                    || lacks(&f.work)
                    || too_hot(&f.work)
                    || put_off(&f.id)
                    || of_other_sides(knowledge, workshop, FixId(x as u16))
            })
            .collect();
        let checks = knowledge
            .checks
            .iter()
            .enumerate()
            .map(|(q, c)| {
                let finding = knowledge.finding(c.finding);
                let answered = facts.findings.contains_key(&c.finding);
                if let (true, Some(fix)) = (answered, finding.also_fix) {
                    fixes[fix.at()] = true;
                }
                let fix_done = finding.also_fix.is_some_and(|fix| tried.contains(&fix));
                answered
                    || fix_done
                    || contradicted(&finding.needs)
                    || lacks(&c.work)
                    || too_hot(&c.work)
                    || put_off(&finding.id)
                    || check_of_other_sides(knowledge, workshop, CheckId(q as u16))
            })
            .collect();
        Self { checks, fixes }
    }
}

/// A fix that cured, when the trouble has since returned, may be advised again.
fn came_undone(knowledge: &Knowledge, facts: &Facts, result: TryResult) -> bool {
    let Some(finding) = knowledge.finding_id("held-before") else {
        return false;
    };
    result == TryResult::Cured
        && facts
            .findings
            .get(&finding)
            .is_some_and(|s| s.answer.id(knowledge, finding) == "held-then-returned")
}
