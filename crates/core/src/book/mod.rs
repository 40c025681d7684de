//! A machine's book: what its log says, summed up. How long its parts have run, what was kept, what
//! came of its quirks, which values were found, which settings were last good.
//!
//! The store keeps a [`Book`] beside the machine's row, so that a floor of machines is read without
//! its logs. Everything here is a pure function of the log.

mod commission;
mod due;
mod earlier;
mod good;
mod parts;
mod readings;
mod retire;
mod shortly;
mod told;
mod values;
mod wear;

pub use commission::{Answered, Commissioning, Stage, StepNow, steps};
pub use due::{Due, Reason, due};
pub use good::{Difference, since_good};
pub use parts::{Fitting, PartHours, hours};
pub use readings::CounterRead;
pub use retire::{Repair, RepairOrRetire, SETTING_UP_HOURS, repair_or_retire};
pub use shortly::{Shortly, What, shortly_before};
pub use told::told_by_case;
pub use values::{Found, NEVER, Stale, found, found_for};
pub use wear::{Beside, Lives, PartState, ShopLife, reasons, shop_lives, states};

use crate::knowledge::History;
use crate::machine::{
    Calibration, Change, Changing, Described, MachineEntry, MachineEvent, QuirkNow,
};
use crate::series::Keep;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// Changes kept: more than anybody reads on a page.
const MOST_CHANGES: usize = 200;

/// A task as it was last kept.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Upkept {
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// Hours in all, by then.
    pub total: Option<f64>,
    /// Kilograms, by then.
    pub kilograms: Option<f64>,
    /// Prints, by then.
    pub prints: Option<f64>,
    /// Something looked wrong.
    pub wrong: bool,
    /// A word about it.
    #[serde(default)]
    pub note: String,
}

/// What was said of a quirk.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct QuirkSaid {
    /// What became of it.
    pub now: QuirkNow,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// A word about it.
    #[serde(default)]
    pub note: String,
}

/// A change with its moment.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Changed {
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// The case in which it was made; empty where it was made by hand.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub case: String,
    /// The fix it was; empty where it was made by hand.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub fix: String,
    /// What.
    pub change: Change,
}

/// The last print that came out well.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct GoodPrint {
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// The case it proved; empty where none.
    #[serde(default)]
    pub case: String,
    /// A word about it, or the name of its file.
    #[serde(default)]
    pub note: String,
}

/// Values found, with their moment.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Calibrated {
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// What was found.
    pub found: Calibration,
}

/// A look over the machine before a print.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Looked {
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// What is well.
    pub seen: Vec<String>,
    /// What is not.
    #[serde(default)]
    pub wrong: Vec<String>,
}

/// A machine's log, summed up.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct Book {
    /// When the log begins.
    #[serde(with = "time::serde::rfc3339::option")]
    pub begun: Option<OffsetDateTime>,
    /// Readings of the counter of the last weeks, the latest at the end.
    pub readings: Vec<CounterRead>,
    /// Hours the machine had when its counter was first read.
    pub first_read: Option<f64>,
    /// Hours before the present counter began.
    pub carried: f64,
    /// Kilograms printed, as read last.
    pub kilograms: Option<f64>,
    /// Prints when they were first read.
    pub first_prints: Option<f64>,
    /// Prints, as read last.
    pub prints: Option<f64>,
    /// New parts, by part, in their order.
    pub fitted: BTreeMap<String, Vec<Fitting>>,
    /// Upkeep as last kept, by task.
    pub kept: BTreeMap<String, Upkept>,
    /// Quirks, by identifier.
    pub quirks: BTreeMap<String, QuirkSaid>,
    /// Changes of settings and firmware, the latest at the end.
    pub changes: Vec<Changed>,
    /// The last print that came out well.
    pub good: Option<GoodPrint>,
    /// Values found, the latest at the end.
    pub calibrated: Vec<Calibrated>,
    /// Why it stands for parts.
    pub retired: Option<String>,
    /// How far it is brought into service.
    pub commissioning: Option<Commissioning>,
    /// What was looked at before a print, last.
    pub looked: Option<Looked>,
    /// Where it stands.
    pub place: String,
    /// When it was moved there from elsewhere.
    #[serde(with = "time::serde::rfc3339::option")]
    pub moved: Option<OffsetDateTime>,
}

impl Book {
    /// What a log says.
    pub fn of(log: &[MachineEntry]) -> Self {
        let mut book = Book::default();
        for entry in log {
            book.take(entry);
        }
        book
    }

