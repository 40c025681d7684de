//! How the fault struck, and prints: what a proof is made of.

use crate::case::beside::Beside;
use crate::case::event::{Entry, Event};
use crate::case::improving::Since;
use crate::case::proving::{Proof, chance};
use crate::case::state::{CaseState, Status};
use crate::evidence::{Together, Tried};
use crate::knowledge::{FixId, Knowledge, TryResult};
use crate::planning::Present;
use crate::work_id::WorkId;

/// Chance that a fix without a name in the knowledge cures.
const UNNAMED: f64 = 0.5;

impl CaseState {
    /// How the fault struck, and prints: what a proof is made of.
    pub(super) fn prove(&mut self, knowledge: &Knowledge, entry: &Entry) {
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
        if let Some(since) = &mut self.since {
            since.print(result);
        }
        if result == TryResult::Cured {
            self.clean(entry, hours);
            return;
        }
        // The fault again after clean prints: they say how far it may have been chance.
        let struck = self.struck();
        let before = self.proof.take();
        let together = before.as_ref().map(|p| p.together).unwrap_or_default();
        let weights = before.filter(|p| !p.clean.is_empty()).map(|proof| {
            let last = proof.last_clean.unwrap_or(proof.from);
            let since = (entry.at - last).as_seconds_f64().max(0.0) / 86_400.0;
            proof.came_back(&struck, since)
        });
        if let Status::Verifying(fix) | Status::Cured(Some(fix)) = self.status {
            // What was clean until now is part of what came of it.
            let clean = |t: &Tried| t.fix == fix && t.weights.is_some() && !t.came_undone;
            self.facts.tried.retain(|t| !clean(t));
            self.facts.tried.push(Tried {
                together,
                weights,
                ..Tried::of(fix, result)
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
        let together = proof.together;
        let own = self.facts.tried.last_mut();
        match own.filter(|t| t.fix == fix && t.weights.is_some()) {
            Some(tried) => tried.weights = Some(weights),
            None => self.facts.tried.push(Tried {
                together,
                weights: Some(weights),
                ..Tried::of(fix, TryResult::Cured)
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
        let together = Together::default();
        let cures = fix.map_or(UNNAMED, |fix| chance(knowledge, &self.facts, fix, together));
        self.proof = Some(Proof {
            fix,
            together,
            cures,
            from: entry.at,
            last_clean: Some(entry.at),
            clean: vec![None],
            beside: 1.0,
        });
        if fix.is_some() {
            let mut since = Since::fix(fix);
            since.print(TryResult::Cured);
            self.since = Some(since);
        }
        self.status = match fix {
            Some(fix) if !self.proven() => Status::Verifying(fix),
            fix => Status::Cured(fix),
        };
    }

    /// A fix that was applied waits for its proof: with those applied before it, where nothing was
    /// printed between.
    pub(super) fn await_proof(&mut self, knowledge: &Knowledge, entry: &Entry, fix: FixId) {
        let together = self.unprinted(fix);
        self.since = Some(Since::fix(Some(fix)));
        self.proof = Some(Proof {
            fix: Some(fix),
            together,
            cures: chance(knowledge, &self.facts, fix, together),
            from: entry.at,
            last_clean: None,
            clean: Vec::new(),
            beside: 1.0,
        });
        self.status = Status::Verifying(fix);
    }

    /// Fixes that no print has tried yet, this one and what was put back left out.
    fn unprinted(&self, fix: FixId) -> Together {
        let waiting = self.proof.as_ref().filter(|p| p.clean.is_empty());
        let Some((proof, last)) = waiting.and_then(|p| Some((p, p.fix?))) else {
            return Together::default();
        };
        let put_back = |x: FixId| {
            let mut changes = self.changes.iter().rev();
            changes.find(|c| c.fix == x).is_some_and(|c| c.put_back)
        };
        let all = proof.together.with(last);
        let gone: Vec<FixId> = all.iter().filter(|x| *x == fix || put_back(*x)).collect();
        gone.into_iter().fold(all, Together::without)
    }
}
