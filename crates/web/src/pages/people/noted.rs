//! What was changed among members, written down and told.

use crate::page_error::PageError;
use crate::state::AppState;
use crate::{screen, show};
use suspect_core::people::{Changed, Role, author};
use suspect_store::Uuid;
use suspect_store::people::PeopleEntry;

/// Changes that are told.
const TOLD: u64 = 40;

/// A change in words.
pub struct Noted {
    pub at: String,
    pub by: String,
    pub words: String,
}

/// Who is there, by number.
pub fn you() -> Option<Uuid> {
    screen::with_present(|p| p.member.as_ref().map(|m| m.id)).flatten()
}

/// Writes a change down.
///
/// # Errors
/// When the database cannot be reached.
pub async fn note(
    state: &AppState,
    what: Changed,
    about: Option<Uuid>,
    detail: &str,
) -> Result<(), PageError> {
    note_by(state, you(), what, (about, detail)).await
}

/// The same by somebody who is only just coming in.
///
/// # Errors
/// When the database cannot be reached.
pub async fn note_by(
    state: &AppState,
    by: Option<Uuid>,
    what: Changed,
    (about, detail): (Option<Uuid>, &str),
) -> Result<(), PageError> {
    let entry = PeopleEntry {
        at: state.now(),
        by,
        about,
        what,
        detail: detail.to_string(),
    };
    Ok(state.store.note_of_people(&entry).await?)
}

/// What was changed lately.
///
/// # Errors
/// When the database cannot be reached.
pub async fn told(state: &AppState) -> Result<Vec<Noted>, PageError> {
    let all = state.store.notes_of_people(TOLD).await?;
    Ok(all.iter().map(line).collect())
}

fn name(id: Option<Uuid>) -> String {
    id.map_or("whoever began".into(), |id| {
        screen::shown(&author(&id.to_string()))
    })
}

fn line(entry: &PeopleEntry) -> Noted {
    let about = || name(entry.about);
    let role =
        |id: &str| Role::from_id(id).map_or_else(|| id.to_string(), |r| r.words().to_string());
    let words = match entry.what {
        Changed::Invited => format!("invited somebody as {}", role(&entry.detail)),
        Changed::Joined => format!("{} came in", about()),
        Changed::Role => format!("made {} a {}", about(), role(&entry.detail)),
        Changed::Link => format!("made a link for {}", about()),
        Changed::Passphrase => format!("{} has a new passphrase", about()),
        Changed::SignedOut => format!("ended all sessions of {}", about()),
        Changed::Left => format!("noted that {} has left", about()),
        Changed::Station => format!("registered the station “{}”", entry.detail),
        Changed::Revoked => format!("took the station “{}” out of use", entry.detail),
    };
    Noted {
        at: show::moment(entry.at),
        by: name(entry.by),
        words,
    }
}
