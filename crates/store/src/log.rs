//! The log of a case: opening, appending with the expected number and the touch, reading.

use crate::entity::{case_entry, case_summary};
use crate::entries::{lock_machine, read_log, tell, tell_machine};
use crate::lessons::{self, Taught};
use crate::meeting::{Meets, meets, repeats};
use crate::projection::{self, find_lock};
use crate::stamp::{self, Content, Stamp};
use crate::{Store, StoreError, beyond, records, settings, think};
use sea_orm::{
    ActiveValue::Set, ConnectionTrait, DatabaseTransaction, EntityTrait, QuerySelect,
    TransactionTrait,
};
use std::sync::Arc;
use suspect_core::case::{
    self, CaseState, Entry, Event, Lock, MOST_ENTRIES_AT_ONCE, Problem, Refusal, Summary,
};
use suspect_core::knowledge::Knowledge;
use suspect_core::learning::Learned;
use suspect_core::planning::Workshop;
use uuid::Uuid;

impl Store {
    /// Opens a case under an identifier chosen by the caller, so that the same form sent twice
    /// opens one case.
    ///
    /// Returns the last sequence number.
    ///
    /// # Errors
    /// [`StoreError::Refused`] when an event makes no sense, [`StoreError::NotFound`] when there is
    /// no such machine, [`StoreError::Conflict`] when another case has this identifier.
    pub async fn open_case(
        &self,
        knowledge: &Knowledge,
        id: Uuid,
        machine: Uuid,
        events: &[Event],
        stamp: impl Into<Stamp>,
    ) -> Result<u32, StoreError> {
        let stamp = stamp.into();
        let content = Content::new(Some(id), &as_json(events)?);
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        settings::shared_lock(&transaction).await?;
        let lock = on_machine(&transaction, knowledge, machine, id).await?;
        let there = read_log(&transaction, id).await?;
        let again = stamp::taken_before(&transaction, &stamp, &content).await?;
        match (there.last(), again) {
            (Some(last), Some(_)) => return Ok(last.seq),
            (Some(last), None) if repeats(&there, events) => return Ok(last.seq),
            (Some(_), None) => return conflict(&there, 0),
            (None, _) => {}
        }
        let given = self
            .given(&transaction, knowledge, machine, lock, &stamp)
            .await?;
        let placed = extend(knowledge, &[], given, events, &stamp).await?;
        let last = placed.entries.len() as u32;
        projection::insert(&transaction, knowledge, id, machine, &placed.summary, last).await?;
        insert(&transaction, id, &placed.entries).await?;
        records::keep_words(&transaction, id, &placed.taught.words).await?;
        stamp::keep(&transaction, &stamp, content, 1, last).await?;
        if !placed.summary.stops.is_empty() {
            tell_machine(&transaction, machine, id).await?;
        }
        transaction.commit().await?;
        Ok(last)
    }

    /// Appends events to a case whose last event the caller knows to be `expected`. Returns the
    /// last sequence number.
    ///
    /// The same touch sent again is recognised and answered as if it had just been stored, as long
    /// as what it wrote still counts.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::Refused`], or [`StoreError::Conflict`] when someone
    /// else wrote first.
    pub async fn append(
        &self,
        knowledge: &Knowledge,
        id: Uuid,
        expected: u32,
        events: &[Event],
        stamp: impl Into<Stamp>,
    ) -> Result<u32, StoreError> {
        let stamp = stamp.into();
        self.append_with(knowledge, id, expected, events, &stamp, async |_| Ok(()))
            .await
    }

