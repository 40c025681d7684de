//! What stands around the work: cautions, looks before a print, windows of materials, stops.

use super::Builder;
use crate::identified::UnknownId;
use crate::knowledge::load::Entry;
use crate::knowledge::order::Belongs;
use crate::knowledge::raw;
use crate::knowledge::types::{
    Act, Caution, CautionLevel, Finding, Material, Precaution, Stands, Stop, StopTerm,
};
use crate::profile::Condition;
use crate::settings::NumberId;

impl Builder<'_> {
    pub(super) fn caution(&mut self, entry: &Entry<raw::Caution>) -> Caution {
        let level = entry.raw.level.parse().unwrap_or_else(|e: UnknownId| {
            self.say(entry, "level", e.to_string());
            CautionLevel::Warning
        });
        Caution {
            id: entry.id.clone(),
            level,
            text: entry.raw.text.clone(),
            when: self.conditions(entry, "when", &entry.raw.when),
            belongs: self.belongs(entry),
        }
    }

    /// What a caution belongs to: how the machine stands, or what is done.
    fn belongs(&mut self, entry: &Entry<raw::Caution>) -> Vec<Belongs> {
        let mut out = Vec::new();
        for word in &entry.raw.belongs {
            match (word.parse::<Stands>(), word.parse::<Act>()) {
                (Ok(stands), _) => out.push(Belongs::Standing(stands)),
                (_, Ok(act)) => out.push(Belongs::Act(act)),
                (Err(_), Err(unknown)) => self.say(entry, "belongs", unknown.to_string()),
            }
        }
        out
    }

    /// Cautions to be read before something, by index.
    pub(super) fn cautions<T>(&mut self, entry: &Entry<T>, ids: &[String]) -> Vec<usize> {
        let known = ids.iter();
        known
            .filter_map(|id| self.resolve(entry, "cautions", id, "caution", |i| &i.cautions))
            .collect()
    }

    pub(super) fn precaution(&mut self, entry: &Entry<raw::Precaution>) -> Precaution {
        let raw = &entry.raw;
        if !(1.0..=1800.0).contains(&raw.seconds) {
            self.say(
                entry,
                "seconds",
                format!(
                    "{} seconds: a look before a print takes 1 to 1800",
                    raw.seconds
                ),
            );
        }
        let mut catches = Vec::new();
        for (id, strength) in &raw.catches {
            let chance = self.probability(entry, &format!("catches.{id}"), strength);
            catches.extend(
                self.resolve(entry, "catches", id, "cause", |i| &i.causes)
                    .map(|cause| (cause, chance)),
            );
        }
        let cautions = self.cautions(entry, &raw.cautions);
        let needs = self.conditions(entry, "needs", &raw.needs);
        Precaution {
            id: entry.id.clone(),
            text: raw.text.clone(),
            minutes: raw.seconds / 60.0,
            catches,
            always: raw.always,
            cautions,
            needs,
        }
    }

    pub(super) fn material(&mut self, entry: &Entry<raw::Material>) -> Material {
        let raw = &entry.raw;
        for (key, (low, high)) in [
            ("nozzle_c", raw.nozzle_c),
            ("bed_c", raw.bed_c),
            ("chamber_c", raw.chamber_c),
            ("fan_percent", raw.fan_percent),
        ] {
            if low >= high {
                self.say(entry, key, format!("the window {low} to {high} is empty"));
            }
        }
        if let Err(e) = Condition::parse(&format!("material={}", entry.id)) {
            self.say(entry, "", e);
        }
        Material {
            id: entry.id.clone(),
            nozzle_c: raw.nozzle_c,
            bed_c: raw.bed_c,
            chamber_c: raw.chamber_c,
            fan_percent: raw.fan_percent,
            closed: raw.closed,
            drying: raw.drying.clone(),
        }
    }

    pub(super) fn stop(&mut self, entry: &Entry<raw::Stop>, findings: &[Finding]) -> Stop {
        let raw = &entry.raw;
        let holds = raw
            .holds
            .iter()
            .map(|all| {
                all.iter()
                    .filter_map(|t| self.stop_term(entry, t, findings))
                    .collect()
            })
            .collect();
        let until = raw
            .until
            .iter()
            .filter_map(|t| self.stop_term(entry, t, findings))
            .collect();
        let check = raw
            .check
            .as_ref()
            .and_then(|id| self.resolve(entry, "check", id, "check", |i| &i.checks));
        Stop {
            id: entry.id.clone(),
            name: raw.title.clone(),
            why: raw.why.clone(),
            holds,
            until,
            check,
            work: self.work(entry, &raw.work),
        }
    }

    /// `finding=state`, `field=value` of the context, `number>=value`, or `number>=limit|value`
    /// with a limit of the case's own.
    pub(super) fn stop_term(
        &mut self,
        entry: &Entry<raw::Stop>,
        text: &str,
        findings: &[Finding],
    ) -> Option<StopTerm> {
        let found = if let Some((number, value)) = text.split_once(">=") {
            let (limit, usual) = match value.split_once('|') {
                Some((limit, usual)) => (Some(limit), usual),
                None => (None, value),
            };
            let limit = limit.map(NumberId::from_id);
            match (NumberId::from_id(number), limit, usual.parse()) {
                (Some(number), None, Ok(usual)) => Ok(StopTerm::AtLeast(number, None, usual)),
                (Some(number), Some(Some(limit)), Ok(usual)) => {
                    Ok(StopTerm::AtLeast(number, Some(limit), usual))
                }
                _ => Err(format!(
                    "`{text}` is not number>=value or number>=limit|value"
                )),
            }
        } else {
            match text
                .split_once('=')
                .and_then(|(id, state)| Some((*self.index.findings.get(id)?, state)))
            {
                Some((f, state)) => findings[f.at()]
                    .state(state)
                    .map(|s| StopTerm::Finding(f, s))
                    .ok_or_else(|| format!("`{state}` is no state of it")),
                None => Condition::parse(text).map(StopTerm::Context),
            }
        };
        found.map_err(|e| self.say(entry, "holds", e)).ok()
    }
}
