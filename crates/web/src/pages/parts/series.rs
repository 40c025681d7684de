//! The trial series of a case or a machine, for its page.

use crate::page_error::PageError;
use crate::pages::parts::link::Link;
use crate::state::AppState;
use crate::urls;
use suspect_store::series::Which;

/// Links to its series, the running ones first, and where a new one is begun.
#[derive(Default)]
pub struct SeriesLinks {
    pub all: Vec<Link>,
    pub begin: String,
}

/// The series of a case or a machine.
///
/// # Errors
/// When the database cannot be reached.
pub async fn links(state: &AppState, which: Which) -> Result<SeriesLinks, PageError> {
    let mut rows = state.store.list_series(which).await?;
    rows.sort_by_key(|r| r.ended.is_some());
    let link = |r: suspect_store::series::SeriesRow| Link {
        href: urls::series(r.id),
        name: match r.ended.as_deref() {
            Some("solved") => format!("{} (found; its fix is to be done here)", r.name),
            Some(_) => format!("{} (ended)", r.name),
            None => r.name,
        },
    };
    Ok(SeriesLinks {
        all: rows.into_iter().map(link).collect(),
        begin: match which {
            Which::Case(id) => format!("{}/new?case={id}", urls::TRIALS),
            Which::Machine(id) => format!("{}/new?machine={id}", urls::TRIALS),
            Which::All => format!("{}/new", urls::TRIALS),
        },
    })
}
