//! Causes and the fixes that cure them.

use super::Builder;
use crate::identified::UnknownId;
use crate::knowledge::load::Entry;
use crate::knowledge::raw;
use crate::knowledge::strength::WEIGHTS;
use crate::knowledge::types::{Cause, CauseId, Family, Fix, FixKind};
use crate::profile::Condition;

/// Taken for a weight that is none, until it is mended: the middle of the scale.
const UNKNOWN_WEIGHT: f64 = 4.0;

impl Builder<'_> {
    /// The book weight, by its word.
    fn weight(&mut self, entry: &Entry<raw::Cause>) -> f64 {
        let given = &entry.raw.weight;
        let known = WEIGHTS.iter().find(|(word, _)| word == given);
        if let Some((_, weight)) = known {
            return *weight;
        }
        let words: Vec<_> = WEIGHTS.iter().map(|(w, _)| *w).collect();
        let message = format!("`{given}` is not one of {}", words.join(", "));
        self.say(entry, "weight", message);
        UNKNOWN_WEIGHT
    }

    /// Factors of the context.
    fn factors(&mut self, entry: &Entry<raw::Cause>) -> Vec<(Condition, f64)> {
        let mut factors = Vec::new();
        for (text, factor) in &entry.raw.context {
            let key = format!("context.{text}");
            match Condition::parse(text) {
                Ok(_) if !(0.0..=20.0).contains(factor) => {
                    let message = format!("factor {factor} must lie between 0 and 20");
                    self.say(entry, &key, message);
                }
                Ok(condition) => factors.push((condition, *factor)),
                Err(e) => self.say(entry, &key, e),
            }
        }
        factors
    }

    pub(super) fn cause(
        &mut self,
        at: usize,
        family: Family,
        entry: &Entry<raw::Cause>,
        fixes: &mut [Fix],
    ) -> Cause {
        let raw = &entry.raw;
        let weight = self.weight(entry);
        let factors = self.factors(entry);
        let mut consequence_of = Vec::new();
        for (root, strength) in &raw.consequence_of {
            let chance = self.probability(entry, &format!("consequence_of.{root}"), strength);
            if let Some(id) = self.resolve(entry, "consequence_of", root, "cause", |i| &i.causes) {
                consequence_of.push((id, chance));
            }
        }
        if raw.fixes.is_empty() {
            self.say(entry, "fixes", "a cause needs at least one fix");
        }
        let mut own_fixes = Vec::new();
        for (id, strength) in &raw.fixes {
            let chance = self
                .probability(entry, &format!("fixes.{id}"), strength)
                .clamp(0.05, 0.95);
            if let Some(fix) = self.resolve(entry, "fixes", id, "fix", |i| &i.fixes) {
                fixes[fix.at()].cures.push((CauseId(at as u16), chance));
                own_fixes.push(fix);
            }
        }
        Cause {
            id: entry.id.clone(),
            name: raw.name.clone(),
            plain: raw.plain.clone(),
            family,
            mechanism: raw.mechanism.trim().to_string(),
            clears: raw.clears.clone(),
            pictogram: if raw.pictogram.is_empty() {
                family.id().to_string()
            } else {
                raw.pictogram.clone()
            },
            weight,
            factors,
            exclusive: raw.exclusive.clone(),
            consequence_of,
            fixes: own_fixes,
        }
    }

    pub(super) fn fix(&mut self, entry: &Entry<raw::Fix>) -> Fix {
        let raw = &entry.raw;
        let kind = raw.kind.parse().unwrap_or_else(|unknown: UnknownId| {
            self.say(entry, "kind", unknown.to_string());
            FixKind::Easy
        });
        if !(0.0..=0.5).contains(&raw.by_chance) {
            let message = format!("{} must lie between 0 and 0.5", raw.by_chance);
            self.say(entry, "by_chance", message);
        }
        Fix {
            id: entry.id.clone(),
            kind,
            work: self.work(entry, &raw.work),
            cures: Vec::new(),
            verify: raw.verify.clone(),
            verify_prints: raw.verify_prints.clamp(1, 20),
            verify_minutes: raw.verify_minutes,
            verify_waiting: raw.verify_waiting,
            verify_grams: raw.verify_grams,
            by_chance: raw.by_chance,
            changes: raw.changes.clone(),
            may_bring: raw
                .may_bring
                .iter()
                .filter_map(|id| self.resolve(entry, "may_bring", id, "finding", |i| &i.findings))
                .collect(),
            warranty: raw.warranty.clone(),
            needs: self.conditions(entry, "needs", &raw.needs),
        }
    }
}
