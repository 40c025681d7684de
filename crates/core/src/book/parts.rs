//! New parts and the hours they ran.

use super::Book;
use crate::knowledge::parts::{PARTS, Part, has};
use crate::machine::{Change, Changing, MachineEntry, MachineEvent};
use crate::profile::Context;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

/// A book that begins with fewer hours on the counter begins with a new machine.
const NEW_WITHIN: f64 = 24.0;

/// A part fitted new.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Fitting {
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Hours in all, by then; unknown while the counter was never read.
    pub total: Option<f64>,
    /// The old one was still sound.
    #[serde(default)]
    pub early: bool,
    /// The case in which it was fitted; empty where it was noted by hand.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub case: String,
}

/// Hours of one part.
#[derive(Debug, Clone, Copy)]
pub struct PartHours {
    /// The part.
    pub part: &'static Part,
    /// Hours printed since it was fitted; `None` while the counter was never read.
    pub hours: Option<f64>,
    /// Hours of the machine when it was fitted; `None` where nobody knows.
    pub since: Option<f64>,
    /// When it was fitted; `None` when it is as old as the records.
    pub fitted: Option<OffsetDateTime>,
}

/// Hours of every part a machine has.
pub fn hours(context: &Context, book: &Book) -> Vec<PartHours> {
    let of = |part: &'static Part| {
        let fitted = book.fitted.get(part.id).and_then(|all| all.last());
        // A part fitted while the counter was never read: nobody knows its hours.
        let since = fitted.map_or(Some(0.0), |f| f.total);
        PartHours {
            part,
            hours: book.total().zip(since).map(|(now, since)| now - since),
            since,
            fitted: fitted.map(|f| f.at),
        }
    };
    PARTS.iter().filter(|p| has(context, p)).map(of).collect()
}

impl Book {
    pub(super) fn fit(
        &mut self,
        part: &str,
        at: OffsetDateTime,
        total: Option<f64>,
        early: bool,
        case: &str,
    ) {
        let fitting = Fitting {
            at,
            total,
            early,
            case: case.to_string(),
        };
        let all = self.fitted.entry(part.to_string()).or_default();
        let place = all.iter().rposition(|f| f.at <= at).map_or(0, |p| p + 1);
        all.insert(place, fitting);
    }

    /// A fix that was done in a case, or put back: its part, and the setting it changed.
    pub(super) fn worked(&mut self, entry: &MachineEntry) {
        let MachineEvent::Worked {
            case,
            fix,
            before,
            after,
            undone,
        } = &entry.event
        else {
            return;
        };
        let renewed = PARTS
            .iter()
            .filter(|p| p.renewed_by.contains(&fix.as_str()));
        for part in renewed {
            match undone {
                false => self.fit(part.id, entry.at, self.total(), false, case),
                true => self.unfit(part.id, case),
            }
        }
        let Some(after) = after else { return };
        let (before, after) = match undone {
            false => (before.clone().unwrap_or_default(), after.clone()),
            true => (after.clone(), before.clone().unwrap_or_default()),
        };
        let change = Change {
            what: Changing::Setting,
            name: fix.clone(),
            before,
            after,
        };
        self.changed(entry, change, case, fix);
    }

    /// What a case fitted and took back was never fitted.
    fn unfit(&mut self, part: &str, case: &str) {
        if let Some(all) = self.fitted.get_mut(part)
            && let Some(place) = all.iter().rposition(|f| f.case == case)
        {
            all.remove(place);
        }
    }

    /// Lives of a part that ended on this machine: worn, and replaced while still sound; without
    /// the one that runs.
    pub fn lives(&self, part: &str) -> (Vec<f64>, Vec<f64>) {
        let (mut ended, mut early) = (Vec::new(), Vec::new());
        // The part it came with is as old as the machine only where its book began with it.
        let new = self.first_read.is_some_and(|first| first <= NEW_WITHIN);
        let mut since = new.then_some(0.0);
        for fitting in self.fitted.get(part).map_or(&[][..], |all| all) {
            if let (Some(from), Some(to)) = (since, fitting.total) {
                let lived = to - from;
                if lived > 0.0 {
                    match fitting.early {
                        true => early.push(lived),
                        false => ended.push(lived),
                    }
                }
            }
            since = fitting.total;
        }
        (ended, early)
    }
}
