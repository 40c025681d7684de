//! Signs, behaviours, patterns and numbers; checks and what they find.

use super::{Builder, LEAST_BACKGROUND};
use crate::knowledge::MOST_STATES;
use crate::knowledge::load::{Entries, Entry};
use crate::knowledge::raw;
use crate::knowledge::types::{Check, CheckId, Clash, Finding, FindingId, Region, Section, State};

impl Builder<'_> {
    pub(super) fn finding(&mut self, section: Section, entry: &Entry<raw::Finding>) -> Finding {
        let raw = &entry.raw;
        let states = self.states_of(entry);
        self.states(entry, &states);
        if section != Section::Number && raw.question.is_empty() {
            self.say(entry, "question", "the question is missing");
        }
        let one_of = self.one_of(entry, &states);
        Finding {
            id: entry.id.clone(),
            section,
            region: self.region(entry, section),
            question: raw.question.clone(),
            plain: raw.plain.clone(),
            term: raw.term.clone(),
            states,
            one_of,
            group: raw.group.clone(),
            needs: self.conditions(entry, "needs", &raw.needs),
            check: None,
            also_fix: None,
            several: raw.several,
        }
    }

    /// The states of a finding: absent and present, or a list of its own.
    fn states_of(&mut self, entry: &Entry<raw::Finding>) -> Vec<State> {
        let raw = &entry.raw;
        let state = |id: &str, phrase: &str, background| State {
            id: id.into(),
            phrase: phrase.into(),
            background,
        };
        match (&raw.absent, raw.background, raw.states.is_empty()) {
            (Some(absent), Some(b), true) => vec![
                state("absent", absent, 1.0 - b),
                state("present", &raw.plain, b),
            ],
            (None, None, false) => {
                let states = raw.states.iter();
                states
                    .map(|(id, b, phrase)| state(id, phrase, *b))
                    .collect()
            }
            _ => {
                let message = "give either `absent` and `background`, or `states`";
                self.say(entry, "", message);
                vec![state("absent", "", 0.5), state("present", "", 0.5)]
            }
        }
    }

    /// Answers that stand for several states.
    fn one_of(
        &mut self,
        entry: &Entry<raw::Finding>,
        states: &[State],
    ) -> Vec<(String, Vec<usize>)> {
        let mut one_of = Vec::new();
        for (id, members) in &entry.raw.one_of {
            let place = |m: &String| states.iter().position(|s| s.id == *m);
            let indices: Vec<usize> = members.iter().filter_map(place).collect();
            if indices.len() != members.len() {
                let key = format!("one_of.{id}");
                self.say(entry, &key, "names a state that does not exist");
            }
            one_of.push((id.clone(), indices));
        }
        one_of
    }

    /// The place of the print, or the part of the machine, that a finding belongs to.
    pub(super) fn region(
        &mut self,
        entry: &Entry<raw::Finding>,
        section: Section,
    ) -> Option<Region> {
        let known: Vec<Region> = match section {
            Section::Print => Region::of_print().collect(),
            Section::Machine => Region::of_machine().collect(),
            _ => return None,
        };
        let given = entry.raw.region.as_str();
        let found = known.iter().find(|r| r.id() == given).copied();
        if found.is_none() {
            let known: Vec<&str> = known.iter().map(|r| r.id()).collect();
            let message = format!("`{given}` is not one of {}", known.join(", "));
            self.say(entry, "region", message);
        }
        found
    }

    pub(super) fn states<T>(&mut self, entry: &Entry<T>, states: &[State]) {
        if !(2..=MOST_STATES).contains(&states.len()) {
            self.say(
                entry,
                "states",
                format!("{} states: a finding has 2 to {MOST_STATES}", states.len()),
            );
        }
        for state in states {
            if !(LEAST_BACKGROUND - 1e-12..=1.0).contains(&state.background) {
                self.say(
                    entry,
                    &state.id,
                    format!(
                        "background {} must lie between {LEAST_BACKGROUND} and 1",
                        state.background
                    ),
                );
            }
            if states.iter().filter(|s| s.id == state.id).count() > 1 {
                self.say(entry, &state.id, "the state stands twice");
            }
        }
        let sum: f64 = states.iter().map(|s| s.background).sum();
        if (sum - 1.0).abs() > 1e-9 {
            self.say(
                entry,
                "states",
                format!("backgrounds sum to {sum}, not to 1"),
            );
        }
    }

    /// Signs that hardly stand beside each other, each present.
    pub(super) fn clashes(&mut self, entries: &Entries, findings: &[Finding]) -> Vec<Clash> {
        let mut out = Vec::new();
        for (at, (_, entry)) in entries.findings.iter().enumerate() {
            let own = (FindingId(at as u16), 1);
            let others = self.signs(entry, "against", &entry.raw.against, findings);
            out.extend(others.into_iter().map(|other| (own, other)));
        }
        out
    }

    pub(super) fn check_finding(&mut self, check: CheckId, entry: &Entry<raw::Check>) -> Finding {
        let raw = &entry.raw;
        let also_fix = raw
            .also_fix
            .as_ref()
            .and_then(|id| self.resolve(entry, "also_fix", id, "fix", |i| &i.fixes));
        let states = outcomes(raw);
        self.states(entry, &states);
        for id in raw
            .background
            .keys()
            .chain(raw.sound.iter())
            .chain(&raw.ends_case)
        {
            if !states.iter().any(|s| s.id == *id) {
                self.say(entry, id, "is not among the outcomes");
            }
        }
        if also_fix.is_some()
            && states
                .iter()
                .any(|s| !["cured", "better", "same", "worse"].contains(&s.id.as_str()))
        {
            self.say(
                entry,
                "outcomes",
                "a check that is also a fix has the outcomes cured, better, same, worse",
            );
        }
        Finding {
            id: entry.id.clone(),
            section: Section::Check,
            region: None,
            question: raw.work.name.clone(),
            plain: raw.plain.clone(),
            term: String::new(),
            states,
            one_of: Vec::new(),
            group: raw.group.clone(),
            needs: self.conditions(entry, "needs", &raw.needs),
            check: Some(check),
            also_fix,
            several: raw.several,
        }
    }

    pub(super) fn check(
        &mut self,
        finding: u16,
        entry: &Entry<raw::Check>,
        findings: &[Finding],
    ) -> Check {
        let raw = &entry.raw;
        let own = &findings[finding as usize];
        let mut ends_case: Vec<usize> = raw.ends_case.iter().filter_map(|s| own.state(s)).collect();
        if own.also_fix.is_some() && !raw.proves_nothing {
            ends_case.extend(own.state("cured"));
        }
        let supersedes = raw
            .supersedes
            .iter()
            .filter_map(|id| self.resolve(entry, "supersedes", id, "finding", |i| &i.findings))
            .collect();
        let repeats = raw
            .repeats
            .iter()
            .filter_map(|id| self.resolve(entry, "repeats", id, "finding", |i| &i.findings))
            .collect();
        let mut excludes = vec![Vec::new(); own.states.len()];
        for (outcome, signs) in &raw.excludes {
            let Some(at) = own.state(outcome) else {
                self.say(
                    entry,
                    "excludes",
                    format!("`{outcome}` is not among the outcomes"),
                );
                continue;
            };
            excludes[at] = self.signs(entry, "excludes", signs, findings);
        }
        Check {
            finding: FindingId(finding),
            work: self.work(entry, &raw.work),
            supersedes,
            excludes,
            repeats,
            first_when: self.signs(entry, "first_when", &raw.first_when, findings),
            before_heat: raw.before_heat,
            early_when: self.signs(entry, "early_when", &raw.early_when, findings),
            before_fixes_when: self.signs(
                entry,
                "before_fixes_when",
                &raw.before_fixes_when,
                findings,
            ),
            ends_case,
        }
    }

    fn signs<T>(
        &mut self,
        entry: &Entry<T>,
        key: &str,
        signs: &[String],
        findings: &[Finding],
    ) -> Vec<(FindingId, usize)> {
        signs
            .iter()
            .filter_map(|sign| self.sign(entry, key, sign, findings))
            .collect()
    }

    /// A sign in a state, `sign=state`; without one it is present.
    fn sign<T>(
        &mut self,
        entry: &Entry<T>,
        key: &str,
        text: &str,
        findings: &[Finding],
    ) -> Option<(FindingId, usize)> {
        let (id, state) = text.split_once('=').unwrap_or((text, "present"));
        let finding = self.resolve(entry, key, id, "finding", |i| &i.findings)?;
        let at = findings[finding.at()].state(state);
        if at.is_none() {
            self.say(entry, key, format!("`{state}` is no state of `{id}`"));
        }
        at.map(|at| (finding, at))
    }
}

/// The outcomes of a check with how often each is seen where nothing is wrong: as written, else the
/// sound one nine times in ten, else all alike.
fn outcomes(raw: &raw::Check) -> Vec<State> {
    let others = raw.outcomes.len().saturating_sub(1).max(1) as f64;
    raw.outcomes
        .iter()
        .map(|(id, phrase)| {
            let background = raw.background.get(id).copied().unwrap_or(match &raw.sound {
                Some(sound) if sound == id => 0.9,
                Some(_) => 0.1 / others,
                None => 1.0 / raw.outcomes.len().max(1) as f64,
            });
            State {
                id: id.clone(),
                phrase: phrase.clone(),
                background,
            }
        })
        .collect()
}
