//! What was done at the machine.

use crate::case::event::{Entry, Event};
use crate::case::state::{CaseState, Change, Timer};
use crate::evidence::{Confidence, Sighting};
use crate::knowledge::{CheckId, Knowledge};
use crate::measures::{Reading, Told, answers};
use crate::work_id::WorkId;
use time::Duration;

impl CaseState {
    pub(super) fn work(&mut self, knowledge: &Knowledge, entry: &Entry) {
        match &entry.event {
            Event::Checked {
                check,
                outcome,
                confidence,
                minutes,
            } => {
                self.minutes += minutes;
                self.over(knowledge, &WorkId::Check(check.clone()));
                self.answer(knowledge, entry.seq, check, outcome, *confidence);
                self.checked(knowledge, entry, check, outcome);
            }
            Event::Gauged {
                check,
                readings,
                confirmed,
                minutes,
                ..
            } => {
                self.minutes += minutes;
                let told = Told {
                    readings: readings.clone(),
                    confirmed: *confirmed,
                };
                self.gauged(knowledge, entry.seq, check, told);
                self.over(knowledge, &WorkId::Check(check.clone()));
            }
            Event::Benched { reading, minutes } => {
                self.minutes += minutes;
                self.benched(knowledge, entry.seq, reading);
            }
            Event::SetAside { step, why, minutes } => {
                self.minutes += minutes;
                self.over(knowledge, step);
                self.set_aside.insert(step.clone(), *why);
            }
            Event::TakenUp { step } => {
                self.set_aside.remove(step);
            }
            Event::PutBack { fixed } => {
                if let Some(change) = self.changes.iter_mut().find(|c| c.seq == *fixed) {
                    change.put_back = true;
                    let gone = change.fix;
                    if let Some(proof) = &mut self.proof {
                        proof.together = proof.together.without(gone);
                    }
                }
            }
            Event::LeftForLater { note } => self.resting = Some(note.clone()),
            Event::Fixed { .. } => self.fixed(knowledge, entry),
            Event::Printed { .. } | Event::Struck(_) | Event::Lost(_) | Event::Beside { .. } => {
                self.prove(knowledge, entry);
            }
            _ => self.keep(entry),
        }
    }

    /// Waits and parts: what goes on while a step is under way.
    fn keep(&mut self, entry: &Entry) {
        match &entry.event {
            Event::TimerSet {
                work,
                step,
                minutes,
            } => {
                self.resting = None;
                self.timers.retain(|t| t.work != *work || t.step != *step);
                self.timers.push(Timer {
                    work: work.clone(),
                    step: *step,
                    from: entry.at,
                    until: entry.at + Duration::seconds_f64(minutes * 60.0),
                });
            }
            Event::PartKept { work, part, back } => {
                let kept = (work.clone(), part.clone());
                self.parts_out.retain(|p| *p != kept);
                if !back {
                    self.parts_out.push(kept);
                }
            }
            _ => {}
        }
    }

    /// What an outcome that was seen leaves behind.
    fn checked(&mut self, knowledge: &Knowledge, entry: &Entry, check: &str, outcome: &str) {
        let Some(id) = knowledge.check_id(check) else {
            return;
        };
        let check = knowledge.check(id);
        self.present = self.present.after(&check.work);
        self.grams += check.work.grams;
        let finding = knowledge.finding(check.finding);
        let ends = |state| check.ends_case.contains(&state);
        if finding.state(outcome).is_some_and(ends) {
            self.gone(knowledge, entry, finding.also_fix);
        }
    }

    /// A reading of the bench answers the findings it speaks of, and the check of its name.
    fn benched(&mut self, knowledge: &Knowledge, seq: u32, reading: &Reading) {
        let Ok((measure, out)) = reading.reckon() else {
            self.unknown
                .push(format!("a reading of {}", reading.measure));
            return;
        };
        for (finding, answer) in answers(knowledge, measure, &out) {
            self.forget(knowledge, finding);
            self.source.insert(finding, seq);
            self.passed.remove(&finding);
            let confidence = Confidence::Sure;
            let sighting = Sighting { answer, confidence };
            self.facts.findings.insert(finding, sighting);
        }
        if let Some(check) = knowledge.check_id(measure.id) {
            self.present = self.present.after(&knowledge.check(check).work);
            self.over(knowledge, &WorkId::Check(measure.id.to_string()));
        }
    }

    fn gauged(&mut self, knowledge: &Knowledge, seq: u32, check: &str, told: Told) {
        let Some(id) = knowledge.check_id(check) else {
            self.unknown.push(check.to_string());
            return;
        };
        let check = knowledge.check(id);
        self.forget(knowledge, check.finding);
        self.source.insert(check.finding, seq);
        self.readings.insert(check.finding, told);
        self.passed.remove(&check.finding);
        self.present = self.present.after(&check.work);
        self.grams += check.work.grams;
    }

    fn fixed(&mut self, knowledge: &Knowledge, entry: &Entry) {
        let Event::Fixed {
            fix,
            minutes,
            money,
            before,
            after,
            ..
        } = &entry.event
        else {
            return;
        };
        self.minutes += minutes;
        self.money += money;
        self.over(knowledge, &WorkId::Fix(fix.clone()));
        let Some(id) = knowledge.fix_id(fix) else {
            self.unknown.push(fix.clone());
            return;
        };
        if let Some(before) = before {
            self.changes.push(Change {
                seq: entry.seq,
                fix: id,
                before: before.clone(),
                after: after.clone(),
                put_back: false,
            });
        }
        self.present = self.present.after(&knowledge.fix(id).work);
        self.await_proof(knowledge, entry, id);
    }

    /// Work that is recorded has no timers any more, is no longer set aside, and the case is on
    /// again.
    pub(super) fn over(&mut self, knowledge: &Knowledge, work: &WorkId) {
        self.timers.retain(|t| t.work != *work);
        self.set_aside.remove(work);
        self.resting = None;
        let done = |check: &CheckId| work.check() == Some(knowledge.check_name(*check));
        if self.wanted.as_ref().is_some_and(done) {
            self.wanted = None;
        }
    }
}
