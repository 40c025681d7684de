//! What is wrong with a knowledge whose every entry is right by itself: suspects nobody can tell
//! apart, signs that say nothing, links and fixes that the context makes impossible, facts counted
//! twice, things nobody names.

use super::build::Built;
use super::links::Table;
use super::load::{Entries, Entry, Problem};
use super::order;
use super::tried::UNTOUCHED;
use super::types::*;
use crate::profile::{Condition, FIELDS};
use std::collections::BTreeMap;

/// Two causes are told apart when some state is this many times likelier under one than under the
/// other.
const TELLS_APART: f64 = 1.9;
/// A finding informs when some state moves some cause by this factor against the average suspect.
const INFORMS: f64 = 1.25;
/// Sentences of a mechanism: what fails, what follows, what marks it.
const MECHANISM_SENTENCES: usize = 3;

/// Findings and checks that state the same fact as fields of the profile: a cause uses the one or
/// the other.
const SAME_FACT: [(&str, &[&str]); 2] = [
    ("enclosure-vs-material", &["enclosure", "material"]),
    ("firmware-protection", &["board_age"]),
];

/// Runs every rule. Only called when the entries themselves are right.
pub(super) fn scrutinise(
    entries: &Entries,
    built: &Built,
    table: &Table,
    problems: &mut Vec<Problem>,
) {
    told_apart(entries, built, table, problems);
    informing(entries, built, table, problems);
    possible(entries, built, table, problems);
    counted_once(entries, built, table, problems);
    orphans(entries, built, problems);
    told_in_full(entries, built, problems);
    in_order(entries, built, problems);
    by_chance(entries, built, problems);
}

/// A fix that may seem to cure by chance proves nothing by its check: the plan would count the
/// chance as a cure.
fn by_chance(entries: &Entries, built: &Built, problems: &mut Vec<Problem>) {
    for (entry, check) in entries.checks.iter().zip(&built.checks) {
        let tries = built.findings[check.finding.at()].also_fix;
        let lucky = tries.is_some_and(|x| built.fixes[x.at()].by_chance > UNTOUCHED[0]);
        if lucky && !check.ends_case.is_empty() {
            let message = "its fix may seem to cure by chance (`by_chance`): say `proves_nothing`";
            problems.push(entry.problem("also_fix", message));
        }
    }
}

/// Every procedure can be done as it stands: heat, plug, covers, tube and height in their order.
fn in_order(entries: &Entries, built: &Built, problems: &mut Vec<Problem>) {
    fn of<T>(entry: &Entry<T>, work: &Work, stop: bool, problems: &mut Vec<Problem>) {
        for (step, why) in order::problems(work, stop) {
            problems.push(entry.problem("steps", format!("step {step} {why}")));
        }
    }
    for (entry, check) in entries.checks.iter().zip(&built.checks) {
        of(entry, &check.work, false, problems);
    }
    for (entry, fix) in entries.fixes.iter().zip(&built.fixes) {
        of(entry, &fix.work, false, problems);
    }
    for (entry, stop) in entries.stops.iter().zip(&built.stops) {
        of(entry, &stop.work, true, problems);
    }
}

fn cause_entry(entries: &Entries, cause: usize) -> &Entry<super::raw::Cause> {
    &entries.causes[cause].1
}

/// A problem at the entry of a finding, or of the check whose outcome it is.
fn at_finding(entries: &Entries, built: &Built, f: usize, key: &str, message: String) -> Problem {
    match built.findings[f].check {
        Some(check) => entries.checks[check.at()].problem(key, message),
        None => entries.findings[f].1.problem(key, message),
    }
}

