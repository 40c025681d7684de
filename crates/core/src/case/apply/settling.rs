//! What changes where the case stands.

use crate::case::event::{Entry, Event};
use crate::case::state::{CaseState, Resolution, Status};
use crate::evidence::{Confidence, Sighting, Tried};
use crate::knowledge::{FindingId, Knowledge, TryResult};
use crate::profile::{Context, FieldId};

impl CaseState {
    pub(super) fn settle(&mut self, knowledge: &Knowledge, entry: &Entry) {
        match &entry.event {
            Event::StopCleared { stop, .. } => match knowledge.stop_at(stop) {
                Some(at) => {
                    self.lifted.insert(at, entry.seq);
                }
                None => self.unknown.push(stop.clone()),
            },
            Event::Moved {
                machine_name,
                profile,
                ..
            } => {
                self.machine_name = machine_name.clone();
                let material = self.facts.context.id(FieldId::Material);
                self.facts.context = Context::default();
                self.set_context(entry.seq, profile, material);
            }
            Event::Resolved {
                outcome,
                cause,
                fix,
                note,
            } => {
                self.status = Status::Resolved(Resolution {
                    outcome: *outcome,
                    cause: cause.clone(),
                    fix: fix.clone(),
                    note: note.clone(),
                    at: entry.at,
                });
            }
            Event::Reopened { .. } => self.reopen(knowledge, entry.seq),
            _ => {}
        }
    }

    /// The trouble came back: what cured counts as cured no more, and the case says which fix held
    /// for a while.
    fn reopen(&mut self, knowledge: &Knowledge, seq: u32) {
        let claimed = match &self.status {
            Status::Resolved(r) => r.fix.as_deref().and_then(|id| knowledge.fix_id(id)),
            _ => None,
        };
        self.status = Status::Open;
        let cured = |t: &&mut Tried| t.result == TryResult::Cured;
        for tried in self.facts.tried.iter_mut().filter(cured) {
            tried.came_undone = true;
            self.undone = Some(tried.fix);
        }
        // A check that was a cure as well: its outcome says nothing any more.
        let cures = |f: &FindingId, s: &Sighting| {
            let finding = knowledge.finding(*f);
            let cured = s
                .answer
                .state()
                .is_some_and(|at| finding.states[at].id == "cured");
            finding.also_fix.filter(|_| cured)
        };
        let told = self.facts.findings.iter();
        let undone: Vec<_> = told.filter_map(|(f, s)| Some((*f, cures(f, s)?))).collect();
        for (finding, fix) in undone {
            self.forget(knowledge, finding);
            self.undone = Some(fix);
        }
        self.undone = self.undone.or(claimed);
        if self.undone.is_some() {
            let (finding, state) = HELD;
            self.answer(knowledge, seq, finding, state, Confidence::Sure);
        }
    }
}

/// What a case says of itself when a cure came undone.
const HELD: (&str, &str) = ("held-before", "held-then-returned");
