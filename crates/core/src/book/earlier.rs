//! What was done on an earlier day: it stands in the book where that day is.

use super::Book;
use crate::machine::{MachineEntry, MachineEvent};

impl Book {
    /// Takes something in that was done at the moment of the entry, told after later ones. What is
    /// known of a later day stays as it is.
    pub(super) fn take_earlier(&mut self, entry: &MachineEntry) {
        let at = entry.at;
        match &entry.event {
            MachineEvent::Fitted { part, hours, early } => {
                // Hours are those of the counter that runs now.
                self.fit(part, at, Some(self.carried + hours), *early, "");
            }
            MachineEvent::Changed(change) => {
                self.changed(entry, change.clone(), "", "");
                self.changes.sort_by_key(|c| c.at);
            }
            MachineEvent::Calibrated(found) => {
                self.found(entry, found);
                self.calibrated.sort_by_key(|c| c.at);
            }
            MachineEvent::Good { case, note }
                if self.good.as_ref().is_none_or(|good| good.at < at) =>
            {
                self.good(at, case, note);
            }
            MachineEvent::Kept { task, wrong, note }
                if self.kept.get(task).is_none_or(|kept| kept.at < at) =>
            {
                self.keep(entry, task, *wrong, note);
            }
            _ => {}
        }
    }
}
