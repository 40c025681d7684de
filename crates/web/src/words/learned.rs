//! What outcomes taught, in words: each number beside the book's, with its counts.

use crate::show;
use crate::words::journal;
use suspect_core::evidence::Facts;
use suspect_core::knowledge::{CauseId, FindingId, FixId, Knowledge};
use suspect_core::learning::Learned;
use suspect_core::learning::learned::{Counted, LearnedCure};
use suspect_core::learning::links::LearnedLink;
use suspect_core::ranking::CauseLine;

/// Less than that, in decibans, is not worth a word.
const WORTH_A_WORD: f64 = 0.1;

/// "+2.1 dB of where it starts was learned: 3 cases on this machine, where 0.6 were expected …".
pub fn words(facts: &Facts, line: &CauseLine) -> Option<String> {
    let moved = line.learned.filter(|d| d.abs() >= WORTH_A_WORD)?;
    let own = facts.learned.as_deref()?;
    let reasons: Vec<String> = own.reasons(line.cause).map(journal::reason).collect();
    let from = match reasons.is_empty() {
        true => "was learned here",
        false => "comes from this machine",
    };
    let told: Vec<String> = reasons
        .into_iter()
        .chain(counts(facts, line.cause))
        .collect();
    let told = (!told.is_empty()).then(|| told.join("; "))?;
    Some(format!(
        "{} dB of where it starts {from}: {told}.",
        show::decibans(moved)
    ))
}

/// "3 cases on this machine, where 0.6 were expected; 4 in the workshop (1.9)".
pub fn counts(facts: &Facts, cause: CauseId) -> Option<String> {
    levels(facts.learned.as_deref()?, cause)
}

fn levels(learned: &Learned, cause: CauseId) -> Option<String> {
    let own = learned.cause(cause);
    let levels = [
        (own.machine, "on this machine"),
        (own.kind, "on its kind"),
        (own.shop, "in the workshop"),
    ];
    let some = |c: &Counted| c.n >= 0.05 || c.expected >= 0.05;
    let said = levels.iter().filter(|(c, _)| some(c)).enumerate();
    let said = said.map(|(at, (c, place))| {
        let (n, expected) = (show::tenths(c.n), show::tenths(c.expected));
        match at {
            0 => {
                let cases = if n == "1" { "case" } else { "cases" };
                format!("{n} {cases} {place}, where {expected} were expected")
            }
            _ => format!("{n} {place} ({expected})"),
        }
    });
    let said: Vec<String> = said.collect();
    (!said.is_empty()).then(|| said.join("; "))
}

/// Most suspects named on a machine's page, and how far from the book they stand at least.
const NAMED: usize = 6;
const APART: f64 = 1.15;

/// What strikes a machine more or less often than the book expects, the furthest first: "Slack
/// belt: 1.7 times as likely as by the book; 1 case on this machine, where 0.1 were expected …".
pub fn of_machine(k: &Knowledge, learned: &Learned) -> Vec<String> {
    let own = |c: CauseId| learned.cause(c);
    let here = |c: &CauseId| own(*c).machine.n >= 0.05;
    let mut apart: Vec<CauseId> = k.cause_ids().filter(here).collect();
    apart.retain(|c| !(1.0 / APART..APART).contains(&own(*c).factor));
    apart.sort_by(|a, b| {
        own(*b)
            .factor
            .ln()
            .abs()
            .total_cmp(&own(*a).factor.ln().abs())
    });
    let line = |c: CauseId| {
        let times = show::tenths(own(c).factor);
        let counts = levels(learned, c).unwrap_or_default();
        format!(
            "{}: {times} times as likely as by the book; {counts}",
            k.cause(c).name
        )
    };
    apart.into_iter().take(NAMED).map(line).collect()
}

/// "by the book 88 %; 7.2 of 9.5 uses here cured", where a fix was used for a cause.
pub fn cure(k: &Knowledge, facts: &Facts, fix: FixId, cause: CauseId) -> Option<String> {
    let cure = facts.learned.as_ref()?.cure(fix, cause)?;
    Some(format!(
        "{} by the book; {} of {} uses here cured",
        show::percent(k.cure(fix, cause)),
        show::tenths(cure.worked),
        show::tenths(cure.uses)
    ))
}

/// What a shop's cases say of a suspect: "3 in the workshop, where 1.9 were expected".
pub fn learned_here(learned: &Learned, cause: CauseId) -> Option<String> {
    levels(learned, cause)
}

/// Looks from which a learned link is told.
const LOOKS: f64 = 3.0;

/// How a suspect shows here: "Check the belt: slips in 5.1 of 6.8 looks here; 60 % by the book,
/// 63 % with both".
pub fn shows_here(k: &Knowledge, learned: &Learned, cause: CauseId) -> Vec<String> {
    let Some(links) = learned.links() else {
        return Vec::new();
    };
    let line = |(f, link): (FindingId, &LearnedLink)| {
        let all: f64 = link.seen.iter().sum();
        let most = (0..link.seen.len()).max_by(|a, b| link.seen[*a].total_cmp(&link.seen[*b]))?;
        let finding = k.finding(f);
        let name = match finding.check {
            Some(check) => k.check(check).work.name.clone(),
            None => finding.question.clone(),
        };
        (all >= LOOKS).then(|| {
            format!(
                "{name}: {} in {} of {} looks here; {} by the book, {} with both",
                finding.states[most].phrase,
                show::tenths(link.seen[most]),
                show::tenths(all),
                show::percent(k.table.states(cause, f)[most]),
                show::percent(link.states[most])
            )
        })
    };
    links.of_cause(cause).filter_map(line).collect()
}

/// Why learned numbers are shown and not used, where they rest.
pub const RESTS: &str = "What was learned here did worse than the book for the causes recorded, so \
    the ranking uses the book until that has turned. The counts are kept and go on.";

/// "7.2 of 9.5 uses here cured: 81 %".
pub fn cured_here(cure: &LearnedCure) -> String {
    format!(
        "{} of {} uses here cured: {}",
        show::tenths(cure.worked),
        show::tenths(cure.uses),
        show::percent(cure.chance)
    )
}