    /// The same with something written beside, in the same transaction.
    ///
    /// Events that only add join a log that moved on meanwhile, when what came in between only
    /// added too, about other things: two people who each touch a sign need no question in between.
    pub(crate) async fn append_with(
        &self,
        knowledge: &Knowledge,
        id: Uuid,
        expected: u32,
        events: &[Event],
        stamp: &Stamp,
        beside: impl AsyncFnOnce(&DatabaseTransaction) -> Result<(), StoreError>,
    ) -> Result<u32, StoreError> {
        let content = Content::new(Some(id), &as_json(events)?);
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        settings::shared_lock(&transaction).await?;
        let head = find(&transaction, id).await?;
        let on = lock_machines(&transaction, head.machine_id, events).await?;
        let head = lock_case(&transaction, id).await?;
        if !on.contains(&head.machine_id) {
            // It was moved while we waited.
            return Err(StoreError::Busy);
        }
        let lock = find_lock(&transaction, knowledge, head.machine_id, id).await?;
        let log = read_log(&transaction, id).await?;
        if let Some(entries) = stamp::taken_before(&transaction, stamp, &content).await? {
            return still_counts(&log, expected, entries);
        }
        let since = news(&transaction, &log, expected, stamp, id).await?;
        let actual = head.last_seq as u32;
        match meets(&since, expected > actual, events, stamp) {
            Meets::Repeated => return Ok(actual),
            Meets::Conflict => return conflict(&log, expected),
            Meets::Joins => {}
        }
        let given = self.given(&transaction, knowledge, head.machine_id, lock, stamp);
        let placed = extend(knowledge, &log, given.await?, events, stamp).await?;
        let last = actual + placed.entries.len() as u32;
        insert(&transaction, id, &placed.entries).await?;
        stamp::keep(&transaction, stamp, content, actual + 1, last).await?;
        projection::update(&transaction, knowledge, id, &placed.summary, last).await?;
        let case = (id, head.machine_id, head.number);
        let before = (&log[..], placed.spool.as_str());
        beyond::write(&transaction, knowledge, case, before, events, stamp).await?;
        records::keep_words(&transaction, id, &placed.taught.words).await?;
        let to = moves_to(events)?;
        let machine = to.unwrap_or(head.machine_id);
        lessons::keep(&transaction, id, machine, placed.taught).await?;
        if let Some(to) = to {
            projection::move_to(&transaction, id, to).await?;
            tell_machine(&transaction, to, id).await?;
        }
        beside(&transaction).await?;
        tell(&transaction, id, last).await?;
        if placed.summary.stops.join(" ") != head.stops || on.len() > 1 {
            tell_machine(&transaction, head.machine_id, id).await?;
        }
        transaction.commit().await?;
        Ok(last)
    }

    /// What a case on a machine hangs on beside its log.
    async fn given(
        &self,
        transaction: &DatabaseTransaction,
        knowledge: &Knowledge,
        machine: Uuid,
        lock: Option<Lock>,
        stamp: &Stamp,
    ) -> Result<Given, StoreError> {
        let (workshop, _) = settings::latest(transaction).await?;
        let learned = self
            .learned_within(transaction, knowledge, &workshop, machine, stamp.at)
            .await?;
        Ok(Given {
            lock,
            workshop,
            learned,
        })
    }

    /// The log of a case, in order.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such case.
    pub async fn case_log(&self, id: Uuid) -> Result<Vec<Entry>, StoreError> {
        let _turn = self.gate.reader().await?;
        let log = read_log(&self.db, id).await?;
        if log.is_empty() {
            Err(StoreError::NotFound)
        } else {
            Ok(log)
        }
    }

    /// What locks a machine besides the case `besides`: another case, or how it is built.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn lock_of(
        &self,
        knowledge: &Knowledge,
        machine: Uuid,
        besides: Uuid,
    ) -> Result<Option<Lock>, StoreError> {
        let _turn = self.gate.reader().await?;
        find_lock(&self.db, knowledge, machine, besides).await
    }
}

fn as_json(events: &[Event]) -> Result<serde_json::Value, StoreError> {
    serde_json::to_value(events).map_err(crate::error::unreadable)
}

async fn find(db: &impl ConnectionTrait, id: Uuid) -> Result<case_summary::Model, StoreError> {
    let row = case_summary::Entity::find_by_id(id).one(db).await?;
    row.ok_or(StoreError::NotFound)
}

async fn lock_case(
    transaction: &DatabaseTransaction,
    id: Uuid,
) -> Result<case_summary::Model, StoreError> {
    let row = case_summary::Entity::find_by_id(id)
        .lock_exclusive()
        .one(transaction)
        .await?;
    row.ok_or(StoreError::NotFound)
}

/// Locks the machine's row, so that only one writes to its cases at a time, and tells what locks
/// the machine itself.
async fn on_machine(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    id: Uuid,
    besides: Uuid,
) -> Result<Option<Lock>, StoreError> {
    lock_machine(transaction, id).await?;
    find_lock(transaction, knowledge, id, besides).await
}

/// Machine before case, always: a stop raised in one case and a step recorded in another must see
/// each other. Of two machines the smaller identifier first.
async fn lock_machines(
    transaction: &DatabaseTransaction,
    own: Uuid,
    events: &[Event],
) -> Result<Vec<Uuid>, StoreError> {
    let mut on = vec![own];
    on.extend(moves_to(events)?);
    on.sort();
    on.dedup();
    for machine in &on {
        lock_machine(transaction, *machine).await?;
    }
    Ok(on)
}

