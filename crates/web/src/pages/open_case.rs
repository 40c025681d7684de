//! What handlers below a case or a machine ask for: the case opened, the machine, an identifier of
//! the knowledge that is known. An address that names none of them never reaches a handler.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::state::AppState;
use crate::words::{next, title};
use crate::{screen, show, urls};
use axum::extract::{FromRequestParts, RawPathParams};
use axum::http::request::Parts;
use suspect_core::case::{Analysis, CaseState, Entry, Lock, analyse, replay};
use suspect_core::knowledge::{CauseId, CheckId, FindingId, FixId, Knowledge};
use suspect_core::planning::Workshop;
use suspect_store::lists::CaseRow;
use suspect_store::machines::Machine;
use suspect_store::{StoreError, Uuid, think};

/// A case with its log, as every page below a case needs it.
pub struct OpenCase {
    pub id: Uuid,
    /// The row of the lists: number, machine.
    pub row: CaseRow,
    /// All entries, first one first.
    pub log: Vec<Entry>,
    /// What the case is now, with what else locks its machine.
    pub state: CaseState,
    /// The machine as it is now.
    pub machine: Machine,
    /// The workshop's settings as they are now.
    pub workshop: Workshop,
}

/// What the head of a page of a case says, and what its forms carry.
pub struct CaseHead {
    pub id: Uuid,
    /// "C-031".
    pub label: String,
    pub title: String,
    pub href: String,
    /// The entry the page was made after: sent along by its forms.
    pub seq: u32,
}

impl CaseHead {
    /// A page or action below the case, for templates: `note`, `close`.
    pub fn below(&self, what: &str) -> String {
        urls::in_case(self.id, what)
    }
}

impl OpenCase {
    /// Reads a case.
    ///
    /// # Errors
    /// When there is no such case, or the database cannot be reached.
    pub async fn read(state: &AppState, id: Uuid) -> Result<Self, PageError> {
        let row = state.store.case_row(id).await?;
        let log = state.store.case_log(id).await?;
        let machine = state.store.machine(row.machine_id).await?;
        let k = &state.knowledge;
        let lock = state.store.lock_of(k, row.machine_id, id).await?;
        let (workshop, _) = state.workshop().await?;
        let mut case = think(|| replay(k, &log)).await;
        case.locked_by = lock;
        let learned = state.store.learned(k, row.machine_id, state.now());
        case.facts.learned = learned.await?;
        // Said at the head of whatever page of the case this becomes.
        screen::hold(next::held(k, id, machine.id, &case));
        Ok(Self {
            id,
            row,
            log,
            state: case,
            machine,
            workshop,
        })
    }

    /// What else locks the machine.
    pub fn lock(&self) -> Option<&Lock> {
        self.state.locked_by.as_ref()
    }

    /// Ranks and plans the case, away from the threads that serve.
    pub async fn analysis(&self, state: &AppState) -> Analysis {
        think(|| analyse(&state.knowledge, &self.state, &self.workshop)).await
    }

    /// The head of a page made now.
    pub fn head(&self) -> CaseHead {
        CaseHead {
            id: self.id,
            label: show::case_label(self.row.number),
            title: title(&self.state.title, &self.machine.name),
            href: urls::case(self.id),
            seq: self.state.last_seq,
        }
    }

    /// The head of a page that shows a form again: it stays the form of the entry it was made
    /// after.
    pub fn head_again(&self, sent: &Fields) -> CaseHead {
        let head = self.head();
        let seq = match sent.is_empty() {
            true => head.seq,
            false => sent.seq(),
        };
        CaseHead { seq, ..head }
    }

    /// The address of the case.
    pub fn href(&self) -> String {
        urls::case(self.id)
    }

    /// A page or action below the case: `close`, `check/pulley-mark`.
    pub fn below(&self, what: &str) -> String {
        urls::in_case(self.id, what)
    }
}

/// A parameter of the address by its name; decoded, empty when there is none.
async fn param(parts: &mut Parts, name: &str) -> Result<String, PageError> {
    let params = RawPathParams::from_request_parts(parts, &()).await;
    let params = params.map_err(|_| PageError::BadAddress)?;
    let found = params.iter().find(|(n, _)| *n == name);
    Ok(found.map(|(_, v)| v.to_string()).unwrap_or_default())
}

/// The identifier of a case, where the case itself is not needed.
pub struct CaseInPath(pub Uuid);

impl<S: Send + Sync> FromRequestParts<S> for CaseInPath {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, _state: &S) -> Result<Self, PageError> {
        let id = param(parts, "id").await?.parse();
        id.map(Self).map_err(|_| PageError::NotFound("case"))
    }
}

impl FromRequestParts<AppState> for OpenCase {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Self, PageError> {
        let CaseInPath(id) = CaseInPath::from_request_parts(parts, state).await?;
        Self::read(state, id).await
    }
}

/// The machine an address names.
pub struct OpenMachine(pub Machine);

impl OpenMachine {
    /// Reads a machine.
    ///
    /// # Errors
    /// When there is no such machine, or the database cannot be reached.
    pub async fn read(state: &AppState, id: Uuid) -> Result<Self, PageError> {
        let machine = state.store.machine(id).await.map_err(|e| match e {
            StoreError::NotFound => PageError::NotFound("machine"),
            other => other.into(),
        })?;
        Ok(Self(machine))
    }
}

impl FromRequestParts<AppState> for OpenMachine {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Self, PageError> {
        let id = param(parts, "id").await?;
        let id: Uuid = id.parse().map_err(|_| PageError::NotFound("machine"))?;
        Self::read(state, id).await
    }
}

/// Something of the knowledge that an address names.
pub struct Known<T>(pub T);

/// A stop, by its place in the knowledge.
#[derive(Clone, Copy, PartialEq, Eq)]
pub struct StopAt(pub usize);

/// What an address may name.
pub trait Named: Sized {
    /// Its place in the address, and its name when there is none.
    const WHAT: &'static str;

    /// The thing with this identifier.
    fn find(knowledge: &Knowledge, id: &str) -> Option<Self>;
}

impl Named for CheckId {
    const WHAT: &'static str = "check";

    fn find(knowledge: &Knowledge, id: &str) -> Option<Self> {
        knowledge.check_id(id)
    }
}

impl Named for FixId {
    const WHAT: &'static str = "fix";

    fn find(knowledge: &Knowledge, id: &str) -> Option<Self> {
        knowledge.fix_id(id)
    }
}

impl Named for CauseId {
    const WHAT: &'static str = "suspect";

    fn find(knowledge: &Knowledge, id: &str) -> Option<Self> {
        knowledge.cause_id(id)
    }
}

impl Named for FindingId {
    const WHAT: &'static str = "sign";

    fn find(knowledge: &Knowledge, id: &str) -> Option<Self> {
        knowledge.finding_id(id)
    }
}

impl Named for StopAt {
    const WHAT: &'static str = "stop";

    fn find(knowledge: &Knowledge, id: &str) -> Option<Self> {
        knowledge.stop_at(id).map(StopAt)
    }
}

impl<T: Named> FromRequestParts<AppState> for Known<T> {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Self, PageError> {
        let id = param(parts, T::WHAT).await?;
        let found = T::find(&state.knowledge, &id);
        found.map(Self).ok_or(PageError::NotFound(T::WHAT))
    }
}
