//! The last known good settings, and what differs from them.

use super::{Book, Changed};
use crate::machine::Changing;
use crate::text::look;

/// A setting that is not as it was when a print last came out well.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Difference {
    /// Setting or firmware.
    pub what: Changing,
    /// Its name; the fix's identifier where a fix of a case changed it.
    pub name: String,
    /// It is a fix of the knowledge.
    pub is_fix: bool,
    /// As it was then; empty where nobody knew.
    pub then: String,
    /// As it is now.
    pub now: String,
}

/// What was changed since the last print that came out well, a line a setting: changes that came
/// back to where they were are none. Nothing while no print is known to have come out well.
pub fn since_good(book: &Book) -> Vec<Difference> {
    let Some(good) = &book.good else {
        return Vec::new();
    };
    let mut all: Vec<Difference> = Vec::new();
    for Changed {
        at, change, fix, ..
    } in &book.changes
    {
        if *at <= good.at {
            continue;
        }
        let same = |d: &&mut Difference| look(&d.name) == look(&change.name);
        match all.iter_mut().find(same) {
            Some(known) => known.now.clone_from(&change.after),
            None => all.push(Difference {
                what: change.what,
                name: change.name.clone(),
                is_fix: !fix.is_empty(),
                then: change.before.clone(),
                now: change.after.clone(),
            }),
        }
    }
    all.retain(|d| d.then != d.now);
    all
}
