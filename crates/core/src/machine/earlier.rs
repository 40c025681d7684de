//! What was done on an earlier day and is told only now.

use super::{Described, MOST_HOURS, MachineEntry, MachineEvent, counter, journal, part_there};
use crate::knowledge::Knowledge;
use crate::refusal::{Problem, Refusal};
use time::OffsetDateTime;
use time::macros::datetime;

/// No machine of this craft is older.
const OLDEST: OffsetDateTime = datetime!(1990-01-01 00:00 UTC);

/// Whether something can be told of an earlier day: what people do in passing and write down later.
pub fn can_be_earlier(event: &MachineEvent) -> bool {
    matches!(
        event,
        MachineEvent::Fitted { .. }
            | MachineEvent::Kept { .. }
            | MachineEvent::Changed(_)
            | MachineEvent::Calibrated(_)
            | MachineEvent::Good { .. }
            | MachineEvent::Noted { .. }
    )
}

/// Whether what is told of an earlier day can be: a day that has been, within the age of machines.
///
/// # Errors
/// The day, and between which it may lie.
pub fn in_time(event: &MachineEvent, now: OffsetDateTime) -> Result<(), Refusal> {
    match event {
        MachineEvent::Earlier { at, .. } if !(OLDEST..=now).contains(at) => {
            let problem = Problem::Day {
                given: at.date(),
                first: OLDEST.date(),
                last: now.date(),
            };
            Err(Refusal::invalid("on", problem))
        }
        _ => Ok(()),
    }
}

/// Whether something can be told so, with hours that the counter had shown by then.
pub(super) fn accept(
    knowledge: &Knowledge,
    machine: Option<&Described>,
    log: &[MachineEntry],
    what: &MachineEvent,
) -> Result<(), Refusal> {
    if !can_be_earlier(what) {
        return Err(Refusal::invalid("on", Problem::NoOtherDay));
    }
    let shown = counter(log).unwrap_or(MOST_HOURS);
    if let Some(given) = what.hours().filter(|hours| !(0.0..=shown).contains(hours)) {
        let problem = Problem::Counter { given, most: shown };
        return Err(Refusal::invalid("hours", problem));
    }
    journal::accept(knowledge, log, what)?;
    match what {
        MachineEvent::Fitted { part, .. } => part_there(machine, part),
        _ => Ok(()),
    }
}
