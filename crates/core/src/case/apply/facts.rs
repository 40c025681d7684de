//! What was told of the fault.

use crate::case::event::{Entry, Event};
use crate::case::state::{CaseFile, CaseState, Picture, Suggestion};
use crate::evidence::{self, Confidence, Sighting, Tried};
use crate::knowledge::{FindingId, Knowledge, TryResult};
use crate::profile::FieldId;
use crate::safety::Fact;
use crate::settings::{Conversion, NumberId};
use std::collections::BTreeMap;

impl CaseState {
    pub(super) fn learn(&mut self, knowledge: &Knowledge, entry: &Entry) {
        match &entry.event {
            Event::Opened {
                title,
                machine_name,
                machine,
                material,
                spool,
            } => {
                self.machine_name = machine_name.clone();
                self.opened_at = Some(entry.at);
                self.describe(title, spool);
                self.set_context(entry.seq, machine, material.as_deref());
            }
            Event::Described {
                title,
                material,
                spool,
                machine,
            } => {
                self.describe(title, spool);
                self.set_context(entry.seq, machine, material.as_deref());
            }
            Event::Measured {
                number,
                value,
                note,
            } => self.measure(entry.seq, number, *value, note.as_ref()),
            Event::Observed {
                finding,
                state,
                confidence,
                ..
            } => self.answer(knowledge, entry.seq, finding, state, *confidence),
            Event::Told { text } => self.told.push(text.clone()),
            Event::Passed { finding } => match knowledge.finding_id(finding) {
                Some(id) => {
                    self.passed.insert(id);
                }
                None => self.unknown.push(finding.clone()),
            },
            Event::Tried { fix, result } => self.tried(knowledge, fix, *result),
            Event::Cleared { cause, confidence } => match knowledge.cause_id(cause) {
                Some(id) => {
                    self.facts.cleared.retain(|(c, _)| *c != id);
                    self.facts.cleared.push((id, *confidence));
                }
                None => self.unknown.push(cause.clone()),
            },
            _ => self.show(knowledge, entry),
        }
    }

    /// Pictures and what others say.
    fn show(&mut self, knowledge: &Knowledge, entry: &Entry) {
        match &entry.event {
            Event::Pictured {
                picture,
                name,
                judgement,
            } => self.pictures.push(Picture {
                id: picture.clone(),
                name: name.clone(),
                judgement: *judgement,
                marks: Vec::new(),
                seq: entry.seq,
            }),
            Event::Filed { file, name } => {
                // The same file added again is one.
                self.files.retain(|known| known.id != *file);
                let (id, name, seq) = (file.clone(), name.clone(), entry.seq);
                self.files.push(CaseFile { id, name, seq });
            }
            Event::Marked { picture, marks } => {
                if let Some(there) = self.pictures.iter_mut().find(|p| p.id == *picture) {
                    there.marks = marks.clone();
                }
            }
            Event::Suggested {
                by,
                cause,
                check,
                text,
            } => self.suggestions.push(Suggestion {
                seq: entry.seq,
                by: by.clone(),
                cause: cause.clone(),
                check: check.clone(),
                text: text.clone(),
                taken: None,
            }),
            Event::Weighed { suggestion, taken } => {
                if let Some(there) = self.suggestions.iter_mut().find(|s| s.seq == *suggestion) {
                    there.taken = Some(*taken);
                    let check = there.check.as_deref().filter(|_| *taken);
                    let check = check.and_then(|id| knowledge.check_id(id));
                    self.wanted = check.or(self.wanted);
                }
            }
            _ => {}
        }
    }

    fn describe(&mut self, title: &str, spool: &str) {
        self.title = title.to_string();
        self.spool = spool.to_string();
    }

    fn measure(&mut self, seq: u32, number: &str, value: f64, note: Option<&Conversion>) {
        if let Some(at) = NumberId::from_id(number) {
            self.stated.insert(Fact::Number(at), seq);
        }
        match note {
            Some(note) => self.converted.insert(number.to_string(), note.clone()),
            None => self.converted.remove(number),
        };
        if self.facts.settings.set(number, value).is_err() {
            self.unknown.push(number.to_string());
        }
    }

    /// Sets fields of the profile and the material. A field is stated anew when its value changes:
    /// a form that sends what was known before says nothing about it.
    pub(super) fn set_context(
        &mut self,
        seq: u32,
        machine: &BTreeMap<String, String>,
        material: Option<&str>,
    ) {
        let material = material.map(|m| (FieldId::Material.id(), m));
        let said = machine.iter().map(|(f, v)| (f.as_str(), v.as_str()));
        for (field, value) in said.chain(material) {
            let known = self.facts.context.named(field);
            match self.facts.context.set(field, value) {
                Ok(()) if known == Some(value) => {}
                Ok(()) => {
                    let at = FieldId::from_id(field).map(|field| field as usize);
                    self.stated.extend(at.map(|at| (Fact::Field(at), seq)));
                }
                Err(_) => self.unknown.push(format!("{field}={value}")),
            }
        }
    }

    pub(super) fn answer(
        &mut self,
        knowledge: &Knowledge,
        seq: u32,
        finding: &str,
        state: &str,
        confidence: Confidence,
    ) {
        let Some(id) = knowledge.finding_id(finding) else {
            self.unknown.push(finding.to_string());
            return;
        };
        self.forget(knowledge, id);
        self.source.insert(id, seq);
        match evidence::answer(knowledge, id, state) {
            Ok(Some(answer)) => {
                let sighting = Sighting { answer, confidence };
                self.facts.findings.insert(id, sighting);
                self.passed.remove(&id);
            }
            Ok(None) => {
                self.passed.insert(id);
            }
            Err(_) => self.unknown.push(format!("{finding}={state}")),
        }
    }

    /// The value a finding had makes room for another.
    pub(super) fn forget(&mut self, knowledge: &Knowledge, id: FindingId) {
        if let Some(old) = self.facts.findings.remove(&id) {
            let state = old.answer.id(knowledge, id).to_string();
            self.replaced.push((id, state));
        }
        if self.readings.remove(&id).is_some() {
            self.replaced.push((id, "a reading".to_string()));
        }
    }

    fn tried(&mut self, knowledge: &Knowledge, fix: &str, result: TryResult) {
        match knowledge.fix_id(fix) {
            Some(fix) => self.facts.tried.push(Tried::of(fix, result)),
            None => self.unknown.push(fix.to_string()),
        }
    }
}
