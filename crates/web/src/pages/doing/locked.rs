//! Nothing is done on a machine that a stop holds, but what leads to its clearing.

use crate::page_error::PageError;
use crate::pages::open_case::OpenCase;
use crate::show;
use crate::words::next;
use suspect_core::knowledge::{CheckId, Knowledge};
use suspect_core::safety::allowed_under;

/// Whether a check may be done: under a stop of the case only the one that clears it.
///
/// # Errors
/// A page that says what holds the machine, and leads there.
pub fn may_check(k: &Knowledge, case: &OpenCase, check: CheckId) -> Result<(), PageError> {
    held(k, case, Some(check))
}

/// Whether a fix may be done, or a print that proves one.
///
/// # Errors
/// As [`may_check`].
pub fn may_run(k: &Knowledge, case: &OpenCase) -> Result<(), PageError> {
    held(k, case, None)
}

fn held(k: &Knowledge, case: &OpenCase, check: Option<CheckId>) -> Result<(), PageError> {
    if let Some(lock) = case.lock() {
        return Err(PageError::Refused {
            message: format!(
                "{}: {}. Nothing is done on it until that stop is lifted.",
                show::capital(&next::locked_by(lock)),
                show::lower_first(&k.stops[lock.stop].name)
            ),
            back: next::lock_href(k, case.machine.id, lock),
        });
    }
    let stops: Vec<_> = case.state.stops.iter().map(|s| &k.stops[*s]).collect();
    match stops.first() {
        Some(first) if !check.is_some_and(|c| allowed_under(&stops, c)) => {
            Err(PageError::Refused {
                message: format!(
                    "The machine is locked: {}. Clear the stop before anything else.",
                    show::lower_first(&first.name)
                ),
                back: case.below(&format!("stop/{}", first.id)),
            })
        }
        _ => Ok(()),
    }
}
