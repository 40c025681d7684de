//! Turns entries into the validated knowledge: resolves every reference, checks every value.

mod around;
mod faults;
mod findings;
mod schools;
mod upkeep;
mod words;

use super::load::{Entries, Entry, Problem};
use super::order::Belongs;
use super::strength::Strength;
use super::types::{
    Cause, CauseId, Caution, Check, CheckId, Clash, CommissionStep, Finding, FindingId, Fix, FixId,
    MachineKind, Material, Phrase, Precaution, School, Stop, Term, UpkeepTask,
};
use crate::nearest::hint;
use crate::profile::Condition;
use std::collections::HashMap;

/// Backgrounds may not fall below this.
const LEAST_BACKGROUND: f64 = 0.01;

/// Most states a finding may have. Most have 2 to 5; "what changed last" has fifteen.
pub const MOST_STATES: usize = 16;

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
    pub upkeep: Vec<UpkeepTask>,
    pub commissioning: Vec<CommissionStep>,
    pub machine_kinds: Vec<MachineKind>,
    pub schools: Vec<School>,
    pub glossary: Vec<Term>,
    pub phrases: Vec<Phrase>,
    pub clashes: Vec<Clash>,
}

/// Everything of the entries, as far as it can be understood; `problems` gathers what cannot.
pub(super) fn build(entries: &Entries, problems: &mut Vec<Problem>) -> Built {
    let mut build = Builder {
        index: numbered(entries, problems),
        belongs: Vec::new(),
        problems,
    };
    let cautions = entries.cautions.iter();
    let cautions: Vec<Caution> = cautions.map(|e| build.caution(e)).collect();
    build.belongs = cautions.iter().map(|c| c.belongs.clone()).collect();
    let findings = build.all_findings(entries);
    let clashes = build.clashes(entries, &findings);
    let first_check = entries.findings.len() as u16;
    let checks = (first_check..).zip(&entries.checks);
    let checks = checks.map(|(i, e)| build.check(i, e, &findings)).collect();
    let mut fixes: Vec<Fix> = entries.fixes.iter().map(|e| build.fix(e)).collect();
    let causes = entries.causes.iter().enumerate();
    let causes = causes
        .map(|(i, (family, e))| build.cause(i, *family, e, &mut fixes))
        .collect();
    build.every_fix_is_named(&fixes, entries);
    let phrases = entries.phrases.iter();
    let phrases = phrases.flat_map(|e| build.phrases(e, &findings)).collect();
    let stops = entries.stops.iter();
    let stops = stops.map(|e| build.stop(e, &findings)).collect();
    let upkeep = entries.upkeep.iter();
    let upkeep: Vec<_> = upkeep.map(|e| build.upkeep(e, &findings)).collect();
    build.marks(&entries.upkeep, &entries.precautions);
    let commissioning = entries.commissioning.iter();
    let commissioning = commissioning
        .map(|e| build.commission_step(e, &findings))
        .collect();
    let machine_kinds = entries.kinds.iter();
    let machine_kinds = machine_kinds.map(|e| build.machine_kind(e, &upkeep));
    let machine_kinds = machine_kinds.collect();
    let materials = entries
        .materials
        .iter()
        .map(|e| build.material(e))
        .collect();
    let precautions = entries.precautions.iter();
    let precautions = precautions.map(|e| build.precaution(e)).collect();
    Built {
        causes,
        checks,
        fixes,
        cautions,
        materials,
        stops,
        precautions,
        schools: entries.schools.iter().map(|e| build.school(e)).collect(),
        glossary: entries.glossary.iter().map(|e| build.term(e)).collect(),
        phrases,
        upkeep,
        commissioning,
        machine_kinds,
        clashes,
        findings,
        index: build.index,
    }
}

/// The index each identifier stands for. What a check finds follows the findings that are asked
/// for.
fn numbered(entries: &Entries, problems: &mut Vec<Problem>) -> Index {
    let mut index = Index::default();
    let causes = entries.causes.iter().map(|(_, e)| e);
    number(causes, &mut index.causes, CauseId, problems);
    number(entries.fixes.iter(), &mut index.fixes, FixId, problems);
    let findings = entries.findings.iter().map(|(_, e)| e);
    number(findings, &mut index.findings, FindingId, problems);
    let first_check = entries.findings.len() as u16;
    for (i, entry) in (0..).zip(&entries.checks) {
        let id = entry.id.clone();
        index.checks.insert(id.clone(), CheckId(i));
        let before = index.findings.insert(id, FindingId(first_check + i));
        if before.is_some() {
            problems.push(entry.problem("", "this identifier stands for two findings"));
        }
    }
    let cautions = entries.cautions.iter().enumerate();
    index.cautions = cautions.map(|(i, e)| (e.id.clone(), i)).collect();
    index
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
    /// By caution: what it belongs to.
    pub(super) belongs: Vec<Vec<Belongs>>,
    pub(super) problems: &'p mut Vec<Problem>,
}

impl Builder<'_> {
    /// A fix that no cause names is of no use.
    fn every_fix_is_named(&mut self, fixes: &[Fix], entries: &Entries) {
        for (fix, entry) in fixes.iter().zip(&entries.fixes) {
            if fix.cures.is_empty() {
                self.say(entry, "", "no cause names this fix");
            }
        }
    }

    /// Findings asked for, then those of the checks.
    fn all_findings(&mut self, entries: &Entries) -> Vec<Finding> {
        let asked = entries.findings.iter();
        let mut findings: Vec<Finding> = asked.map(|(s, e)| self.finding(*s, e)).collect();
        for (i, entry) in (0..).zip(&entries.checks) {
            findings.push(self.check_finding(CheckId(i), entry));
        }
        findings
    }

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

    fn probability<T>(&mut self, entry: &Entry<T>, key: &str, strength: &Strength) -> f64 {
        strength.value().unwrap_or_else(|e| {
            self.say(entry, key, e);
            0.5
        })
    }
}
