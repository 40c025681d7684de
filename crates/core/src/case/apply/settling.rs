//! What changes where the case stands.

use crate::case::event::{Entry, Event};
use crate::case::state::{CaseState, Resolution, Status};
use crate::knowledge::Knowledge;
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
            Event::Reopened { .. } => self.status = Status::Open,
            _ => {}
        }
    }
}
