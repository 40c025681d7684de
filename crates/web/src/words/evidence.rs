//! A piece of evidence in words.

use super::outcome;
use crate::show;
use suspect_core::evidence::{Facts, Source, answer, clashes};
use suspect_core::knowledge::{FindingId, Knowledge};

/// What one piece of evidence says: "Check the belt: it slips".
pub fn source(k: &Knowledge, facts: &Facts, source: &Source) -> String {
    match source {
        Source::Finding(f, sighting) => {
            let said = sighting.answer.phrase(k, *f);
            let said = match k.finding(*f).check {
                Some(check) => format!("{}: {said}", k.check(check).work.name),
                None => show::capital(&said),
            };
            outcome::unless_sure(said, sighting.confidence)
        }
        Source::Tried(_, tried) => outcome::tried_line(k, tried),
        Source::Cleared(cause, _) => {
            format!("Found sound: {}", show::lower_first(&k.cause(*cause).name))
        }
        Source::Own(n, ..) => facts.own.get(*n).map_or_else(String::new, |own| {
            format!("{}: {} (own words)", show::capital(&own.name), own.outcome)
        }),
        Source::Trials(n) => facts.trials.get(*n).map_or_else(String::new, |t| {
            let looks = if t.looks == 1 {
                "1 look"
            } else {
                &format!("{} looks", t.looks)
            };
            format!("Trial series “{}”, {looks}", t.name)
        }),
    }
}

/// Facts of a case that hardly go together, two and two.
pub fn clashing(k: &Knowledge, facts: &Facts) -> Vec<String> {
    let said = |f: FindingId| show::lower_first(&facts.findings[&f].answer.phrase(k, f));
    let both = clashes(k, facts).into_iter();
    let both = both.map(|(a, b)| format!("“{}” and “{}”", said(a), said(b)));
    both.map(|both| format!("{both} hardly go together. Was one of them a slip?"))
        .collect()
}

/// An answer as a sentence by identifiers; nothing when the knowledge does not know it.
pub fn answered(k: &Knowledge, finding: &str, state: &str) -> Option<String> {
    let f = k.finding_id(finding)?;
    match answer(k, f, state) {
        Ok(Some(answer)) => Some(show::capital(&answer.phrase(k, f))),
        Ok(None) => Some(format!("{}: not known", show::capital(&k.finding(f).plain))),
        Err(_) => None,
    }
}

/// An answer as a sentence, for a proposal or a copied fact.
pub fn phrase(k: &Knowledge, finding: FindingId, state: &str) -> String {
    match answer(k, finding, state) {
        Ok(Some(answer)) => show::capital(&answer.phrase(k, finding)),
        _ => show::capital(&k.finding(finding).plain),
    }
}
