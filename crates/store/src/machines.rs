//! Machines of the workshop: each a log of its own, and the row that says what it is now.

use crate::entity::{machine, machine_entry as rows_of, shelf};
use crate::entries::{lock_machine, machine_entry, said_of_machine, tell_machine};
use crate::stamp::{self, Content, Stamp};
use crate::{Store, StoreError, book_rows};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, DatabaseTransaction,
    EntityTrait, PaginatorTrait, QueryFilter, QueryOrder, QuerySelect, TransactionTrait,
};
use std::collections::BTreeMap;
use suspect_core::book;
use suspect_core::case::{Entry, Event, Problem, Refusal};
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{Described, MachineEntry, MachineEvent, accept, in_time};
use suspect_core::text::look;
use time::OffsetDateTime;
use uuid::Uuid;

/// Whoever names a machine waits for whoever else does.
const NAMING: &str = "SELECT pg_advisory_xact_lock(7247)";

/// A machine as pages see it.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Machine {
    /// Identifier.
    pub id: Uuid,
    /// Its name on the floor.
    pub name: String,
    /// Its model.
    pub model: String,
    /// Profile fields by identifier.
    pub profile: BTreeMap<String, String>,
    /// Place in the order of the floor.
    pub position: i32,
    /// Where it stands, in words.
    pub place: String,
    /// What else is worth knowing.
    pub note: String,
    /// Why it stands still; `None` while it is in service.
    pub out_of_service: Option<String>,
}

impl From<machine::Model> for Machine {
    fn from(row: machine::Model) -> Self {
        Self {
            id: row.id,
            name: row.name,
            model: row.model,
            profile: serde_json::from_value(row.profile).unwrap_or_default(),
            position: row.position,
            place: row.place,
            note: row.note,
            out_of_service: row.out_of_service,
        }
    }
}

impl Machine {
    /// What the machine's log says it is.
    pub fn described(&self) -> Described {
        Described {
            name: self.name.clone(),
            model: self.model.clone(),
            profile: self.profile.clone(),
            place: self.place.clone(),
            note: self.note.clone(),
        }
    }
}