/// Causes whose every finding and check looks alike.
fn told_apart(entries: &Entries, built: &Built, table: &Table, problems: &mut Vec<Problem>) {
    for i in 0..built.causes.len() {
        for j in i + 1..built.causes.len() {
            let differ = |f: usize| {
                let (i, j, f) = (CauseId(i as u16), CauseId(j as u16), FindingId(f as u16));
                let either = table.linked(i, f) || table.linked(j, f);
                either
                    && table
                        .states(i, f)
                        .iter()
                        .zip(table.states(j, f))
                        .any(|(a, b)| a.max(*b) >= TELLS_APART * a.min(*b))
            };
            if !(0..built.findings.len()).any(differ) {
                let (a, b) = (&built.causes[i].id, &built.causes[j].id);
                problems.push(cause_entry(entries, i).problem(
                    "links",
                    format!("no finding tells `{a}` from `{b}`: give one a link the other lacks"),
                ));
            }
        }
    }
}

/// Findings that inform nothing and checks that cannot change a ranking. One that only raises or
/// lifts a stop earns its place.
fn informing(entries: &Entries, built: &Built, table: &Table, problems: &mut Vec<Problem>) {
    for (f, finding) in built.findings.iter().enumerate() {
        let id = FindingId(f as u16);
        if raises_a_stop(built, id) {
            continue;
        }
        let average = table.unlisted(id);
        let moves = |c: usize| {
            let own = table.states(CauseId(c as u16), id);
            own.iter()
                .zip(average)
                .any(|(a, b)| a.max(*b) >= INFORMS * a.min(*b))
        };
        let linked: Vec<usize> = (0..built.causes.len())
            .filter(|c| table.linked(CauseId(*c as u16), id))
            .collect();
        if linked.is_empty() {
            problems.push(at_finding(
                entries,
                built,
                f,
                "",
                "no cause is linked to it, so it can never change a ranking".into(),
            ));
        } else if !linked.into_iter().any(moves) {
            let what = if finding.check.is_some() {
                "no outcome of this check changes"
            } else {
                "no state of this finding changes"
            };
            problems.push(at_finding(
                entries,
                built,
                f,
                "",
                format!("{what} a ranking: every link lies at the average"),
            ));
        }
    }
}

/// Whether a sign raises or lifts a stop.
fn raises_a_stop(built: &Built, finding: FindingId) -> bool {
    built.stops.iter().any(|s| {
        s.holds
            .iter()
            .flatten()
            .chain(&s.until)
            .any(|t| matches!(t, StopTerm::Finding(f, _) if *f == finding))
    })
}

/// Values of a field under which a cause is possible.
fn possible_values(cause: &Cause, field: usize) -> Vec<usize> {
    let excluded = |value: usize| {
        cause
            .factors
            .iter()
            .any(|(c, factor)| *factor == 0.0 && c.field() == field && c.allows(value))
    };
    (0..FIELDS[field].values.len())
        .filter(|v| !excluded(*v))
        .collect()
}

/// Links to findings that make no sense where the cause is possible, and contexts in which a cause
/// is left without a fix.
fn possible(entries: &Entries, built: &Built, table: &Table, problems: &mut Vec<Problem>) {
    for (c, cause) in built.causes.iter().enumerate() {
        let entry = cause_entry(entries, c);
        let never = |needs: &[Condition]| {
            needs
                .iter()
                .find(|n| {
                    !possible_values(cause, n.field())
                        .iter()
                        .any(|v| n.allows(*v))
                })
                .cloned()
        };
        for (f, finding) in built.findings.iter().enumerate() {
            if let (true, Some(need)) = (
                table.linked(CauseId(c as u16), FindingId(f as u16)),
                never(&finding.needs),
            ) {
                let message = format!(
                    "`{}` needs {need}, where this cause is impossible",
                    finding.id
                );
                problems.push(entry.problem(&format!("links.{}", finding.id), message));
            }
        }
        for fix in &cause.fixes {
            let fix = &built.fixes[fix.at()];
            if let Some(need) = never(&fix.needs) {
                problems.push(entry.problem(
                    "fixes",
                    format!("`{}` needs {need}, where this cause is impossible", fix.id),
                ));
            }
        }
        for (n, field) in FIELDS.iter().enumerate() {
            for value in possible_values(cause, n) {
                let applies = |x: &FixId| {
                    built.fixes[x.at()]
                        .needs
                        .iter()
                        .all(|need| need.field() != n || need.allows(value))
                };
                if !cause.fixes.iter().any(applies) {
                    let message = format!(
                        "no fix applies with {}={}: add one, or make the cause impossible there",
                        field.id, field.values[value].id
                    );
                    problems.push(entry.problem("fixes", message));
                }
            }
        }
    }
}

