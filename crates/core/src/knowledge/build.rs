//! Turns entries into the validated knowledge: resolves every reference, checks every value.

use super::load::{Entries, Entry, Problem};
use super::raw;
use super::strength::WEIGHTS;
use super::types::*;
use crate::identified::UnknownId;
use crate::knowledge::{CautionLevel, Family, Region};
use crate::nearest::hint;
use crate::profile::Condition;
use crate::settings::NumberId;
use std::collections::HashMap;

/// Backgrounds may not fall below this.
const LEAST_BACKGROUND: f64 = 0.01;

/// Most states a finding may have. Most have 2 to 5; "what changed last" has ten.
pub const MOST_STATES: usize = 12;

/// Identifiers with the index each stands for.
#[derive(Debug, Clone, Default)]
pub(super) struct Index {
    pub causes: HashMap<String, CauseId>,
    pub findings: HashMap<String, FindingId>,
    pub checks: HashMap<String, CheckId>,
    pub fixes: HashMap<String, FixId>,
    pub cautions: HashMap<String, usize>,
}

pub(super) struct Built {
    pub index: Index,
    pub causes: Vec<Cause>,
    pub findings: Vec<Finding>,
    pub checks: Vec<Check>,
    pub fixes: Vec<Fix>,
    pub cautions: Vec<Caution>,
    pub materials: Vec<Material>,
    pub stops: Vec<Stop>,
    pub precautions: Vec<Precaution>,
    pub glossary: Vec<Term>,
    pub phrases: Vec<Phrase>,
}

pub(super) fn build(entries: &Entries, problems: &mut Vec<Problem>) -> Built {
    let mut index = Index::default();
    number(
        entries.causes.iter().map(|(_, e)| e),
        &mut index.causes,
        CauseId,
        problems,
    );
    number(entries.fixes.iter(), &mut index.fixes, FixId, problems);
    number(
        entries.findings.iter().map(|(_, e)| e),
        &mut index.findings,
        FindingId,
        problems,
    );
    let first_check = entries.findings.len() as u16;
    for (i, entry) in entries.checks.iter().enumerate() {
        index.checks.insert(entry.id.clone(), CheckId(i as u16));
        if index
            .findings
            .insert(entry.id.clone(), FindingId(first_check + i as u16))
            .is_some()
        {
            problems.push(entry.problem("", "this identifier stands for two findings"));
        }
    }
    for (i, entry) in entries.cautions.iter().enumerate() {
        index.cautions.insert(entry.id.clone(), i);
    }

    let caution_words = entries
        .cautions
        .iter()
        .map(|e| e.raw.before.clone())
        .collect();
    let mut build = Builder {
        index,
        caution_words,
        problems,
    };
    let mut findings: Vec<Finding> = entries
        .findings
        .iter()
        .map(|(section, e)| build.finding(*section, e))
        .collect();
    findings.extend(
        entries
            .checks
            .iter()
            .enumerate()
            .map(|(i, e)| build.check_finding(CheckId(i as u16), e)),
    );
    let checks = entries
        .checks
        .iter()
        .enumerate()
        .map(|(i, e)| build.check(first_check + i as u16, e, &findings))
        .collect();
    let mut fixes: Vec<Fix> = entries.fixes.iter().map(|e| build.fix(e)).collect();
    let causes = entries
        .causes
        .iter()
        .enumerate()
        .map(|(i, (family, e))| build.cause(i, *family, e, &mut fixes))
        .collect();
    let cautions = entries.cautions.iter().map(|e| build.caution(e)).collect();
    let materials = entries
        .materials
        .iter()
        .map(|e| build.material(e))
        .collect();
    let stops = entries
        .stops
        .iter()
        .map(|e| build.stop(e, &findings))
        .collect();
    let precautions = entries
        .precautions
        .iter()
        .map(|e| build.precaution(e))
        .collect();
    let glossary = entries.glossary.iter().map(|e| build.term(e)).collect();
    let phrases = entries
        .phrases
        .iter()
        .flat_map(|e| build.phrases(e, &findings))
        .collect();
    for (fix, entry) in fixes.iter().zip(&entries.fixes) {
        if fix.cures.is_empty() {
            build
                .problems
                .push(entry.problem("", "no cause names this fix"));
        }
    }
    Built {
        index: build.index,
        causes,
        findings,
        checks,
        fixes,
        cautions,
        materials,
        stops,
        precautions,
        glossary,
        phrases,
    }
}