/// The machine a case is moved to.
fn moves_to(events: &[Event]) -> Result<Option<Uuid>, StoreError> {
    let to = events.iter().find_map(|e| match e {
        Event::Moved { machine, .. } => Some(machine),
        _ => None,
    });
    let unknown = || Refusal::invalid("machine", Problem::NoSuchMachine);
    Ok(to.map(|id| id.parse().map_err(|_| unknown())).transpose()?)
}

/// What came in since the writer looked, its own touches left out.
async fn news(
    db: &impl ConnectionTrait,
    log: &[Entry],
    expected: u32,
    stamp: &Stamp,
    id: Uuid,
) -> Result<Vec<Entry>, StoreError> {
    let own = stamp::own_entries(db, stamp, id).await?;
    let foreign = |seq: u32| {
        !own.iter()
            .any(|(first, last)| (*first..=*last).contains(&seq))
    };
    let since = log.iter().filter(|e| e.seq > expected && foreign(e.seq));
    Ok(since.cloned().collect())
}

/// A touch that comes again is fine while what it wrote counts; after an undo it must not seem to
/// be in force.
fn still_counts(log: &[Entry], expected: u32, written: (u32, u32)) -> Result<u32, StoreError> {
    let counts = case::active(log);
    let undone = log
        .iter()
        .zip(counts)
        .any(|(e, counts)| (written.0..=written.1).contains(&e.seq) && !counts);
    match (undone, log.last()) {
        (false, Some(last)) => Ok(last.seq),
        _ => conflict(log, expected),
    }
}

fn conflict(log: &[Entry], expected: u32) -> Result<u32, StoreError> {
    Err(StoreError::Conflict {
        expected,
        actual: log.last().map_or(0, |e| e.seq),
        since: log.iter().filter(|e| e.seq > expected).cloned().collect(),
    })
}

/// Events in their places, with the summary of the whole.
struct Placed {
    entries: Vec<Entry>,
    summary: Summary,
    taught: Taught,
    /// The spool as the case names it.
    spool: String,
}

/// What a case hangs on beside its log.
struct Given {
    lock: Option<Lock>,
    workshop: Workshop,
    learned: Option<Arc<Learned>>,
}

/// Checks and places the events after `log`, one by one.
async fn extend(
    knowledge: &Knowledge,
    log: &[Entry],
    given: Given,
    events: &[Event],
    stamp: &Stamp,
) -> Result<Placed, StoreError> {
    if events.len() > MOST_ENTRIES_AT_ONCE {
        let problem = Problem::TooManyAtOnce {
            many: events.len(),
            most: MOST_ENTRIES_AT_ONCE,
        };
        return Err(StoreError::Refused(Refusal::invalid("form", problem)));
    }
    let Given {
        lock,
        workshop,
        learned,
    } = given;
    let place = || -> Result<Placed, Refusal> {
        let mut whole = log.to_vec();
        let mut state = case::replay(knowledge, &whole);
        state.locked_by = lock;
        state.facts.learned = learned;
        for event in events {
            case::accept(knowledge, &state, event)?;
            whole.push(Entry {
                seq: state.last_seq + 1,
                at: stamp.at,
                by: stamp.by.clone(),
                event: event.clone(),
            });
            let after: CaseState = case::advance(knowledge, &state, &whole);
            case::keeps_stops(knowledge, &state, &after, event)?;
            state = after;
        }
        Ok(Placed {
            spool: state.spool.clone(),
            summary: case::summary(knowledge, &state, &workshop),
            taught: Taught::by(knowledge, &whole, &state),
            entries: whole.split_off(log.len()),
        })
    };
    Ok(think(place).await?)
}

async fn insert(
    transaction: &DatabaseTransaction,
    id: Uuid,
    entries: &[Entry],
) -> Result<(), StoreError> {
    let row = |entry: &Entry| {
        Ok(case_entry::ActiveModel {
            case_id: Set(id),
            seq: Set(entry.seq as i32),
            at: Set(entry.at),
            by: Set(entry.by.clone()),
            event: Set(serde_json::to_value(&entry.event).map_err(crate::error::unreadable)?),
        })
    };
    let rows: Vec<_> = entries.iter().map(row).collect::<Result<_, StoreError>>()?;
    case_entry::Entity::insert_many(rows)
        .exec_without_returning(transaction)
        .await?;
    Ok(())
}