impl Store {
    /// All machines in the order of the floor.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn machines(&self) -> Result<Vec<Machine>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = machine::Entity::find()
            .order_by_asc(machine::Column::Position)
            .order_by_asc(machine::Column::Name)
            .all(&self.db)
            .await?;
        Ok(rows.into_iter().map(Machine::from).collect())
    }

    /// One machine.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with this identifier.
    pub async fn machine(&self, id: Uuid) -> Result<Machine, StoreError> {
        let _turn = self.gate.reader().await?;
        let row = machine::Entity::find_by_id(id).one(&self.db).await?;
        row.map(Machine::from).ok_or(StoreError::NotFound)
    }

    /// Adds a machine at the end of the floor's order, with the first entry of its log. The same
    /// machine added again is fine.
    ///
    /// # Errors
    /// [`StoreError::Refused`] when something makes no sense or the name is taken, or looks like
    /// one that is.
    pub async fn add_machine(
        &self,
        knowledge: &Knowledge,
        id: Uuid,
        described: &Described,
        stamp: impl Into<Stamp>,
    ) -> Result<(), StoreError> {
        let stamp = stamp.into();
        let event = MachineEvent::Described {
            machine: described.clone(),
            lifts: None,
        };
        accept(knowledge, None, &[], &event)?;
        let content = content(id, &event)?;
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        transaction.execute_unprepared(NAMING).await?;
        let again = stamp::taken_before(&transaction, &stamp, &content).await?;
        let there = machine::Entity::find_by_id(id).one(&transaction).await?;
        if again.is_some() || there.is_some_and(|row| Machine::from(row).described() == *described)
        {
            return Ok(());
        }
        free_name(&transaction, id, &described.name).await?;
        let last = machine::Entity::find()
            .order_by_desc(machine::Column::Position)
            .one(&transaction)
            .await?;
        machine::ActiveModel {
            id: Set(id),
            position: Set(last.map_or(0, |m| m.position + 1)),
            out_of_service: Set(None),
            ..now(described)
        }
        .insert(&transaction)
        .await?;
        write(&transaction, id, 1, &event, &stamp).await?;
        book_rows::follow(&transaction, knowledge, id, &[event], &stamp).await?;
        stamp::keep(&transaction, &stamp, content, 1, 1).await?;
        Ok(transaction.commit().await?)
    }

    /// Whether nothing is stored yet.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn is_empty(&self) -> Result<bool, StoreError> {
        let _turn = self.gate.reader().await?;
        let machines = machine::Entity::find().count(&self.db).await?;
        Ok(machines == 0 && shelf::Entity::find().count(&self.db).await? == 0)
    }

    /// The log of a machine, in order.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn machine_log(&self, machine: Uuid) -> Result<Vec<MachineEntry>, StoreError> {
        let _turn = self.gate.reader().await?;
        read(&self.db, machine).await
    }

    /// What was written of all machines since a moment, in order: the machine and the entry.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn machine_entries_since(
        &self,
        since: OffsetDateTime,
        most: u64,
    ) -> Result<Vec<(Uuid, MachineEntry)>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = rows_of::Entity::find()
            .filter(rows_of::Column::At.gte(since))
            .order_by_asc(rows_of::Column::At)
            .order_by_asc(rows_of::Column::Seq)
            .limit(most)
            .all(&self.db)
            .await?;
        let of = |row: rows_of::Model| Ok((row.machine_id, machine_entry(row)?));
        rows.into_iter().map(of).collect()
    }

    /// Appends to the log of a machine. `expected` is the last entry the writer knew; `None` for
    /// what stands on its own, as a reading of the counter.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::Refused`] when the event makes no sense, or
    /// [`StoreError::Conflict`] when someone else wrote first.
    pub async fn append_to_machine(
        &self,
        knowledge: &Knowledge,
        machine: Uuid,
        expected: Option<u32>,
        event: &MachineEvent,
        stamp: impl Into<Stamp>,
    ) -> Result<(), StoreError> {
        let stamp = stamp.into();
        let content = content(machine, event)?;
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        if matches!(event, MachineEvent::Described { .. }) {
            transaction.execute_unprepared(NAMING).await?;
        }
        let row = lock_machine(&transaction, machine).await?;
        if stamp::taken_before(&transaction, &stamp, &content)
            .await?
            .is_some()
        {
            return Ok(());
        }
        let log = read(&transaction, machine).await?;
        let actual = log.last().map_or(0, |e| e.seq);
        if expected.is_some_and(|expected| expected != actual) {
            return Err(StoreError::Conflict {
                expected: expected.unwrap_or(0),
                actual,
                since: Vec::new(),
            });
        }
        let known = Machine::from(row);
        let still = known.out_of_service.is_some();
        in_time(event, stamp.at)?;
        accept(knowledge, Some((&known.described(), still)), &log, event)?;
        if let MachineEvent::Described { machine: new, .. } = event {
            free_name(&transaction, machine, &new.name).await?;
        }
        apply(&transaction, machine, event).await?;
        write(&transaction, machine, actual + 1, event, &stamp).await?;
        let events = std::slice::from_ref(event);
        book_rows::follow(&transaction, knowledge, machine, events, &stamp).await?;
        stamp::keep(&transaction, &stamp, content, actual + 1, actual + 1).await?;
        tell_machine(&transaction, machine, Uuid::nil()).await?;
        Ok(transaction.commit().await?)
    }
}

fn content(machine: Uuid, event: &MachineEvent) -> Result<Content, StoreError> {
    let event = serde_json::to_value(event).map_err(crate::error::unreadable)?;
    Ok(Content::new(Some(machine), &event))
}

/// Refuses a name that another machine has, or one that looks like it.
async fn free_name(db: &impl ConnectionTrait, id: Uuid, name: &str) -> Result<(), StoreError> {
    let others = machine::Entity::find()
        .filter(machine::Column::Id.ne(id))
        .all(db)
        .await?;
    match others.iter().find(|m| look(&m.name) == look(name)) {
        None => Ok(()),
        Some(taken) => {
            let problem = Problem::NameTaken(taken.name.clone());
            Err(StoreError::Refused(Refusal::invalid("name", problem)))
        }
    }
}

/// What the row says of a machine.
fn now(described: &Described) -> machine::ActiveModel {
    machine::ActiveModel {
        name: Set(described.name.clone()),
        model: Set(described.model.clone()),
        profile: Set(serde_json::json!(described.profile)),
        place: Set(described.place.clone()),
        note: Set(described.note.clone()),
        ..Default::default()
    }
}

