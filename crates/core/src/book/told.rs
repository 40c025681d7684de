//! What a case tells the book of its machine: fixes done and put back, a print that came out well.

use crate::case::{Entry, Event, Outcome};
use crate::machine::MachineEvent;

/// Entries of a machine's journal that follow from what is written into a case whose log so far is
/// `log`.
pub fn told_by_case(case: &str, log: &[Entry], events: &[Event]) -> Vec<MachineEvent> {
    let of = |event: &Event, undone: bool| match event {
        Event::Fixed {
            fix, before, after, ..
        } => Some(MachineEvent::Worked {
            case: case.to_string(),
            fix: fix.clone(),
            before: before.clone(),
            after: after.clone(),
            undone,
        }),
        _ => None,
    };
    let at = |seq: u32| log.iter().find(|e| e.seq == seq).map(|e| &e.event);
    let told = |event: &Event| match event {
        Event::PutBack { fixed: seq } | Event::Retracted { seq } => of(at(*seq)?, true),
        Event::Resolved {
            outcome: Outcome::FixedAndVerified,
            ..
        } => Some(MachineEvent::Good {
            case: case.to_string(),
            note: String::new(),
        }),
        _ => of(event, false),
    };
    events.iter().filter_map(told).collect()
}
