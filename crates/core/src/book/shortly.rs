//! What was changed on a machine shortly before a case began.

use super::{Book, Changed};
use crate::knowledge::Region;
use crate::knowledge::parts::{Part, part};
use crate::machine::Changing;
use time::{Duration, OffsetDateTime};

/// A change longer ago is no news any more.
const SHORTLY: Duration = Duration::days(21);

/// Something that was done to a machine before a case began.
#[derive(Debug, Clone)]
pub struct Shortly<'b> {
    /// When.
    pub at: OffsetDateTime,
    /// What.
    pub what: What<'b>,
}

/// What was done.
#[derive(Debug, Clone)]
pub enum What<'b> {
    /// A setting or the firmware was changed.
    Change(&'b Changed),
    /// A part was fitted new.
    Part(&'static Part),
    /// It was moved to another place.
    Moved,
}

impl What<'_> {
    /// The answer it gives to what changed last.
    pub fn last_change(&self) -> &'static str {
        match self {
            What::Moved => "moved",
            What::Change(changed) => match changed.change.what {
                Changing::Setting => "settings",
                Changing::Firmware => "firmware",
            },
            What::Part(part) => match (part.id, part.region) {
                ("heatsink-fan" | "part-fan", _) | (_, Region::Chamber) => "fan-or-duct",
                (_, Region::HotEnd) => "nozzle-or-hotend",
                (_, Region::Feeder | Region::Spool) => "feeder",
                (_, Region::Bed) => "bed-or-plate",
                (_, Region::Motion) => "belts-or-motion",
                _ => "electronics",
            },
        }
    }
}

/// What was done to a machine in the three weeks before a case began and after its last good print,
/// the latest first; what cases did by the way is none.
pub fn shortly_before(book: &Book, began: OffsetDateTime) -> Vec<Shortly<'_>> {
    let from = book.good.as_ref().map_or(began - SHORTLY, |good| {
        // A print that came out well since the case began says nothing of what was before.
        match good.at <= began {
            true => good.at.max(began - SHORTLY),
            false => began - SHORTLY,
        }
    });
    let within = |at: OffsetDateTime| at > from && at <= began;
    let changes = book.changes.iter().filter(|c| c.case.is_empty());
    let changes = changes.map(|c| Shortly {
        at: c.at,
        what: What::Change(c),
    });
    let fitted = book.fitted.iter().filter_map(|(id, all)| {
        let last = all
            .iter()
            .rev()
            .find(|f| within(f.at) && f.case.is_empty())?;
        Some(Shortly {
            at: last.at,
            what: What::Part(part(id)?),
        })
    });
    let moved = book.moved.map(|at| Shortly {
        at,
        what: What::Moved,
    });
    let all = changes.chain(fitted).chain(moved);
    let mut all: Vec<Shortly<'_>> = all.filter(|s| within(s.at)).collect();
    all.sort_by_key(|s| std::cmp::Reverse(s.at));
    all
}