fn number<'a, T: 'a, I>(
    entries: impl Iterator<Item = &'a Entry<T>>,
    into: &mut HashMap<String, I>,
    id: impl Fn(u16) -> I,
    problems: &mut Vec<Problem>,
) {
    for (i, entry) in entries.enumerate() {
        if into.insert(entry.id.clone(), id(i as u16)).is_some() {
            problems.push(entry.problem("", "this identifier stands twice"));
        }
    }
}

pub(super) struct Builder<'p> {
    pub(super) index: Index,
    /// By caution: words of the step it is said before.
    pub(super) caution_words: Vec<Vec<String>>,
    pub(super) problems: &'p mut Vec<Problem>,
}

impl Builder<'_> {
    pub(super) fn say<T>(&mut self, entry: &Entry<T>, key: &str, message: impl Into<String>) {
        self.problems.push(entry.problem(key, message));
    }

    fn conditions<T>(&mut self, entry: &Entry<T>, key: &str, texts: &[String]) -> Vec<Condition> {
        let mut out = Vec::new();
        for text in texts {
            match Condition::parse(text) {
                Ok(condition) => out.push(condition),
                Err(e) => self.say(entry, key, e),
            }
        }
        out
    }

    pub(super) fn resolve<T, I: Copy>(
        &mut self,
        entry: &Entry<T>,
        key: &str,
        id: &str,
        what: &str,
        get: impl Fn(&Index) -> &HashMap<String, I>,
    ) -> Option<I> {
        let found = get(&self.index).get(id).copied();
        if found.is_none() {
            let message = format!(
                "`{id}` is no {what}{}",
                hint(id, get(&self.index).keys().map(String::as_str))
            );
            self.say(entry, key, message);
        }
        found
    }

    fn probability<T>(
        &mut self,
        entry: &Entry<T>,
        key: &str,
        strength: &super::strength::Strength,
    ) -> f64 {
        strength.value().unwrap_or_else(|e| {
            self.say(entry, key, e);
            0.5
        })
    }

    fn finding(&mut self, section: Section, entry: &Entry<raw::Finding>) -> Finding {
        let raw = &entry.raw;
        let states = match (&raw.absent, raw.background, raw.states.is_empty()) {
            (Some(absent), Some(b), true) => vec![
                State {
                    id: "absent".into(),
                    phrase: absent.clone(),
                    background: 1.0 - b,
                },
                State {
                    id: "present".into(),
                    phrase: raw.plain.clone(),
                    background: b,
                },
            ],
            (None, None, false) => raw
                .states
                .iter()
                .map(|(id, background, phrase)| State {
                    id: id.clone(),
                    phrase: phrase.clone(),
                    background: *background,
                })
                .collect(),
            _ => {
                self.say(
                    entry,
                    "",
                    "give either `absent` and `background`, or `states`",
                );
                vec![
                    State {
                        id: "absent".into(),
                        phrase: String::new(),
                        background: 0.5,
                    },
                    State {
                        id: "present".into(),
                        phrase: String::new(),
                        background: 0.5,
                    },
                ]
            }
        };
        self.states(entry, &states);
        if section != Section::Number && raw.question.is_empty() {
            self.say(entry, "question", "the question is missing");
        }
        let mut one_of = Vec::new();
        for (id, members) in &raw.one_of {
            let indices: Vec<usize> = members
                .iter()
                .filter_map(|m| states.iter().position(|s| s.id == *m))
                .collect();
            if indices.len() != members.len() {
                self.say(
                    entry,
                    &format!("one_of.{id}"),
                    "names a state that does not exist",
                );
            }
            one_of.push((id.clone(), indices));
        }
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
        }
    }

    /// The place of the print, or the part of the machine, that a finding belongs to.
    fn region(&mut self, entry: &Entry<raw::Finding>, section: Section) -> Option<Region> {
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

    fn states<T>(&mut self, entry: &Entry<T>, states: &[State]) {
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

    fn check_finding(&mut self, check: CheckId, entry: &Entry<raw::Check>) -> Finding {
        let raw = &entry.raw;
        let also_fix = raw
            .also_fix
            .as_ref()
            .and_then(|id| self.resolve(entry, "also_fix", id, "fix", |i| &i.fixes));
        let others = raw.outcomes.len().saturating_sub(1).max(1) as f64;
        let states: Vec<State> = raw
            .outcomes
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
            .collect();
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
        }
    }

    fn check(&mut self, finding: u16, entry: &Entry<raw::Check>, findings: &[Finding]) -> Check {
        let raw = &entry.raw;
        let own = &findings[finding as usize];
        let mut ends_case: Vec<usize> = raw.ends_case.iter().filter_map(|s| own.state(s)).collect();
        if own.also_fix.is_some() {
            ends_case.extend(own.state("cured"));
        }
        let supersedes = raw
            .supersedes
            .iter()
            .filter_map(|id| self.resolve(entry, "supersedes", id, "finding", |i| &i.findings))
            .collect();
        Check {
            finding: FindingId(finding),
            work: self.work(entry, &raw.work),
            supersedes,
            ends_case,
        }
    }

    fn fix(&mut self, entry: &Entry<raw::Fix>) -> Fix {
        let raw = &entry.raw;
        let kind = match raw.kind.as_str() {
            "easy" => FixKind::Easy,
            "involved" => FixKind::Involved,
            "work-around" => FixKind::WorkAround,
            other => {
                self.say(
                    entry,
                    "kind",
                    format!("`{other}` is not one of easy, involved, work-around"),
                );
                FixKind::Easy
            }
        };
        Fix {
            id: entry.id.clone(),
            kind,
            work: self.work(entry, &raw.work),
            cures: Vec::new(),
            verify: raw.verify.clone(),
            verify_minutes: raw.verify_minutes,
            verify_waiting: raw.verify_waiting,
            verify_grams: raw.verify_grams,
            changes: raw.changes.clone(),
            may_bring: raw
                .may_bring
                .iter()
                .filter_map(|id| self.resolve(entry, "may_bring", id, "finding", |i| &i.findings))
                .collect(),
            warranty: raw.warranty.clone(),
            school: raw.school.clone(),
            needs: self.conditions(entry, "needs", &raw.needs),
        }
    }

    fn cause(
        &mut self,
        at: usize,
        family: Family,
        entry: &Entry<raw::Cause>,
        fixes: &mut [Fix],
    ) -> Cause {
        let raw = &entry.raw;
        let weight = WEIGHTS
            .iter()
            .find(|(word, _)| *word == raw.weight)
            .map(|(_, w)| *w)
            .unwrap_or_else(|| {
                let words: Vec<_> = WEIGHTS.iter().map(|(w, _)| *w).collect();
                self.say(
                    entry,
                    "weight",
                    format!("`{}` is not one of {}", raw.weight, words.join(", ")),
                );
                4.0
            });
        let mut factors = Vec::new();
        for (text, factor) in &raw.context {
            match Condition::parse(text) {
                Ok(_) if !(0.0..=20.0).contains(factor) => self.say(
                    entry,
                    &format!("context.{text}"),
                    format!("factor {factor} must lie between 0 and 20"),
                ),
                Ok(condition) => factors.push((condition, *factor)),
                Err(e) => self.say(entry, &format!("context.{text}"), e),
            }
        }
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

    fn caution(&mut self, entry: &Entry<raw::Caution>) -> Caution {
        let level = entry.raw.level.parse().unwrap_or_else(|e: UnknownId| {
            self.say(entry, "level", e.to_string());
            CautionLevel::Warning
        });
        Caution {
            id: entry.id.clone(),
            level,
            text: entry.raw.text.clone(),
            when: self.conditions(entry, "when", &entry.raw.when),
            before: entry.raw.before.clone(),
        }
    }

    fn precaution(&mut self, entry: &Entry<raw::Precaution>) -> Precaution {
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
        let cautions = raw
            .cautions
            .iter()
            .filter_map(|id| self.resolve(entry, "cautions", id, "caution", |i| &i.cautions))
            .collect();
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

    fn term(&mut self, entry: &Entry<raw::Term>) -> Term {
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
            see: raw.see.clone(),
        }
    }

    fn phrases(&mut self, entry: &Entry<raw::Phrases>, findings: &[Finding]) -> Vec<Phrase> {
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

    fn material(&mut self, entry: &Entry<raw::Material>) -> Material {
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

    fn stop(&mut self, entry: &Entry<raw::Stop>, findings: &[Finding]) -> Stop {
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

    /// `finding=state`, `field=value` of the context, `number>=value`, or `number>=limit|value` with a limit of the case's own.
    fn stop_term(
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
