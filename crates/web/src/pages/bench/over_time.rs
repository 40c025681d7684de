//! The readings of one measure on one machine over time, with the parts fitted and the fixes made
//! in between.

use crate::drawing::series::{Point, Step, svg};
use crate::pages::bench::context::For;
use crate::show;
use crate::words::{reading, work};
use suspect_core::case::Event;
use suspect_core::knowledge::Knowledge;
use suspect_core::knowledge::parts::PARTS;
use suspect_core::machine::{MachineEntry, MachineEvent};
use suspect_core::measures::{Measure, uncertainty};
use time::OffsetDateTime;

/// Readings shown, the latest.
const MOST: usize = 40;

/// One reading of the past.
pub struct Past {
    pub at: String,
    pub stamp: String,
    pub by: Option<String>,
    pub text: String,
}

/// The readings of a measure on a machine.
pub struct OverTime {
    pub machine: String,
    /// Drawn once there is more than one.
    pub drawing: Option<String>,
    pub readings: Vec<Past>,
}

/// What the machine's log knows of a measure; nothing without a machine or a reading.
pub fn over_time(k: &Knowledge, measure: &Measure, to: &For) -> Option<OverTime> {
    let machine = to.machine.as_ref()?;
    let own = |e: &&MachineEntry| match &e.event {
        MachineEvent::Benched { reading, .. } => reading.measure == measure.id,
        _ => false,
    };
    let mut entries: Vec<&MachineEntry> = to.log.iter().filter(own).collect();
    entries.drain(..entries.len().saturating_sub(MOST));
    let name = shown_output(&entries)?;
    let points: Vec<Point> = entries.iter().filter_map(|e| point(e, &name)).collect();
    let steps = steps(k, to);
    let what = reading::name_of(&name);
    Some(OverTime {
        machine: machine.name.clone(),
        drawing: (points.len() > 1).then(|| svg(&points, &steps, &what, reading::unit_of(&name))),
        readings: entries.iter().rev().map(|e| past(e)).collect(),
    })
}

/// The output that is followed: the first with an uncertainty, else the first number.
fn shown_output(entries: &[&MachineEntry]) -> Option<String> {
    let MachineEvent::Benched { reading, found } = &entries.last()?.event else {
        return None;
    };
    let uncertain = reading.reckon().ok();
    let uncertain = uncertain.and_then(|(_, out)| Some(out.uncertain()?.0.to_string()));
    uncertain.or_else(|| found.keys().next().cloned())
}

fn seconds(at: OffsetDateTime) -> f64 {
    at.unix_timestamp() as f64
}

fn point(entry: &MachineEntry, name: &str) -> Option<Point> {
    let MachineEvent::Benched { found, .. } = &entry.event else {
        return None;
    };
    let value = *found.get(name)?;
    Some(Point {
        at: seconds(entry.at),
        value,
        u: uncertainty(found, name).unwrap_or(0.0),
        day: show::day(entry.at),
    })
}

fn past(entry: &MachineEntry) -> Past {
    let text = match &entry.event {
        MachineEvent::Benched { reading, .. } => reading.reckon().map(|(_, out)| out.result),
        _ => Ok(String::new()),
    };
    Past {
        at: show::moment(entry.at),
        stamp: show::stamp(entry.at),
        by: crate::screen::shown_of(entry.by.as_deref()),
        text: text.unwrap_or_else(|_| "as an earlier program read it".into()),
    }
}

/// What was done in between: parts fitted on the machine, fixes of the case and of cases closed
/// before.
fn steps(k: &Knowledge, to: &For) -> Vec<Step> {
    let fitted = to.log.iter().filter_map(|e| match e.event.what() {
        MachineEvent::Fitted { part, .. } => {
            let name = PARTS
                .iter()
                .find(|p| p.id == part)
                .map_or("part", |p| p.name);
            Some(Step {
                at: seconds(e.done_at()),
                what: format!("{} fitted", show::lower_first(name)),
            })
        }
        _ => None,
    });
    let log = to.case.iter().flat_map(|c| &c.log);
    let fixed = log.filter_map(|e| match &e.event {
        Event::Fixed { fix, .. } => Some(Step {
            at: seconds(e.at),
            what: show::lower_first(&work::fix(k, fix)),
        }),
        _ => None,
    });
    let before = to.fixed.iter().map(|(at, fix)| Step {
        at: seconds(*at),
        what: show::lower_first(&work::fix(k, fix)),
    });
    fitted.chain(fixed).chain(before).collect()
}
