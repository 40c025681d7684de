//! What is known in a practice case by now, and how it came to be known.

use crate::show;
use crate::words::outcome;
use suspect_core::knowledge::{FindingId, Knowledge, Section};
use suspect_rehearsal::practice::{Play, PracticeCase};

/// A line of it.
pub struct KnownLine {
    pub words: String,
    /// "told", "looked at", "checked".
    pub how: &'static str,
    pub odd: bool,
}

/// Everything, what was told first.
pub fn known(k: &Knowledge, case: &PracticeCase, play: &Play<'_>) -> Vec<KnownLine> {
    let line = |f: FindingId, state: usize| {
        let finding = k.finding(f);
        let told = case.told.findings.get(&f) == play.facts().findings.get(&f);
        KnownLine {
            words: words(k, f, state),
            how: match (told, finding.section) {
                (true, _) => "told",
                (false, Section::Check) => "checked",
                (false, _) => "looked at",
            },
            odd: !finding.is_sound(state),
        }
    };
    let facts = play.facts();
    let findings = facts.findings.iter();
    let mut lines: Vec<KnownLine> = findings
        .filter_map(|(f, s)| Some(line(*f, s.answer.state()?)))
        .collect();
    lines.sort_by_key(|l| (l.how != "told", !l.odd));
    let tried = facts.tried.iter().enumerate().map(|(n, t)| KnownLine {
        words: format!("{}: {}", k.fix(t.fix).work.name, outcome::result(t.result)),
        how: match n < case.told.tried.len() {
            true => "told",
            false => "tried",
        },
        odd: true,
    });
    lines.extend(tried);
    lines
}

/// A finding in a state, in words.
pub fn words(k: &Knowledge, f: FindingId, state: usize) -> String {
    let finding = k.finding(f);
    let phrase = &finding.states[state].phrase;
    match finding.check {
        Some(check) => format!("{}: {phrase}", k.check(check).work.name),
        None if finding.presence() => show::capital(phrase),
        None => show::capital(phrase),
    }
}
