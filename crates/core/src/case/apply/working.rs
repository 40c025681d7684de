//! What was done at the machine.

use crate::case::beside::Beside;
use crate::case::event::{Entry, Event};
use crate::case::proving::{Proof, chance};
use crate::case::state::{CaseState, Change, Status, Timer};
use crate::evidence::{Confidence, Sighting, Tried};
use crate::knowledge::{CheckId, FixId, Knowledge, TryResult};
use crate::measures::{Reading, Told, answers};
use crate::planning::Present;
use crate::work_id::WorkId;
use time::Duration;

/// Chance that a fix without a name in the knowledge cures.
const UNNAMED: f64 = 0.5;

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

    /// How the fault struck, and prints: what a proof is made of.
    fn prove(&mut self, knowledge: &Knowledge, entry: &Entry) {
        match &entry.event {
            Event::Printed {
                result,
                minutes,
                grams,
                hours,
            } => {
                self.minutes += minutes;
                self.grams += grams;
                self.printed(knowledge, entry, *result, *hours);
            }
            Event::Struck(struck) => {
                self.strikes = Some(*struck);
                self.weigh_proof();
            }
            Event::Lost(lost) => self.lost = Some(*lost),
            Event::Beside { how } => self.seen_beside(knowledge, *how),
            _ => {}
        }
    }

    /// Something beside clean prints proves the fix.
    fn seen_beside(&mut self, knowledge: &Knowledge, how: Beside) {
        let less = match how {
            Beside::CheckSound => self.telling_check(knowledge).map_or(1.0, |(_, less)| less),
            Beside::FaultBack => 0.0,
        };
        if let Some(proof) = &mut self.proof {
            proof.beside = proof.beside.min(less);
        }
        self.weigh_proof();
    }

    fn printed(
        &mut self,
        knowledge: &Knowledge,
        entry: &Entry,
        result: TryResult,
        hours: Option<f64>,
    ) {
        self.present = Present::PRINTED;
        self.over(knowledge, &WorkId::Proof);
        if result == TryResult::Cured {
            self.clean(entry, hours);
            return;
        }
        // The fault again after clean prints: they say how far it may have been chance.
        let struck = self.struck();
        let before = self.proof.take().filter(|p| !p.clean.is_empty());
        let weights = before.map(|proof| {
            let last = proof.last_clean.unwrap_or(proof.from);
            let since = (entry.at - last).as_seconds_f64().max(0.0) / 86_400.0;
            proof.came_back(&struck, since)
        });
        if let Status::Verifying(fix) | Status::Cured(Some(fix)) = self.status {
            // What was clean until now is part of what came of it.
            let clean = |t: &Tried| t.fix == fix && t.weights.is_some() && !t.came_undone;
            self.facts.tried.retain(|t| !clean(t));
            self.facts.tried.push(Tried {
                fix,
                aimed_at: None,
                result,
                came_undone: false,
                weights,
            });
        }
        self.status = Status::Open;
    }

    /// A clean print more for the proof of the fix.
    fn clean(&mut self, entry: &Entry, hours: Option<f64>) {
        if let Some(proof) = &mut self.proof {
            proof.clean.push(hours);
            proof.last_clean = Some(entry.at);
        }
        self.weigh_proof();
    }

    /// What the clean prints since the fix say: as evidence, and of where the case stands.
    fn weigh_proof(&mut self) {
        let struck = self.struck();
        let Some(proof) = self.proof.as_ref().filter(|p| !p.clean.is_empty()) else {
            return;
        };
        let (weights, proven) = (proof.weights(&struck), proof.proving(&struck).proven);
        let Some(fix) = proof.fix else { return };
        let own = self.facts.tried.last_mut();
        match own.filter(|t| t.fix == fix && t.weights.is_some()) {
            Some(tried) => tried.weights = Some(weights),
            None => self.facts.tried.push(Tried {
                fix,
                aimed_at: None,
                result: TryResult::Cured,
                came_undone: false,
                weights: Some(weights),
            }),
        }
        if !matches!(self.status, Status::Resolved(_)) {
            self.status = match proven {
                true => Status::Cured(Some(fix)),
                false => Status::Verifying(fix),
            };
        }
    }

    /// The fault is gone after a try that was a print of its own, by a fix with a name or without
    /// one: the first clean print.
    pub(super) fn gone(&mut self, knowledge: &Knowledge, entry: &Entry, fix: Option<FixId>) {
        let cures = fix.map_or(UNNAMED, |fix| chance(knowledge, &self.facts, fix));
        self.proof = Some(Proof {
            fix,
            cures,
            from: entry.at,
            last_clean: Some(entry.at),
            clean: vec![None],
            beside: 1.0,
        });
        self.status = match fix {
            Some(fix) if !self.proven() => Status::Verifying(fix),
            fix => Status::Cured(fix),
        };
    }

    /// A fix that was applied waits for its proof.
    fn await_proof(&mut self, knowledge: &Knowledge, entry: &Entry, fix: FixId) {
        self.proof = Some(Proof {
            fix: Some(fix),
            cures: chance(knowledge, &self.facts, fix),
            from: entry.at,
            last_clean: None,
            clean: Vec::new(),
            beside: 1.0,
        });
        self.status = Status::Verifying(fix);
    }

    /// Work that is recorded has no timers any more, is no longer set aside, and the case is on
    /// again.
    fn over(&mut self, knowledge: &Knowledge, work: &WorkId) {
        self.timers.retain(|t| t.work != *work);
        self.set_aside.remove(work);
        self.resting = None;
        let done = |check: &CheckId| work.check() == Some(knowledge.check_name(*check));
        if self.wanted.as_ref().is_some_and(done) {
            self.wanted = None;
        }
    }
}
