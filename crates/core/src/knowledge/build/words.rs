//! Words: the glossary, and phrases by which people tell of a finding.

use super::Builder;
use crate::knowledge::load::Entry;
use crate::knowledge::raw;
use crate::knowledge::types::{Finding, Phrase, Term};
use crate::nearest::hint;

impl Builder<'_> {
    pub(super) fn term(&mut self, entry: &Entry<raw::Term>) -> Term {
        let raw = &entry.raw;
        let known = |id: &str| {
            let i = &self.index;
            i.causes.contains_key(id) || i.findings.contains_key(id) || i.fixes.contains_key(id)
        };
        for id in raw.see.iter().filter(|id| !known(id)) {
            let all = self
                .index
                .causes
                .keys()
                .chain(self.index.findings.keys())
                .chain(self.index.fixes.keys());
            let message = format!(
                "`{id}` is no cause, finding, check or fix{}",
                hint(id, all.map(String::as_str))
            );
            self.problems.push(entry.problem("see", message));
        }
        Term {
            id: entry.id.clone(),
            term: raw.term.clone(),
            plain: raw.plain.clone(),
            text: raw.text.clone(),
            forms: raw.forms.clone(),
            see: raw.see.clone(),
        }
    }

    pub(super) fn phrases(
        &mut self,
        entry: &Entry<raw::Phrases>,
        findings: &[Finding],
    ) -> Vec<Phrase> {
        let Some(id) = self.index.findings.get(&entry.id).copied() else {
            let message = format!(
                "`{}` is no finding{}",
                entry.id,
                hint(&entry.id, self.index.findings.keys().map(String::as_str))
            );
            self.problems.push(entry.problem("", message));
            return Vec::new();
        };
        let finding = &findings[id.at()];
        let answers = || {
            finding
                .states
                .iter()
                .map(|s| s.id.as_str())
                .chain(finding.one_of.iter().map(|(id, _)| id.as_str()))
        };
        for state in entry.raw.keys().filter(|s| !answers().any(|a| a == *s)) {
            let message = format!(
                "`{state}` is no state of `{}`{}",
                entry.id,
                hint(state, answers())
            );
            self.problems.push(entry.problem(state, message));
        }
        let of = |(state, texts): (&String, &Vec<String>)| {
            texts
                .iter()
                .map(|text| Phrase {
                    finding: id,
                    state: state.clone(),
                    text: text.clone(),
                })
                .collect::<Vec<_>>()
        };
        entry.raw.iter().flat_map(of).collect()
    }
}
