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
                    asked: Vec::new(),
                });
            }
            Event::Reopened { after_days, .. } => self.reopen(knowledge, entry, *after_days),
            Event::AskedAgain { answer } => {
                if let Status::Resolved(r) = &mut self.status {
                    r.asked.push((entry.at, *answer));
                }
            }
            Event::LeftOut { reason } => self.left_out.clone_from(reason),
            _ => {}
        }
    }

    /// The trouble came back: what cured counts as cured no more, and the case says which fix held
    /// for a while. Where the proof had been complete, that it held is evidence of its own:
    /// something lets it come undone.
    fn reopen(&mut self, knowledge: &Knowledge, entry: &Entry, after_days: Option<f64>) {
        let proven = self.proven();
        let since = self.days_to_return(entry.at, after_days);
        let claimed = match &self.status {
            Status::Resolved(r) => r.fix.as_deref().and_then(|id| knowledge.fix_id(id)),
            _ => None,
        };
        self.status = Status::Open;
        let struck = self.struck();
        let cured = |t: &&mut Tried| t.result == TryResult::Cured;
        for tried in self.facts.tried.iter_mut().filter(cured) {
            tried.came_undone = true;
            self.undone = Some(tried.fix);
            let own = self.proof.as_ref().filter(|p| p.fix == Some(tried.fix));
            tried.weights = own.map(|proof| proof.came_back(&struck, since));
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
        if proven && self.undone.is_some() {
            let (finding, state) = HELD;
            self.answer(knowledge, entry.seq, finding, state, Confidence::Sure);
        }
        self.proof = None;
        self.since = None;
    }
}

/// What a case says of itself when a cure came undone.
const HELD: (&str, &str) = ("held-before", "held-then-returned");
