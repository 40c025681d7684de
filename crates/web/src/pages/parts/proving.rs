//! What to look at on the print that proves a fix.

use crate::show;
use suspect_core::doing;
use suspect_core::evidence::Facts;
use suspect_core::knowledge::{Fix, FixId, Knowledge};

/// Signs of the case that should be gone.
pub fn look_for(k: &Knowledge, facts: &Facts, fix: FixId) -> Vec<String> {
    doing::look_for(k, facts, fix)
        .into_iter()
        .map(|f| facts.findings[&f].answer.phrase(k, f))
        .collect()
}

/// Findings that the fix may bring on when overdone.
pub fn may_bring(k: &Knowledge, fix: &Fix) -> Vec<String> {
    let plain = fix.may_bring.iter().map(|f| k.finding(*f).plain.clone());
    plain.collect()
}

/// What the proof takes: "3 prints of at least 20 min, 18 g".
pub fn proof_takes(fix: &Fix) -> String {
    let (hands_on, waiting, grams) = fix.proof();
    if hands_on + waiting <= 0.0 {
        return "no print".into();
    }
    let each = show::minutes(fix.verify_waiting);
    let prints = match fix.verify_prints {
        1 => format!("one print of at least {each}"),
        n => format!("{n} prints of at least {each}"),
    };
    format!("{prints}, {}", show::grams(grams))
}
