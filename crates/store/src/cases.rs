//! Cases: opening, appending with the expected sequence number, reading, listing.

use crate::entity::{case_entry, case_summary, machine};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::NotSet, ColumnTrait, Condition, ConnectionTrait,
    DatabaseTransaction, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder, QuerySelect, Set,
    TransactionTrait,
};
use suspect_core::case::{self, Entry, Event, Lock, Summary};
use suspect_core::knowledge::Knowledge;
use time::OffsetDateTime;
use uuid::Uuid;

/// A line of floor or records.
#[derive(Debug, Clone, PartialEq)]
pub struct CaseRow {
    /// Identifier.
    pub id: Uuid,
    /// Running number of the workshop, for talking about a case.
    pub number: i64,
    /// Machine.
    pub machine_id: Uuid,
    /// Last event.
    pub last_seq: u32,
    /// Title.
    pub title: String,
    /// `open`, `verifying`, `cured`, `resolved`.
    pub status: String,
    /// Material family.
    pub material: Option<String>,
    /// Leading suspect and its probability.
    pub leader: Option<(String, f64)>,
    /// Name of the next step.
    pub next_step: Option<String>,
    /// Stops that hold.
    pub stops: Vec<String>,
    /// How it ended.
    pub outcome: Option<String>,
    /// The cause it was.
    pub cause: Option<String>,
    /// The fix that did it.
    pub fix: Option<String>,
    /// Minutes spent.
    pub minutes: f64,
    /// Grams used.
    pub grams: f64,
    /// Money spent.
    pub money: f64,
    /// Opened.
    pub opened_at: OffsetDateTime,
    /// Last event.
    pub updated_at: OffsetDateTime,
    /// Closed.
    pub closed_at: Option<OffsetDateTime>,
}

impl From<case_summary::Model> for CaseRow {
    fn from(row: case_summary::Model) -> Self {
        Self {
            id: row.case_id,
            number: row.number,
            machine_id: row.machine_id,
            last_seq: row.last_seq as u32,
            title: row.title,
            status: row.status,
            material: row.material,
            leader: row.leader.zip(row.leader_probability),
            next_step: row.next_step,
            stops: row.stops.split_whitespace().map(str::to_string).collect(),
            outcome: row.outcome,
            cause: row.cause,
            fix: row.fix,
            minutes: row.minutes,
            grams: row.grams,
            money: row.money,
            opened_at: row.opened_at,
            updated_at: row.updated_at,
            closed_at: row.closed_at,
        }
    }
}

/// Which closed cases are asked for.
#[derive(Debug, Clone, Default)]
pub struct RecordFilter {
    /// Only this machine.
    pub machine: Option<Uuid>,
    /// Only this cause.
    pub cause: Option<String>,
    /// Only this outcome.
    pub outcome: Option<String>,
}

impl RecordFilter {
    fn condition(&self) -> Condition {
        Condition::all()
            .add(case_summary::Column::Status.eq("resolved"))
            .add_option(self.machine.map(|m| case_summary::Column::MachineId.eq(m)))
            .add_option(
                self.cause
                    .as_ref()
                    .map(|c| case_summary::Column::Cause.eq(c)),
            )
            .add_option(
                self.outcome
                    .as_ref()
                    .map(|o| case_summary::Column::Outcome.eq(o)),
            )
    }
}

impl Store {
    /// Opens a case under an identifier chosen by the caller, so that the same form sent twice opens one case.
    ///
    /// Returns the last sequence number.
    ///
    /// # Errors
    /// [`StoreError::Refused`] when an event makes no sense, [`StoreError::Conflict`] when another case has this identifier.
    pub async fn open_case(
        &self,
        knowledge: &Knowledge,
        id: Uuid,
        machine: Uuid,
        events: &[Event],
        at: OffsetDateTime,
    ) -> Result<u32, StoreError> {
        let transaction = self.db.begin().await?;
        let lock = on_machine(&transaction, knowledge, machine, id).await?;
        let (entries, summary) = extend(&transaction, knowledge, &[], lock, events, at).await?;
        let mut row = row(id, &summary, entries.len() as u32);
        row.machine_id = Set(machine);
        let inserted = case_summary::Entity::insert(row)
            .on_conflict(
                sea_orm::sea_query::OnConflict::column(case_summary::Column::CaseId)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&transaction)
            .await?;
        if inserted == 0 {
            transaction.rollback().await?;
            return already_there(&self.case_log(id).await?, 0, events);
        }
        insert(&transaction, id, &entries).await?;
        if !summary.stops.is_empty() {
            tell_machine(&transaction, machine, id).await?;
        }
        transaction.commit().await?;
        Ok(entries.len() as u32)
    }

