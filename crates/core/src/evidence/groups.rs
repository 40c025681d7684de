//! Which pieces of evidence say the same thing twice.

use super::{Item, Source};
use crate::knowledge::{FindingId, FixId, Knowledge};

/// Items of the same group say the same thing twice.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Group {
    Named(String),
    Fix(FixId),
}

pub(super) fn group_of(knowledge: &Knowledge, f: FindingId) -> Option<Group> {
    let finding = knowledge.finding(f);
    finding
        .also_fix
        .map(Group::Fix)
        .or_else(|| finding.group.clone().map(Group::Named))
}

/// Whether one of the two is a check that says again what the other says.
pub(super) fn repeat(knowledge: &Knowledge, a: FindingId, b: FindingId) -> bool {
    let says_again = |check: FindingId, sign: FindingId| {
        let check = knowledge.finding(check).check;
        check.is_some_and(|c| knowledge.check(c).repeats.contains(&sign))
    };
    says_again(a, b) || says_again(b, a)
}

/// Items that say the same thing twice, by index: those of a named group, tries of one fix, a check
/// and the sign it repeats.
pub(super) fn groups(knowledge: &Knowledge, items: &[Item]) -> Vec<Vec<usize>> {
    let same = |a: &Item, b: &Item| match (&a.source, &b.source) {
        _ if a.group.is_some() && a.group == b.group => true,
        (Source::Finding(a, _), Source::Finding(b, _)) => repeat(knowledge, *a, *b),
        _ => false,
    };
    let mut out: Vec<Vec<usize>> = Vec::new();
    for (i, item) in items.iter().enumerate() {
        let (mut own, others): (Vec<_>, Vec<_>) = out
            .into_iter()
            .partition(|g: &Vec<usize>| g.iter().any(|j| same(item, &items[*j])));
        out = others;
        let mut joined: Vec<usize> = own.drain(..).flatten().collect();
        joined.push(i);
        joined.sort_unstable();
        out.push(joined);
    }
    out.retain(|g| g.len() > 1);
    out.sort();
    out
}
