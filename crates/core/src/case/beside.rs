//! What proves a fix beside clean prints: one of them is enough then.

use super::state::CaseState;
use crate::evidence::Evidence;
use crate::identified::identified;
use crate::knowledge::{CauseId, CheckId, FixId, Knowledge};
use crate::ranking::posterior;

identified! {
    /// What proves a fix beside clean prints.
    pub enum Beside {
        /// The check that told of the cause was repeated, and is sound.
        CheckSound = "check-sound",
        /// With the old value back the fault was there again.
        FaultBack = "fault-back",
    }
}

/// A check tells of a cause when its outcome makes it so many decibans likelier.
const TELLS: f64 = 6.0;

impl CaseState {
    /// The check whose outcome told most of what the waiting fix cures, and how much less likely
    /// silence is once it is repeated and sound: L(sound | cause)/b(sound). None where no check
    /// told of it.
    pub fn telling_check(&self, knowledge: &Knowledge) -> Option<(CheckId, f64)> {
        let fix = self.proof.as_ref()?.fix?;
        let cause = self.mended_by(knowledge, fix)?;
        let told = self.facts.findings.iter().filter_map(|(f, sighting)| {
            let finding = knowledge.finding(*f);
            let (check, state) = (finding.check?, sighting.answer.state()?);
            let usual = finding.states[state].background;
            let likely = knowledge.table.states(cause, *f);
            let decibans = 10.0 * (likely[state] / usual).log10();
            let sound = (0..finding.states.len()).find(|s| finding.is_sound(*s))?;
            let less = likely[sound] / finding.states[sound].background;
            let tells = decibans >= TELLS && finding.also_fix.is_none() && sound != state;
            tells.then_some((decibans, check, less.min(1.0)))
        });
        let best = told.max_by(|a, b| a.0.total_cmp(&b.0))?;
        Some((best.1, best.2))
    }

    /// The likeliest cause that a fix cures, by what was known when it was chosen.
    fn mended_by(&self, knowledge: &Knowledge, fix: FixId) -> Option<CauseId> {
        let mut facts = self.facts.clone();
        facts.tried.retain(|t| !t.tries(fix));
        let posterior = posterior(knowledge, &Evidence::of(knowledge, &facts), false);
        let involved = posterior.involved();
        let cured = knowledge
            .cause_ids()
            .filter(|c| knowledge.cure(fix, *c) > 0.0);
        cured.max_by(|a, b| involved[a.at()].total_cmp(&involved[b.at()]))
    }

    /// Whether the waiting fix changed a value that could be put back for a moment.
    pub fn changed_a_value(&self) -> bool {
        let fix = self.proof.as_ref().and_then(|p| p.fix);
        let last = self.changes.last();
        last.is_some_and(|c| Some(c.fix) == fix && !c.put_back)
    }
}