    /// Takes the next entry of the log in.
    pub fn take(&mut self, entry: &MachineEntry) {
        self.begun = self.begun.or(Some(entry.at));
        if let MachineEvent::Earlier { at, what } = &entry.event {
            return self.take_earlier(&MachineEntry {
                at: *at,
                event: (**what).clone(),
                ..entry.clone()
            });
        }
        if let Some(shown) = entry.event.hours() {
            let restarted = matches!(
                &entry.event,
                MachineEvent::Counter {
                    restarted: true,
                    ..
                }
            );
            self.read(entry.at, shown, restarted);
        }
        match &entry.event {
            MachineEvent::Counter {
                kilograms, prints, ..
            } => {
                self.kilograms = kilograms.or(self.kilograms);
                self.prints = prints.or(self.prints);
                self.first_prints = self.first_prints.or(*prints);
            }
            MachineEvent::Fitted { part, early, .. } => {
                self.fit(part, entry.at, self.total(), *early, "");
            }
            MachineEvent::Kept { task, wrong, note } => self.keep(entry, task, *wrong, note),
            MachineEvent::Changed(change) => self.changed(entry, change.clone(), "", ""),
            MachineEvent::Worked { .. } => self.worked(entry),
            MachineEvent::Good { case, note } => self.good(entry.at, case, note),
            MachineEvent::Filed { name, .. } => self.good(entry.at, "", name),
            MachineEvent::Quirk { quirk, now, note } => self.quirk(entry, quirk, *now, note),
            MachineEvent::Calibrated(found) => self.found(entry, found),
            MachineEvent::Settled { name, keep, .. } => self.settled(entry, name, keep),
            MachineEvent::Commissioning { history } => {
                self.commissioning = Some(Commissioning::begun(*history, entry.at));
            }
            MachineEvent::Commissioned { step, well, note } => {
                let begun = Commissioning::begun(History::Unknown, entry.at);
                let on = self.commissioning.get_or_insert(begun);
                on.answered(entry, step, *well, note);
            }
            MachineEvent::LookedOver { seen, wrong } => self.look(entry, seen, wrong),
            MachineEvent::Retired { reason } => self.retired = Some(reason.clone()),
            MachineEvent::BackInService => self.retired = None,
            MachineEvent::Described { machine, .. } => self.described(entry, machine),
            MachineEvent::Benched { .. }
            | MachineEvent::Reached { .. }
            | MachineEvent::PieceRead { .. }
            | MachineEvent::OutOfService { .. }
            | MachineEvent::Earlier { .. }
            | MachineEvent::Noted { .. } => {}
        }
    }

    /// Prints since they were first counted.
    pub fn counted_prints(&self) -> Option<f64> {
        self.prints
            .zip(self.first_prints)
            .map(|(now, first)| (now - first).max(0.0))
    }

    /// What a setting was last changed to.
    pub fn setting(&self, name: &str) -> Option<&str> {
        let look = crate::text::look(name);
        let mut changes = self.changes.iter().rev();
        let last = changes.find(|c| crate::text::look(&c.change.name) == look);
        last.map(|c| c.change.after.as_str())
    }

    fn quirk(&mut self, entry: &MachineEntry, quirk: &str, now: QuirkNow, note: &str) {
        let said = QuirkSaid {
            now,
            at: entry.at,
            by: entry.by.clone(),
            note: note.to_string(),
        };
        self.quirks.insert(quirk.to_string(), said);
    }

    fn look(&mut self, entry: &MachineEntry, seen: &[String], wrong: &[String]) {
        self.looked = Some(Looked {
            at: entry.at,
            by: entry.by.clone(),
            seen: seen.to_vec(),
            wrong: wrong.to_vec(),
        });
    }

    fn described(&mut self, entry: &MachineEntry, machine: &Described) {
        let elsewhere = !self.place.is_empty() && self.place != machine.place;
        self.moved = Some(entry.at).filter(|_| elsewhere).or(self.moved);
        self.place.clone_from(&machine.place);
    }

    /// Settings that a trial series ended with are good ones.
    fn settled(&mut self, entry: &MachineEntry, name: &str, keep: &[Keep]) {
        for kept in keep {
            let change = Change {
                what: Changing::Setting,
                name: kept.name.clone(),
                before: self.setting(&kept.name).unwrap_or_default().to_string(),
                after: kept.value.clone(),
            };
            self.changed(entry, change, "", "");
        }
        self.good(entry.at, "", name);
    }

    fn keep(&mut self, entry: &MachineEntry, task: &str, wrong: bool, note: &str) {
        let kept = Upkept {
            at: entry.at,
            by: entry.by.clone(),
            total: self.total_on(entry.at),
            kilograms: self.kilograms,
            prints: self.prints,
            wrong,
            note: note.to_string(),
        };
        self.kept.insert(task.to_string(), kept);
    }

    fn changed(&mut self, entry: &MachineEntry, change: Change, case: &str, fix: &str) {
        self.changes.push(Changed {
            at: entry.at,
            by: entry.by.clone(),
            case: case.to_string(),
            fix: fix.to_string(),
            change,
        });
        let many = self.changes.len();
        self.changes.drain(..many.saturating_sub(MOST_CHANGES));
    }

    fn found(&mut self, entry: &MachineEntry, found: &Calibration) {
        self.calibrated.push(Calibrated {
            at: entry.at,
            by: entry.by.clone(),
            found: found.clone(),
        });
    }

    fn good(&mut self, at: OffsetDateTime, case: &str, note: &str) {
        self.good = Some(GoodPrint {
            at,
            case: case.to_string(),
            note: note.to_string(),
        });
    }
}