    /// Appends events to a case whose last event the caller knows to be `expected`. Returns the last sequence number.
    ///
    /// The same events sent again are recognised and answered as if they had just been stored.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::Refused`], or [`StoreError::Conflict`] when someone else wrote first.
    pub async fn append(
        &self,
        knowledge: &Knowledge,
        id: Uuid,
        expected: u32,
        events: &[Event],
        at: OffsetDateTime,
    ) -> Result<u32, StoreError> {
        self.append_with(knowledge, id, expected, events, at, async |_| Ok(()))
            .await
    }

    /// The same with something written beside, in the same transaction.
    ///
    /// Events that only add join a log that moved on meanwhile, when what came in between only added too, about other things: two
    /// people who each touch a sign need no question in between.
    pub(crate) async fn append_with(
        &self,
        knowledge: &Knowledge,
        id: Uuid,
        expected: u32,
        events: &[Event],
        at: OffsetDateTime,
        beside: impl AsyncFnOnce(&DatabaseTransaction) -> Result<(), StoreError>,
    ) -> Result<u32, StoreError> {
        let transaction = self.db.begin().await?;
        let machine = case_summary::Entity::find_by_id(id)
            .one(&transaction)
            .await?
            .ok_or(StoreError::NotFound)?
            .machine_id;
        // Machine before case, always: a stop raised in one case and a step recorded in another must see each other.
        let lock = on_machine(&transaction, knowledge, machine, id).await?;
        let head = case_summary::Entity::find_by_id(id)
            .lock_exclusive()
            .one(&transaction)
            .await?
            .ok_or(StoreError::NotFound)?;
        let log = read_log(&transaction, id).await?;
        let actual = head.last_seq as u32;
        if actual != expected {
            let since: Vec<Entry> = log.iter().filter(|e| e.seq > expected).cloned().collect();
            if repeats(&since, events) || !case::may_join(&since, events) {
                transaction.rollback().await?;
                return already_there(&log, expected, events);
            }
        }
        let (entries, summary) = extend(&transaction, knowledge, &log, lock, events, at).await?;
        let last = actual + entries.len() as u32;
        insert(&transaction, id, &entries).await?;
        row(id, &summary, last).update(&transaction).await?;
        beside(&transaction).await?;
        tell(&transaction, id, last).await?;
        if summary.stops.join(" ") != head.stops {
            tell_machine(&transaction, machine, id).await?;
        }
        transaction.commit().await?;
        Ok(last)
    }

    /// The log of a case, in order.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such case.
    pub async fn case_log(&self, id: Uuid) -> Result<Vec<Entry>, StoreError> {
        let log = read_log(&self.db, id).await?;
        if log.is_empty() {
            Err(StoreError::NotFound)
        } else {
            Ok(log)
        }
    }

    /// The summary of a case.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such case.
    pub async fn case_row(&self, id: Uuid) -> Result<CaseRow, StoreError> {
        case_summary::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .map(CaseRow::from)
            .ok_or(StoreError::NotFound)
    }

