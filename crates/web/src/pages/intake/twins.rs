//! Open cases of a machine that may be the same trouble.

use crate::page_error::PageError;
use crate::state::AppState;
use crate::words::{evidence, title};
use crate::{show, urls};
use suspect_core::case::replay;
use suspect_core::intake::shared;
use suspect_store::Uuid;
use suspect_store::machines::Machine;

/// Open cases of a machine looked at, the most urgent first.
const LOOKED_AT: u64 = 6;

/// An open case that may be the same trouble.
pub struct Twin {
    pub id: Uuid,
    pub href: String,
    pub label: String,
    pub title: String,
    /// "since Monday".
    pub since: String,
    /// Signs that both speak of, in words; empty where nothing was told yet.
    pub shared: String,
}

/// Open cases of a machine, for a person to say whether it is one of these.
pub async fn open_on(state: &AppState, machine: &Machine) -> Result<Vec<Twin>, PageError> {
    let rows = state.store.open_cases_of(machine.id, 0, LOOKED_AT).await?;
    let twin = |row: &suspect_store::lists::CaseRow| Twin {
        id: row.id,
        href: urls::case(row.id),
        label: show::case_label(row.number),
        title: title(&row.title, &machine.name),
        since: show::since(row.opened_at),
        shared: String::new(),
    };
    let open = rows.iter().filter(|r| r.closed_at.is_none());
    Ok(open.map(twin).collect())
}

/// Those whose signs the words seem to speak of.
pub async fn twins(
    state: &AppState,
    machine: &Machine,
    told: &str,
) -> Result<Vec<Twin>, PageError> {
    let k = &state.knowledge;
    let read = state.told.of_all(k, &[told.to_string()]);
    let mut twins = Vec::new();
    if read.is_empty() {
        return Ok(twins);
    }
    for twin in open_on(state, machine).await? {
        let log = state.store.case_log(twin.id).await?;
        let signs = shared(k, &read, &replay(k, &log));
        if signs.is_empty() {
            continue;
        }
        let said = |f: &suspect_core::knowledge::FindingId| {
            let proposal = read.iter().find(|p| p.finding == *f);
            proposal.map(|p| evidence::phrase(k, *f, &p.state))
        };
        let words: Vec<String> = signs.iter().filter_map(said).collect();
        twins.push(Twin {
            shared: words.join("; "),
            ..twin
        });
    }
    Ok(twins)
}
