//! A machine with its book, read once for a page.

use crate::page_error::PageError;
use crate::pages::parts::case_line::lock_of;
use crate::state::AppState;
use std::collections::BTreeSet;
use suspect_core::book::{Due, PartState, due};
use suspect_core::knowledge::{Knowledge, MachineKind};
use suspect_store::Uuid;
use suspect_store::books::{Books, Shelved};
use time::OffsetDateTime;

/// Every machine's book.
pub struct Floor {
    pub books: Books,
    pub now: OffsetDateTime,
}

/// One machine with its kind, its parts as they stand, what is due.
pub struct OpenBook<'a> {
    pub shelved: &'a Shelved,
    pub kind: Option<&'a MachineKind>,
    pub states: Vec<PartState>,
    pub due: Vec<Due<'a>>,
}

impl Floor {
    pub async fn read(state: &AppState) -> Result<Self, PageError> {
        Ok(Self {
            books: state.store.books(&state.knowledge).await?,
            now: state.now(),
        })
    }

    /// Machines that a stop holds.
    pub async fn held(&self, state: &AppState) -> Result<BTreeSet<Uuid>, PageError> {
        let (k, cases) = (&state.knowledge, state.store.floor_cases().await?);
        let held = self.books.all.iter().map(|s| &s.machine).filter(|m| {
            let mine = cases.shown.iter().filter(|c| c.machine_id == m.id);
            lock_of(k, m, mine).is_some()
        });
        Ok(held.map(|m| m.id).collect())
    }

    /// One machine of the floor.
    pub fn open<'a>(&'a self, k: &'a Knowledge, machine: Uuid) -> Result<OpenBook<'a>, PageError> {
        let shelved = self
            .books
            .of(machine)
            .ok_or(PageError::NotFound("machine"))?;
        let kind = self.books.kind(&shelved.machine.model);
        let states = self.books.states(machine, self.now);
        let due = due(k, &shelved.context, &shelved.book, kind, &states, self.now);
        Ok(OpenBook {
            shelved,
            kind,
            states,
            due,
        })
    }
}