    /// What locks a machine through another case than `besides`.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn lock_of(
        &self,
        knowledge: &Knowledge,
        machine: Uuid,
        besides: Uuid,
    ) -> Result<Option<Lock>, StoreError> {
        find_lock(&self.db, knowledge, machine, besides).await
    }

    /// Cases not yet closed, and closed ones under which a stop still holds; latest first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn floor_cases(&self) -> Result<Vec<CaseRow>, StoreError> {
        let rows = case_summary::Entity::find()
            .filter(
                Condition::any()
                    .add(case_summary::Column::Status.ne("resolved"))
                    .add(case_summary::Column::Stops.ne("")),
            )
            .order_by_desc(case_summary::Column::UpdatedAt)
            .all(&self.db)
            .await?;
        Ok(rows.into_iter().map(CaseRow::from).collect())
    }

    /// One page of closed cases, latest first, and how many there are in all.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn records(
        &self,
        filter: &RecordFilter,
        page: u64,
        per_page: u64,
    ) -> Result<(Vec<CaseRow>, u64), StoreError> {
        let query = case_summary::Entity::find()
            .filter(filter.condition())
            .order_by_desc(case_summary::Column::ClosedAt)
            .order_by_desc(case_summary::Column::CaseId);
        let pages = query.paginate(&self.db, per_page);
        let total = pages.num_items().await?;
        let rows = pages.fetch_page(page).await?;
        Ok((rows.into_iter().map(CaseRow::from).collect(), total))
    }

    /// Causes that closed cases name, each with its number of cases, most frequent first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn recorded_causes(&self) -> Result<Vec<(String, i64)>, StoreError> {
        let rows: Vec<(Option<String>, i64)> = case_summary::Entity::find()
            .select_only()
            .column(case_summary::Column::Cause)
            .column_as(case_summary::Column::CaseId.count(), "cases")
            .filter(case_summary::Column::Status.eq("resolved"))
            .group_by(case_summary::Column::Cause)
            .order_by_desc(case_summary::Column::CaseId.count())
            .order_by_asc(case_summary::Column::Cause)
            .into_tuple()
            .all(&self.db)
            .await?;
        Ok(rows
            .into_iter()
            .filter_map(|(cause, n)| Some((cause?, n)))
            .collect())
    }
}

/// Locks the machine's row, so that only one writes to its cases at a time, and tells what locks the machine itself.
async fn on_machine(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    id: Uuid,
    besides: Uuid,
) -> Result<Option<Lock>, StoreError> {
    machine::Entity::find_by_id(id)
        .lock_exclusive()
        .one(transaction)
        .await?;
    find_lock(transaction, knowledge, id, besides).await
}

async fn find_lock(
    db: &impl ConnectionTrait,
    knowledge: &Knowledge,
    machine: Uuid,
    besides: Uuid,
) -> Result<Option<Lock>, StoreError> {
    let row = case_summary::Entity::find()
        .filter(case_summary::Column::MachineId.eq(machine))
        .filter(case_summary::Column::CaseId.ne(besides))
        .filter(case_summary::Column::Stops.ne(""))
        .order_by_asc(case_summary::Column::Number)
        .one(db)
        .await?;
    Ok(row.map(|row| {
        let first = row
            .stops
            .split_whitespace()
            .find_map(|id| knowledge.stops.iter().position(|s| s.id == id));
        // A stop the present knowledge does not know any more still locks; it goes by the first one's name.
        Lock {
            case: row.case_id.to_string(),
            number: row.number,
            stop: first.unwrap_or(0),
        }
    }))
}

/// Tells the other open cases of a machine to look again: it was locked or freed.
async fn tell_machine(
    transaction: &DatabaseTransaction,
    machine: Uuid,
    besides: Uuid,
) -> Result<(), StoreError> {
    let others = case_summary::Entity::find()
        .filter(case_summary::Column::MachineId.eq(machine))
        .filter(case_summary::Column::CaseId.ne(besides))
        .filter(case_summary::Column::Status.ne("resolved"))
        .all(transaction)
        .await?;
    for other in others {
        tell(transaction, other.case_id, u32::MAX).await?;
    }
    Ok(())
}

