//! Hours of a machine's parts: readings of its counter and parts fitted new.

use crate::machine::{MachineEntry, MachineEvent, counter};
use crate::parts::{PARTS, Part, has};
use crate::profile::Context;
use time::OffsetDateTime;

/// Hours of one part.
#[derive(Debug, Clone, Copy)]
pub struct PartHours {
    /// The part.
    pub part: &'static Part,
    /// Hours printed since it was fitted; `None` while the counter was never read.
    pub hours: Option<f64>,
    /// When it was fitted; `None` when it is as old as the records.
    pub fitted: Option<OffsetDateTime>,
}

/// Hours of every part a machine has.
pub fn hours(context: &Context, entries: &[MachineEntry]) -> Vec<PartHours> {
    let now = counter(entries);
    let of = |part: &'static Part| {
        let fitted = entries
            .iter()
            .rev()
            .find(|e| matches!(&e.event, MachineEvent::Fitted { part: p, .. } if p == part.id));
        let since = fitted.and_then(|e| e.event.hours()).unwrap_or(0.0);
        PartHours {
            part,
            hours: now.map(|now| now - since),
            fitted: fitted.map(|e| e.at),
        }
    };
    PARTS.iter().filter(|p| has(context, p)).map(of).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::knowledge::Knowledge;
    use crate::machine::{Described, accept};

    #[test]
    fn hours_count_from_the_fitting_and_the_counter_never_runs_back() {
        let mut context = Context::default();
        context.set("feed", "bowden").unwrap();
        let at = OffsetDateTime::UNIX_EPOCH;
        let entry = |event| MachineEntry {
            seq: 1,
            at,
            by: None,
            event,
        };
        let mut log = Vec::new();
        assert!(hours(&context, &log).iter().all(|p| p.hours.is_none()));
        log.push(entry(MachineEvent::Counter { hours: 100.0 }));
        log.push(entry(MachineEvent::Fitted {
            part: "nozzle".into(),
            hours: 140.0,
        }));
        log.push(entry(MachineEvent::Counter { hours: 190.5 }));
        let of = |id: &str| hours(&context, &log).into_iter().find(|p| p.part.id == id);
        assert_eq!(of("nozzle").unwrap().hours, Some(50.5));
        assert_eq!(of("tube").unwrap().hours, Some(190.5));
        assert!(of("rails").is_none() && of("liner").is_none());
        let k = Knowledge::shipped();
        let machine = Described {
            profile: [("feed".to_string(), "bowden".to_string())].into(),
            ..Described::default()
        };
        let accepted = |event| accept(&k, Some((&machine, false)), &log, &event);
        let backwards = accepted(MachineEvent::Counter { hours: 190.0 });
        assert!(
            backwards
                .unwrap_err()
                .to_string()
                .contains("backwards to 190")
        );
        assert!(accepted(MachineEvent::Counter { hours: f64::NAN }).is_err());
        let fitted = |part: &str| MachineEvent::Fitted {
            part: part.into(),
            hours: 200.0,
        };
        assert!(accepted(fitted("rails")).is_err());
        assert!(accepted(fitted("nozzle")).is_ok());
    }
}
