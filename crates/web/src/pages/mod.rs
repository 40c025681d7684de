//! One file per page: route, view model and template stand together under the same name.

pub mod before;
pub mod brief;
pub mod case;
pub mod check;
pub mod close;
pub mod course;
pub mod doing;
pub mod facts;
pub mod fix;
pub mod floor;
pub mod gauge;
pub mod guide;
pub mod handbook;
pub mod help;
pub mod history;
pub mod intake;
pub mod ledger;
pub mod line_up;
pub mod machine;
pub mod machine_edit;
pub mod machine_stop;
pub mod me;
pub mod move_case;
pub mod new_case;
pub mod next;
pub mod picker;
pub mod pictures;
pub mod recording;
pub mod records;
pub mod stop;
pub mod stuck;
pub mod suspect;
pub mod tag;
pub mod work;
pub mod workshop;

use crate::page_error::PageError;
use crate::screen;
use crate::state::AppState;
use axum::response::Html;
use suspect_core::case::{Analysis, CaseState, Entry, Lock, analyse, replay};
use suspect_core::planning::Workshop;
use suspect_store::machines::Machine;
use suspect_store::projection::CaseRow;
use suspect_store::{StoreError, Uuid, think};

/// A rendered page.
pub type Page = Result<Html<String>, PageError>;

/// A case with its log, as every page below a case needs it.
pub struct Opened {
    pub id: Uuid,
    pub row: CaseRow,
    pub log: Vec<Entry>,
    pub state: CaseState,
    /// The machine as it is now.
    pub machine: Machine,
    /// The workshop's settings as they are now.
    pub workshop: Workshop,
}

impl Opened {
    /// What else locks the machine.
    pub fn lock(&self) -> Option<&Lock> {
        self.state.locked_by.as_ref()
    }

    /// Ranks and plans the case, away from the threads that serve.
    pub async fn analysis(&self, state: &AppState) -> Analysis {
        think(|| analyse(&state.knowledge, &self.state, &self.workshop)).await
    }
}

/// Reads a case. An address that is no identifier is simply no case.
pub async fn opened(state: &AppState, id: &str) -> Result<Opened, PageError> {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("case"))?;
    let row = state.store.case_row(id).await?;
    let log = state.store.case_log(id).await?;
    let machine = state.store.machine(row.machine_id).await?;
    let lock = state
        .store
        .lock_of(&state.knowledge, row.machine_id, id)
        .await?;
    let (workshop, _) = state.workshop().await?;
    let mut case = think(|| replay(&state.knowledge, &log)).await;
    case.locked_by = lock;
    let opened = Opened {
        id,
        row,
        log,
        state: case,
        machine,
        workshop,
    };
    // Said at the head of whatever page of the case this becomes.
    screen::hold(next::held(state, &opened));
    Ok(opened)
}

/// Reads a machine. An address that is no identifier is simply no machine.
pub async fn opened_machine(state: &AppState, id: &str) -> Result<Machine, PageError> {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("machine"))?;
    state.store.machine(id).await.map_err(|e| match e {
        StoreError::NotFound => PageError::NotFound("machine"),
        other => other.into(),
    })
}

/// A named link with a word beside it.
pub struct Link {
    pub href: String,
    pub name: String,
}

/// An option of a select.
pub struct Choice {
    pub value: String,
    pub label: String,
    pub chosen: bool,
}