/// Checks and places the events after `log`; returns them as entries with the summary of the whole.
async fn extend(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    log: &[Entry],
    lock: Option<Lock>,
    events: &[Event],
    at: OffsetDateTime,
) -> Result<(Vec<Entry>, Summary), StoreError> {
    let (workshop, _) = crate::workshop::latest(transaction).await?;
    let mut whole = log.to_vec();
    let mut state = case::replay(knowledge, &whole);
    for event in events {
        state.locked_by = lock.clone();
        case::accept(knowledge, &state, event)?;
        whole.push(Entry {
            seq: state.last_seq + 1,
            at,
            event: event.clone(),
        });
        let after = case::replay(knowledge, &whole);
        case::keeps_stops(knowledge, &state, &after, event)?;
        state = after;
    }
    let summary = case::summary(knowledge, &state, &workshop);
    Ok((whole.split_off(log.len()), summary))
}

/// The same events sent twice are fine; anything else is a conflict.
fn already_there(log: &[Entry], expected: u32, events: &[Event]) -> Result<u32, StoreError> {
    let since: Vec<Entry> = log.iter().filter(|e| e.seq > expected).cloned().collect();
    let actual = log.last().map_or(0, |e| e.seq);
    if repeats(&since, events) {
        Ok(actual)
    } else {
        Err(StoreError::Conflict {
            expected,
            actual,
            since,
        })
    }
}

/// Whether the events stand in the log already, one behind the other.
fn repeats(since: &[Entry], events: &[Event]) -> bool {
    since
        .windows(events.len().max(1))
        .any(|there| there.iter().map(|e| &e.event).eq(events))
}

/// Tells every process that listens, once the transaction stands.
async fn tell(transaction: &DatabaseTransaction, id: Uuid, last: u32) -> Result<(), StoreError> {
    let told = format!(
        "SELECT pg_notify('{}', '{id} {last}')",
        crate::changes::CHANNEL
    );
    transaction.execute_unprepared(&told).await?;
    Ok(())
}

pub(crate) async fn read_log(
    db: &impl sea_orm::ConnectionTrait,
    id: Uuid,
) -> Result<Vec<Entry>, StoreError> {
    let rows = case_entry::Entity::find()
        .filter(case_entry::Column::CaseId.eq(id))
        .order_by_asc(case_entry::Column::Seq)
        .all(db)
        .await?;
    rows.into_iter()
        .map(|row| {
            let event = serde_json::from_value(row.event)
                .map_err(|e| sea_orm::DbErr::Json(e.to_string()))?;
            Ok(Entry {
                seq: row.seq as u32,
                at: row.at,
                event,
            })
        })
        .collect()
}

async fn insert(
    transaction: &DatabaseTransaction,
    id: Uuid,
    entries: &[Entry],
) -> Result<(), StoreError> {
    let rows = entries.iter().map(|entry| {
        let event =
            serde_json::to_value(&entry.event).map_err(|e| sea_orm::DbErr::Json(e.to_string()))?;
        Ok(case_entry::ActiveModel {
            case_id: Set(id),
            seq: Set(entry.seq as i32),
            at: Set(entry.at),
            event: Set(event),
        })
    });
    let rows: Vec<_> = rows.collect::<Result<_, StoreError>>()?;
    case_entry::Entity::insert_many(rows)
        .exec_without_returning(transaction)
        .await?;
    Ok(())
}

fn row(id: Uuid, summary: &Summary, last_seq: u32) -> case_summary::ActiveModel {
    let (leader, leader_probability) = summary.leader.clone().unzip();
    case_summary::ActiveModel {
        case_id: Set(id),
        number: NotSet,
        machine_id: NotSet,
        last_seq: Set(last_seq as i32),
        title: Set(summary.title.clone()),
        status: Set(summary.status.to_string()),
        material: Set(summary.material.clone()),
        leader: Set(leader),
        leader_probability: Set(leader_probability),
        next_step: Set(summary.next_step.clone()),
        stops: Set(summary.stops.join(" ")),
        outcome: Set(summary.outcome.map(str::to_string)),
        cause: Set(summary.cause.clone()),
        fix: Set(summary.fix.clone()),
        minutes: Set(summary.minutes),
        grams: Set(summary.grams),
        money: Set(summary.money),
        opened_at: Set(summary.opened_at),
        updated_at: Set(summary.updated_at),
        closed_at: Set(summary.closed_at),
        answers: Set(Some(serde_json::json!(summary.answers))),
    }
}
