//! What cases and machines use up: filament by prints of a case, parts by fixes.

use crate::case::Event;
use crate::knowledge::parts::{PARTS, Part};
use crate::machine::MachineEvent;

/// The number of a spool that a case names by its label: "S-12 green PETG, Millrace".
pub fn spool_number(spool: &str) -> Option<i64> {
    let label = spool.split_whitespace().next()?;
    label.strip_prefix("S-")?.parse().ok().filter(|n| *n > 0)
}

/// Grams that the prints of some events of a case took.
pub fn grams_used(events: &[Event]) -> f64 {
    let of = |event: &Event| match event {
        Event::Printed { grams, .. } | Event::OwnFixed { grams, .. } => *grams,
        _ => 0.0,
    };
    events.iter().map(of).sum()
}

/// Parts that an event of a machine used up, with whether they came back instead: a fix that was
/// taken back was never done.
pub fn parts_used(event: &MachineEvent) -> (Vec<&'static Part>, bool) {
    match event.what() {
        MachineEvent::Fitted { part, .. } => {
            let used = PARTS.iter().filter(|p| p.id == part);
            (used.collect(), false)
        }
        MachineEvent::Worked { fix, undone, .. } => {
            let used = PARTS
                .iter()
                .filter(|p| p.renewed_by.contains(&fix.as_str()));
            (used.collect(), *undone)
        }
        _ => (Vec::new(), false),
    }
}
