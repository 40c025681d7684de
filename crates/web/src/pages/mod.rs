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
pub mod new_case;
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
use crate::state::AppState;
use axum::response::Html;
use suspect_core::case::{CaseState, Entry, replay};
use suspect_core::planning::Workshop;
use suspect_store::Uuid;
use suspect_store::cases::CaseRow;

/// A rendered page.
pub type Page = Result<Html<String>, PageError>;

/// A case with its log, as every page below a case needs it.
pub struct Opened {
    pub id: Uuid,
    pub row: CaseRow,
    pub log: Vec<Entry>,
    pub state: CaseState,
    /// The workshop's settings as they are now.
    pub workshop: Workshop,
}

/// Reads a case. An address that is no identifier is simply no case.
pub async fn opened(state: &AppState, id: &str) -> Result<Opened, PageError> {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("case"))?;
    let row = state.store.case_row(id).await?;
    let log = state.store.case_log(id).await?;
    let mut case = replay(&state.knowledge, &log);
    case.locked_by = state
        .store
        .lock_of(&state.knowledge, row.machine_id, id)
        .await?;
    let (workshop, _) = state.store.workshop().await?;
    Ok(Opened {
        id,
        row,
        log,
        state: case,
        workshop,
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
