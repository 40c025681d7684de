//! Where practice differs.

use super::Builder;
use crate::knowledge::load::Entry;
use crate::knowledge::raw;
use crate::knowledge::types::{School, Side};

impl Builder<'_> {
    pub(super) fn school(&mut self, entry: &Entry<raw::School>) -> School {
        let raw = &entry.raw;
        if raw.sides.len() < 2 {
            self.say(entry, "sides", "a disagreement has two sides or more");
        }
        let sides: Vec<Side> = raw.sides.iter().map(|s| self.side(entry, s)).collect();
        for side in &sides {
            if sides.iter().filter(|s| s.id == side.id).count() > 1 {
                self.say(entry, "sides", format!("`{}` stands twice", side.id));
            }
        }
        School {
            id: entry.id.clone(),
            title: raw.title.clone(),
            why: raw.why.clone(),
            sides,
        }
    }

    fn side(&mut self, entry: &Entry<raw::School>, raw: &raw::Side) -> Side {
        let fixes = raw.fixes.iter();
        let fixes = fixes
            .filter_map(|id| self.resolve(entry, "sides.fixes", id, "fix", |i| &i.fixes))
            .collect();
        let checks = raw.checks.iter();
        let checks = checks
            .filter_map(|id| self.resolve(entry, "sides.checks", id, "check", |i| &i.checks))
            .collect();
        Side {
            id: raw.id.clone(),
            name: raw.name.clone(),
            when: raw.when.clone(),
            costs: raw.costs.clone(),
            risks: raw.risks.clone(),
            fixes,
            checks,
        }
    }
}
