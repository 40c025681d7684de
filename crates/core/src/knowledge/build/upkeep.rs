//! Upkeep tasks and kinds of machines.

use super::Builder;
use crate::identified::UnknownId;
use crate::knowledge::load::Entry;
use crate::knowledge::parts::PARTS;
use crate::knowledge::raw;
use crate::knowledge::types::{
    CommissionStep, Finding, Interval, MachineKind, Quirk, QuirkTime, Region, UpkeepTask, Wrong,
};
use crate::nearest::hint;
use crate::profile::Context;

/// A quirk makes a suspect likelier, and never decides.
const MOST_RAISED: f64 = 4.0;

impl Builder<'_> {
    pub(super) fn upkeep(
        &mut self,
        entry: &Entry<raw::UpkeepTask>,
        findings: &[Finding],
    ) -> UpkeepTask {
        let raw = &entry.raw;
        let region = Region::from_id(&raw.region).filter(|r| Region::of_machine().any(|o| o == *r));
        if region.is_none() {
            let known = Region::of_machine().map(Region::id);
            let near = hint(&raw.region, known);
            let problem = format!("`{}` is no part of a machine{near}", raw.region);
            self.say(entry, "region", problem);
        }
        if let Some(part) = &raw.part {
            self.known_part(entry, "part", part);
        }
        let every = self.interval(entry, "every", &raw.every);
        if every == Interval::default() && raw.part.is_none() && raw.marks.is_empty() {
            let problem = "says neither how often nor for which part or mark";
            self.say(entry, "every", problem);
        }
        UpkeepTask {
            id: entry.id.clone(),
            name: raw.name.clone(),
            text: raw.text.clone(),
            minutes: raw.minutes,
            region: region.unwrap_or(Region::Motion),
            every,
            part: raw.part.clone(),
            marks: raw.marks.clone(),
            cautions: self.cautions(entry, &raw.cautions),
            needs: self.conditions(entry, "needs", &raw.needs),
            wrong: self.all_wrong(entry, &raw.wrong, findings),
        }
    }

    /// Marks are looked at by tasks or before a print.
    pub(super) fn marks(
        &mut self,
        entries: &[Entry<raw::UpkeepTask>],
        looks: &[Entry<raw::Precaution>],
    ) {
        let known: Vec<&str> = entries
            .iter()
            .map(|e| e.id.as_str())
            .chain(looks.iter().map(|l| l.id.as_str()))
            .collect();
        for entry in entries {
            for mark in &entry.raw.marks {
                if !known.contains(&mark.as_str()) || *mark == entry.id {
                    let near = hint(mark, known.iter().copied());
                    self.say(entry, "marks", format!("`{mark}` is no other look{near}"));
                }
            }
        }
    }

    pub(super) fn commission_step(
        &mut self,
        entry: &Entry<raw::CommissionStep>,
        findings: &[Finding],
    ) -> CommissionStep {
        let raw = &entry.raw;
        let mut history = Vec::new();
        for word in &raw.history {
            match word.parse() {
                Ok(known) => history.push(known),
                Err(e) => self.say(entry, "history", UnknownId::to_string(&e)),
            }
        }
        let unless = raw
            .unless
            .as_deref()
            .map(|u| u.split_once('=').unwrap_or((u, "")));
        if let Some((field, value)) = unless
            && let Err(e) = Context::default().set(field, value)
        {
            self.say(entry, "unless", e.to_string());
        }
        CommissionStep {
            id: entry.id.clone(),
            name: raw.name.clone(),
            text: raw.text.clone(),
            minutes: raw.minutes,
            heats: raw.heats,
            history,
            cautions: self.cautions(entry, &raw.cautions),
            needs: self.conditions(entry, "needs", &raw.needs),
            unless: unless.map(|(field, value)| (field.to_string(), value.to_string())),
            wrong: self.all_wrong(entry, &raw.wrong, findings),
            measure: raw.measure.clone(),
            piece: raw.piece.clone(),
            good: raw.good,
        }
    }

    /// What may be seen that is wrong.
    fn all_wrong<T>(
        &mut self,
        entry: &Entry<T>,
        raw: &[raw::Wrong],
        findings: &[Finding],
    ) -> Vec<Wrong> {
        let all = raw.iter();
        all.filter_map(|w| self.wrong(entry, w, findings)).collect()
    }

    fn wrong<T>(
        &mut self,
        entry: &Entry<T>,
        raw: &raw::Wrong,
        findings: &[Finding],
    ) -> Option<Wrong> {
        let Some((id, state)) = raw.sign.split_once('=') else {
            self.say(entry, "wrong", format!("`{}` is no SIGN=STATE", raw.sign));
            return None;
        };
        let finding = self.resolve(entry, "wrong", id, "finding", |i| &i.findings)?;
        let states = &findings[finding.at()].states;
        let Some(place) = states.iter().position(|s| s.id == state) else {
            let near = hint(state, states.iter().map(|s| s.id.as_str()));
            self.say(
                entry,
                "wrong",
                format!("`{id}` has no state `{state}`{near}"),
            );
            return None;
        };
        Some(Wrong {
            say: raw.say.clone(),
            sign: (finding, place),
        })
    }

    fn interval<T>(&mut self, entry: &Entry<T>, key: &str, raw: &raw::Interval) -> Interval {
        let numbers = [raw.hours, raw.days, raw.kilograms, raw.prints];
        if let Some(odd) = numbers
            .iter()
            .flatten()
            .find(|n| !(1.0..=20_000.0).contains(*n))
        {
            self.say(
                entry,
                key,
                format!("{odd}: an interval is between 1 and 20000"),
            );
        }
        Interval {
            hours: raw.hours,
            days: raw.days,
            kilograms: raw.kilograms,
            prints: raw.prints,
        }
    }

    fn known_part<T>(&mut self, entry: &Entry<T>, key: &str, part: &str) {
        if PARTS.iter().all(|p| p.id != part) {
            let near = hint(part, PARTS.iter().map(|p| p.id));
            self.say(entry, key, format!("`{part}` is no part that wears{near}"));
        }
    }

    pub(super) fn machine_kind(
        &mut self,
        entry: &Entry<raw::MachineKind>,
        tasks: &[UpkeepTask],
    ) -> MachineKind {
        let raw = &entry.raw;
        for (field, value) in &raw.profile {
            if let Err(e) = Context::default().set(field, value) {
                self.say(entry, &format!("profile.{field}"), e.to_string());
            }
        }
        for (part, hours) in &raw.lives {
            self.known_part(entry, &format!("lives.{part}"), part);
            if !(10.0..=100_000.0).contains(hours) {
                let problem = format!("{hours} h: a part lives between 10 and 100000 hours");
                self.say(entry, &format!("lives.{part}"), problem);
            }
        }
        let mut every = std::collections::BTreeMap::new();
        for (task, interval) in &raw.every {
            if tasks.iter().all(|t| t.id != *task) {
                let near = hint(task, tasks.iter().map(|t| t.id.as_str()));
                self.say(entry, "every", format!("`{task}` is no upkeep task{near}"));
            }
            let interval = self.interval(entry, &format!("every.{task}"), interval);
            every.insert(task.clone(), interval);
        }
        let quirks = raw.quirks.iter();
        let mut quirks: Vec<Quirk> = quirks.map(|(id, q)| self.quirk(entry, id, q)).collect();
        quirks.sort_by_key(|q| q.when as usize);
        MachineKind {
            id: entry.id.clone(),
            name: raw.name.clone(),
            text: raw.text.clone(),
            profile: raw.profile.clone(),
            facts: raw.facts.clone(),
            melt_limit_mm3_s: raw.melt_limit_mm3_s,
            price: raw.price,
            lives: raw.lives.clone(),
            every,
            quirks,
        }
    }

    fn quirk<T>(&mut self, entry: &Entry<T>, id: &str, raw: &raw::Quirk) -> Quirk {
        let key = |key: &str| format!("quirks.{id}.{key}");
        let when = raw.when.parse().unwrap_or_else(|e: UnknownId| {
            self.say(entry, &key("when"), e.to_string());
            QuirkTime::Soon
        });
        let mut raises = Vec::new();
        for (cause, factor) in &raw.raises {
            if !(1.0..=MOST_RAISED).contains(factor) {
                let problem = format!("{factor}: a quirk multiplies by 1 to {MOST_RAISED}");
                self.say(entry, &key("raises"), problem);
            }
            let cause = self.resolve(entry, &key("raises"), cause, "cause", |i| &i.causes);
            raises.extend(cause.map(|c| (c, *factor)));
        }
        let fix = raw.fix.as_deref();
        Quirk {
            id: id.to_string(),
            name: raw.name.clone(),
            when,
            effect: raw.effect.clone(),
            mend: raw.mend.clone(),
            money: raw.money,
            minutes: raw.minutes,
            risk: raw.risk.clone(),
            warranty: raw.warranty.clone(),
            fix: fix.and_then(|f| self.resolve(entry, &key("fix"), f, "fix", |i| &i.fixes)),
            part: raw.part.clone(),
            raises,
        }
    }
}