/// A fact may be a factor of a cause or one of its findings, never both. Factor 0 is a rule, not
/// evidence.
fn counted_once(entries: &Entries, built: &Built, table: &Table, problems: &mut Vec<Problem>) {
    for (finding, fields) in SAME_FACT {
        let Some(f) = built.index.findings.get(finding) else {
            continue;
        };
        for (c, cause) in built
            .causes
            .iter()
            .enumerate()
            .filter(|(c, _)| table.linked(CauseId(*c as u16), *f))
        {
            let twice = cause.factors.iter().find(|(condition, factor)| {
                *factor != 0.0 && fields.contains(&FIELDS[condition.field()].id)
            });
            if let Some((condition, factor)) = twice {
                let message = format!(
                    "{condition} counts by its factor {factor} and again by `{finding}`: keep one \
                        of them"
                );
                problems.push(
                    cause_entry(entries, c).problem(&format!("context.{condition}"), message),
                );
            }
        }
    }
}

/// Things nobody names: cautions, groups with one member.
fn orphans(entries: &Entries, built: &Built, problems: &mut Vec<Problem>) {
    let works = built
        .checks
        .iter()
        .map(|c| &c.work)
        .chain(built.fixes.iter().map(|x| &x.work))
        .chain(built.stops.iter().map(|s| &s.work));
    let mut named = vec![false; built.cautions.len()];
    works
        .flat_map(|w| &w.cautions)
        .for_each(|c| named[*c] = true);
    for (n, caution) in built.cautions.iter().enumerate() {
        if !named[n] && caution.when.is_empty() {
            problems.push(
                entries.cautions[n]
                    .problem("", "no step names this caution and no context calls for it"),
            );
        }
    }
    let mut groups: BTreeMap<&str, Vec<usize>> = BTreeMap::new();
    for (f, finding) in built.findings.iter().enumerate() {
        finding
            .group
            .iter()
            .for_each(|g| groups.entry(g).or_default().push(f));
    }
    for (group, members) in groups.into_iter().filter(|(_, members)| members.len() == 1) {
        problems.push(at_finding(
            entries,
            built,
            members[0],
            "group",
            format!("nothing else is in the group `{group}`"),
        ));
    }
    let mut exclusive: BTreeMap<&str, Vec<usize>> = BTreeMap::new();
    for (c, cause) in built.causes.iter().enumerate() {
        cause
            .exclusive
            .iter()
            .for_each(|g| exclusive.entry(g).or_default().push(c));
    }
    for (group, members) in exclusive
        .into_iter()
        .filter(|(_, members)| members.len() == 1)
    {
        problems.push(cause_entry(entries, members[0]).problem(
            "exclusive",
            format!("nothing else is in the group `{group}`"),
        ));
    }
}

/// A dossier needs its words: the mechanism in three sentences, and what clears the suspect.
fn told_in_full(entries: &Entries, built: &Built, problems: &mut Vec<Problem>) {
    for (c, cause) in built.causes.iter().enumerate() {
        let sentences = cause
            .mechanism
            .split_inclusive(['.', '!', '?'])
            .filter(|s| s.trim().len() > 1)
            .count();
        if sentences < MECHANISM_SENTENCES {
            let message =
                format!("{sentences} sentences: say what fails, what follows and what marks it");
            problems.push(cause_entry(entries, c).problem("mechanism", message));
        }
        if cause.clears.trim().is_empty() {
            problems.push(
                cause_entry(entries, c).problem("clears", "say what would clear this suspect"),
            );
        }
    }
}