async fn apply(
    transaction: &DatabaseTransaction,
    id: Uuid,
    event: &MachineEvent,
) -> Result<(), StoreError> {
    let mut row = match event {
        MachineEvent::Described { machine, .. } => now(machine),
        MachineEvent::OutOfService { reason } | MachineEvent::Retired { reason } => {
            machine::ActiveModel {
                out_of_service: Set(Some(reason.clone())),
                ..Default::default()
            }
        }
        MachineEvent::BackInService => machine::ActiveModel {
            out_of_service: Set(None),
            ..Default::default()
        },
        MachineEvent::Counter { .. }
        | MachineEvent::Fitted { .. }
        | MachineEvent::Reached { .. }
        | MachineEvent::Filed { .. }
        | MachineEvent::Settled { .. }
        | MachineEvent::PieceRead { .. }
        | MachineEvent::Kept { .. }
        | MachineEvent::Changed(_)
        | MachineEvent::Worked { .. }
        | MachineEvent::Good { .. }
        | MachineEvent::Quirk { .. }
        | MachineEvent::Calibrated(_)
        | MachineEvent::Noted { .. }
        | MachineEvent::Commissioning { .. }
        | MachineEvent::Commissioned { .. }
        | MachineEvent::LookedOver { .. }
        | MachineEvent::Earlier { .. }
        | MachineEvent::Benched { .. } => return Ok(()),
    };
    row.id = Set(id);
    row.update(transaction).await?;
    Ok(())
}

/// What a case learns of its machine and does to it (how it is built, what was measured, fixes, a
/// print that came out well) belongs to the machine: kept in its log too. `log` is the case's, as
/// it was before.
pub(crate) async fn told_by_case(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    id: Uuid,
    (case, log): (Uuid, &[Entry]),
    events: &[Event],
    stamp: &Stamp,
) -> Result<(), StoreError> {
    let told = book::told_by_case(&case.to_string(), log, events);
    measured(transaction, knowledge, id, events, told, stamp).await?;
    let said = said_of_machine(events);
    if said.is_empty() {
        return Ok(());
    }
    let known = Machine::from(lock_machine(transaction, id).await?).described();
    let mut machine = known.clone();
    machine.profile.extend(said);
    if machine == known {
        return Ok(());
    }
    let log = read(transaction, id).await?;
    let event = MachineEvent::Described {
        machine,
        lifts: None,
    };
    accept(knowledge, Some((&known, false)), &log, &event)?;
    apply(transaction, id, &event).await?;
    let seq = log.last().map_or(0, |e| e.seq) + 1;
    write(transaction, id, seq, &event, stamp).await?;
    book_rows::follow(transaction, knowledge, id, &[event], stamp).await?;
    tell_machine(transaction, id, Uuid::nil()).await
}

/// What was measured at the bench for a case of the machine, and what else it told.
async fn measured(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    id: Uuid,
    events: &[Event],
    told: Vec<MachineEvent>,
    stamp: &Stamp,
) -> Result<(), StoreError> {
    let readings = events.iter().filter_map(|event| match event {
        Event::Benched { reading, .. } => MachineEvent::benched(reading.clone()),
        _ => None,
    });
    let readings: Vec<MachineEvent> = readings.chain(told).collect();
    if readings.is_empty() {
        return Ok(());
    }
    let before = read(transaction, id).await?.last().map_or(0, |e| e.seq);
    for (seq, event) in (before + 1..).zip(&readings) {
        write(transaction, id, seq, event, stamp).await?;
    }
    book_rows::follow(transaction, knowledge, id, &readings, stamp).await?;
    tell_machine(transaction, id, Uuid::nil()).await
}

async fn write(
    transaction: &DatabaseTransaction,
    machine: Uuid,
    seq: u32,
    event: &MachineEvent,
    stamp: &Stamp,
) -> Result<(), StoreError> {
    let row = rows_of::ActiveModel {
        machine_id: Set(machine),
        seq: Set(seq as i32),
        at: Set(stamp.at),
        by: Set(stamp.by.clone()),
        event: Set(serde_json::to_value(event).map_err(crate::error::unreadable)?),
    };
    row.insert(transaction).await?;
    Ok(())
}

async fn read(db: &impl ConnectionTrait, machine: Uuid) -> Result<Vec<MachineEntry>, StoreError> {
    let rows = rows_of::Entity::find()
        .filter(rows_of::Column::MachineId.eq(machine))
        .order_by_asc(rows_of::Column::Seq)
        .all(db)
        .await?;
    rows.into_iter().map(machine_entry).collect()
}
