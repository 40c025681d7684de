//! What an event is about, and whether it may join a log that moved on meanwhile.

use super::event::{Entry, Event};

impl Event {
    /// Whether the event only adds to what is known or kept, so that it may join a log that moved
    /// on meanwhile.
    pub fn only_adds(&self) -> bool {
        matches!(
            self,
            Event::Measured { .. }
                | Event::Observed { .. }
                | Event::Told { .. }
                | Event::Passed { .. }
                | Event::Described { .. }
                | Event::Pictured { .. }
                | Event::Marked { .. }
                | Event::Filed { .. }
                | Event::Suggested { .. }
                | Event::Weighed { .. }
                | Event::Tried { .. }
                | Event::Benched { .. }
                | Event::TimerSet { .. }
                | Event::PartKept { .. }
                | Event::SetAside { .. }
                | Event::TakenUp { .. }
                | Event::Cleared { .. }
                | Event::Noted { .. }
                | Event::Lost(_)
                | Event::OwnChecked { .. }
                | Event::OwnSuspected { .. }
                | Event::Trialled(_)
                | Event::SameAs { .. }
                | Event::Joined { .. }
        )
    }

    /// Whether the event says nothing about who is at fault: what is noted while work goes on.
    pub fn is_upkeep(&self) -> bool {
        matches!(
            self,
            Event::TimerSet { .. }
                | Event::PartKept { .. }
                | Event::SetAside { .. }
                | Event::TakenUp { .. }
                | Event::PutBack { .. }
                | Event::LeftForLater { .. }
                | Event::Lost(_)
                | Event::Noted { .. }
                | Event::SameAs { .. }
                | Event::Joined { .. }
        )
    }

    /// What the event speaks of: two people who speak of the same thing at once must see each
    /// other's word first.
    fn subject(&self) -> Option<(&'static str, String)> {
        match self {
            Event::Measured { number, .. } => Some(("number", number.clone())),
            Event::Observed { finding, .. } | Event::Passed { finding } => {
                Some(("finding", finding.clone()))
            }
            Event::Checked { check, .. } | Event::Gauged { check, .. } => {
                Some(("finding", check.clone()))
            }
            Event::Benched { reading, .. } => Some(("finding", reading.measure.clone())),
            Event::Lost(_) => Some(("loss", String::new())),
            Event::Described { .. } => Some(("description", String::new())),
            Event::Marked { picture, .. } => Some(("picture", picture.clone())),
            Event::Filed { file, .. } => Some(("file", file.clone())),
            Event::Weighed { suggestion, .. } => Some(("suggestion", suggestion.to_string())),
            Event::TimerSet { work, step, .. } => Some(("timer", format!("{work} {step}"))),
            Event::PartKept { work, part, .. } => Some(("part", format!("{work} {part}"))),
            Event::SetAside { step, .. } | Event::TakenUp { step } => {
                Some(("step", step.to_string()))
            }
            Event::Cleared { cause, .. } => Some(("cause", cause.clone())),
            _ => None,
        }
    }
}

/// Whether new events may be appended although others came in between: both sides only add, and
/// about different things.
pub fn may_join(since: &[Entry], events: &[Event]) -> bool {
    let apart =
        |there: &Event, new: &Event| new.subject().is_none() || there.subject() != new.subject();
    let adds = since
        .iter()
        .map(|e| &e.event)
        .chain(events)
        .all(Event::only_adds);
    adds && since
        .iter()
        .all(|there| events.iter().all(|new| apart(&there.event, new)))
}
