//! How causes show here: chances of the states of findings, moved by looks that were asked for.

use super::cures::link;
use crate::knowledge::{CauseId, FindingId, Knowledge};

/// Looks for a finding in cases of one cause, by state.
#[derive(Debug, Clone, PartialEq)]
pub struct LearnedLink {
    /// Chance of each state, the book's thirty looks counted.
    pub states: Vec<f64>,
    /// Looks by state, each weighed by how much of its case counts.
    pub seen: Vec<f64>,
}

/// Learned links, by finding and cause.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Links(Vec<Vec<Option<LearnedLink>>>);

impl Links {
    /// Counts looks: cause, finding, state and weight of each. What the book does not link stays
    /// so.
    pub fn of(
        knowledge: &Knowledge,
        looks: impl IntoIterator<Item = (CauseId, FindingId, usize, f64)>,
    ) -> Self {
        let mut all: Vec<Vec<Option<LearnedLink>>> = vec![Vec::new(); knowledge.findings.len()];
        for (cause, finding, state, weight) in looks {
            let states = knowledge.finding(finding).states.len();
            if state >= states || !knowledge.table.linked(cause, finding) {
                continue;
            }
            let row = &mut all[finding.at()];
            row.resize(knowledge.causes.len(), None);
            let link = row[cause.at()].get_or_insert_with(|| LearnedLink {
                states: Vec::new(),
                seen: vec![0.0; states],
            });
            link.seen[state] += weight;
        }
        for (finding, row) in (0u16..).zip(&mut all) {
            for (cause, learned) in (0u16..).zip(row) {
                if let Some(learned) = learned {
                    let book = knowledge.table.states(CauseId(cause), FindingId(finding));
                    learned.states = link(book, &learned.seen);
                }
            }
        }
        Self(all)
    }

    /// What was learned of a finding under a cause; none where nobody looked.
    pub fn get(&self, cause: CauseId, finding: FindingId) -> Option<&LearnedLink> {
        self.0.get(finding.at())?.get(cause.at())?.as_ref()
    }

    /// Findings that were looked for in cases of a cause.
    pub fn of_cause(&self, cause: CauseId) -> impl Iterator<Item = (FindingId, &LearnedLink)> {
        let rows = (0u16..).zip(&self.0);
        rows.filter_map(move |(f, row)| Some((FindingId(f), row.get(cause.at())?.as_ref()?)))
    }

    /// Whether nothing was learned.
    pub fn is_empty(&self) -> bool {
        self.0.iter().all(Vec::is_empty)
    }
}
