//! Open cases that may be the same trouble as one about to be opened.

use super::Proposal;
use crate::case::CaseState;
use crate::evidence::answer;
use crate::knowledge::{FindingId, Knowledge, Section};

/// Signs that a telling seems to speak of and an open case has seen as well: what was read is not
/// confirmed yet, so this asks and never decides.
pub fn shared(knowledge: &Knowledge, read: &[Proposal], open: &CaseState) -> Vec<FindingId> {
    let seen = |p: &&Proposal| {
        let finding = knowledge.finding(p.finding);
        let sign = matches!(finding.section, Section::Print | Section::Machine);
        let told = answer(knowledge, p.finding, &p.state).ok().flatten();
        let denied = told.is_none_or(|told| told.is_denial(knowledge, p.finding));
        // How strong it is may differ from one telling to the next.
        let there = open.facts.findings.get(&p.finding);
        let there = there.is_some_and(|s| !s.answer.is_denial(knowledge, p.finding));
        sign && !denied && there
    };
    read.iter().filter(seen).map(|p| p.finding).collect()
}
