//! Spools and stock: each thing a log of its own, with the row that lists read.

use crate::entity::{case_summary, shelf, shelf_entry};
use crate::entries::tell;
use crate::lists::CaseRow;
use crate::outdated::{Whose, numbers_moved};
use crate::stamp::{self, Content, Stamp};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, DatabaseTransaction,
    DbBackend, EntityTrait, QueryFilter, QueryOrder, QuerySelect, Statement, TransactionTrait,
};
use suspect_core::knowledge::Knowledge;
use suspect_core::shelf::{Shelved, Shelving};
use time::OffsetDateTime;
use uuid::Uuid;

/// The way of summing up: rows of another way are read from their logs.
const WAY: &str = "1";
/// Whoever adds a thing waits for whoever else does: numbers have no gaps.
const ADDING: &str = "SELECT pg_advisory_xact_lock(7249)";

/// A thing as lists see it.
#[derive(Debug, Clone, PartialEq)]
pub struct Thing<T> {
    /// Identifier.
    pub id: Uuid,
    /// Running number among its like.
    pub number: i64,
    /// The last entry of its log.
    pub seq: u32,
    /// When something happened to it last.
    pub changed_at: OffsetDateTime,
    /// What it is.
    pub is: T,
}

/// A log that is read or written whole.
type Log<T> = Vec<Shelving<<T as Shelved>::Event>>;

impl Store {
    /// Writes to a thing; a new one under an identifier chosen by the caller begins with it.
    /// `expected` is the last entry the writer knew. Returns the last entry.
    ///
    /// # Errors
    /// [`StoreError::Refused`], [`StoreError::NotFound`], or [`StoreError::Conflict`] when somebody
    /// else described it first.
    pub async fn append_to_thing<T: Shelved>(
        &self,
        knowledge: &Knowledge,
        id: Uuid,
        expected: u32,
        events: &[T::Event],
        stamp: impl Into<Stamp>,
    ) -> Result<u32, StoreError> {
        let stamp = stamp.into();
        let json = serde_json::to_value(events).map_err(crate::error::unreadable)?;
        let content = Content::new(Some(id), &json);
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        if expected == 0 {
            transaction.execute_unprepared(ADDING).await?;
        }
        let row = shelf::Entity::find_by_id(id)
            .lock_exclusive()
            .one(&transaction)
            .await?;
        if let Some((_, last)) = stamp::taken_before(&transaction, &stamp, &content).await? {
            return Ok(last);
        }
        let log = log::<T>(&transaction, id).await?;
        let actual = log.last().map_or(0, |e| e.seq);
        if row.is_none() && expected > 0 {
            return Err(StoreError::NotFound);
        }
        if actual != expected && !events.iter().all(T::stands_alone) {
            return Err(StoreError::Conflict {
                expected,
                actual,
                since: Vec::new(),
            });
        }
        let (thing, last) = extend::<T>(knowledge, log, events, &stamp)?;
        let number = match &row {
            Some(row) => row.number,
            None => next_number(&transaction, T::KIND).await?,
        };
        let now = row_of(id, number, &thing, last, stamp.at)?;
        match row {
            Some(_) => now.update(&transaction).await.map(|_| ())?,
            None => now.insert(&transaction).await.map(|_| ())?,
        }
        write::<T>(&transaction, id, actual + 1, events, &stamp).await?;
        stamp::keep(&transaction, &stamp, content, actual + 1, last).await?;
        if T::MOVES_SUSPECTS {
            numbers_moved(&transaction, Whose::All).await?;
        }
        if T::TELLS {
            tell(&transaction, id, last).await?;
        }
        transaction.commit().await?;
        Ok(last)
    }

    /// All things of a kind, the latest first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn things<T: Shelved>(&self) -> Result<Vec<Thing<T>>, StoreError> {
        let _turn = self.gate.reader().await?;
        things(&self.db).await
    }

    /// The latest things of a kind, the last first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn latest_things<T: Shelved>(&self, most: u64) -> Result<Vec<Thing<T>>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = shelf::Entity::find()
            .filter(shelf::Column::Kind.eq(T::KIND))
            .order_by_desc(shelf::Column::Number)
            .limit(most)
            .all(&self.db)
            .await?;
        let mut all = Vec::with_capacity(rows.len());
        for row in rows {
            all.push(thing::<T>(&self.db, row).await?);
        }
        Ok(all)
    }

    /// Cases that name a spool by its label ("S-12"), the latest first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn cases_with_spool(&self, label: &str) -> Result<Vec<CaseRow>, StoreError> {
        let _turn = self.gate.reader().await?;
        let sql = "SELECT DISTINCT case_id FROM case_entry WHERE event->>'spool' <> ''
            AND (event->>'spool' = $1 OR event->>'spool' LIKE $2) LIMIT 100";
        let values = [label.into(), format!("{label} %").into()];
        let sql = Statement::from_sql_and_values(DbBackend::Postgres, sql, values);
        let rows = self.db.query_all_raw(sql).await?;
        let ids: Result<Vec<Uuid>, _> = rows.iter().map(|r| r.try_get_by_index(0)).collect();
        let rows = case_summary::Entity::find()
            .filter(case_summary::Column::CaseId.is_in(ids?))
            .order_by_desc(case_summary::Column::Number)
            .all(&self.db)
            .await?;
        crate::lists::all(rows)
    }

    /// One thing with its log.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none of this kind with this identifier.
    pub async fn thing<T: Shelved>(&self, id: Uuid) -> Result<(Thing<T>, Log<T>), StoreError> {
        let _turn = self.gate.reader().await?;
        let row = shelf::Entity::find_by_id(id)
            .filter(shelf::Column::Kind.eq(T::KIND))
            .one(&self.db)
            .await?;
        let row = row.ok_or(StoreError::NotFound)?;
        let log = log::<T>(&self.db, id).await?;
        Ok((thing::<T>(&self.db, row).await?, log))
    }
}

/// Writes to a thing that is there, within a transaction that holds its row.
pub(crate) async fn append_within<T: Shelved>(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    row: shelf::Model,
    events: &[T::Event],
    stamp: &Stamp,
) -> Result<(), StoreError> {
    let log = log::<T>(transaction, row.id).await?;
    let (thing, last) = extend::<T>(knowledge, log, events, stamp)?;
    let first = last + 1 - events.len() as u32;
    row_of(row.id, row.number, &thing, last, stamp.at)?
        .update(transaction)
        .await?;
    write::<T>(transaction, row.id, first, events, stamp).await
}

/// Events in their places.
async fn write<T: Shelved>(
    transaction: &DatabaseTransaction,
    id: Uuid,
    first: u32,
    events: &[T::Event],
    stamp: &Stamp,
) -> Result<(), StoreError> {
    for (seq, event) in (first..).zip(events) {
        let entry = Shelving {
            seq,
            at: stamp.at,
            by: stamp.by.clone(),
            event: event.clone(),
        };
        insert::<T>(transaction, id, &entry).await?;
    }
    Ok(())
}

/// All things of a kind on a connection or within a transaction, the latest first.
pub(crate) async fn things<T: Shelved>(
    db: &impl ConnectionTrait,
) -> Result<Vec<Thing<T>>, StoreError> {
    let rows = shelf::Entity::find()
        .filter(shelf::Column::Kind.eq(T::KIND))
        .order_by_desc(shelf::Column::Number)
        .all(db)
        .await?;
    let mut all = Vec::with_capacity(rows.len());
    for row in rows {
        all.push(thing::<T>(db, row).await?);
    }
    Ok(all)
}

/// A thing as its row has it, or its log where the row is of another way.
pub(crate) async fn thing<T: Shelved>(
    db: &impl ConnectionTrait,
    row: shelf::Model,
) -> Result<Thing<T>, StoreError> {
    let is = match row.made == WAY {
        true => serde_json::from_value(row.thing).map_err(crate::error::unreadable)?,
        false => T::of(&log::<T>(db, row.id).await?),
    };
    Ok(Thing {
        id: row.id,
        number: row.number,
        seq: row.seq as u32,
        changed_at: row.changed_at,
        is,
    })
}

/// A thing after some events, and the number of the last entry.
fn extend<T: Shelved>(
    knowledge: &Knowledge,
    log: Log<T>,
    events: &[T::Event],
    stamp: &Stamp,
) -> Result<(T, u32), StoreError> {
    let mut thing = T::of(&log);
    let mut seq = log.last().map_or(0, |e| e.seq);
    for event in events {
        let refused = thing.accept(knowledge, event, seq == 0);
        refused.map_err(StoreError::Refused)?;
        seq += 1;
        thing.take(&Shelving {
            seq,
            at: stamp.at,
            by: stamp.by.clone(),
            event: event.clone(),
        });
    }
    Ok((thing, seq))
}

async fn next_number(transaction: &DatabaseTransaction, kind: &str) -> Result<i64, StoreError> {
    let last: Option<Option<i64>> = shelf::Entity::find()
        .select_only()
        .column_as(shelf::Column::Number.max(), "last")
        .filter(shelf::Column::Kind.eq(kind))
        .into_tuple()
        .one(transaction)
        .await?;
    Ok(last.flatten().unwrap_or(0) + 1)
}

pub(crate) fn row_of<T: Shelved>(
    id: Uuid,
    number: i64,
    thing: &T,
    last: u32,
    at: OffsetDateTime,
) -> Result<shelf::ActiveModel, StoreError> {
    Ok(shelf::ActiveModel {
        id: Set(id),
        kind: Set(T::KIND.into()),
        number: Set(number),
        seq: Set(last as i32),
        made: Set(WAY.into()),
        thing: Set(serde_json::to_value(thing).map_err(crate::error::unreadable)?),
        changed_at: Set(at),
    })
}

pub(crate) async fn insert<T: Shelved>(
    db: &impl ConnectionTrait,
    id: Uuid,
    entry: &Shelving<T::Event>,
) -> Result<(), StoreError> {
    let row = shelf_entry::ActiveModel {
        thing_id: Set(id),
        seq: Set(entry.seq as i32),
        at: Set(entry.at),
        by: Set(entry.by.clone()),
        event: Set(serde_json::to_value(&entry.event).map_err(crate::error::unreadable)?),
    };
    row.insert(db).await?;
    Ok(())
}

pub(crate) async fn log<T: Shelved>(
    db: &impl ConnectionTrait,
    id: Uuid,
) -> Result<Log<T>, StoreError> {
    let rows = shelf_entry::Entity::find()
        .filter(shelf_entry::Column::ThingId.eq(id))
        .order_by_asc(shelf_entry::Column::Seq)
        .all(db)
        .await?;
    let entry = |row: shelf_entry::Model| {
        Ok(Shelving {
            seq: row.seq as u32,
            at: row.at,
            by: row.by,
            event: serde_json::from_value(row.event).map_err(crate::error::unreadable)?,
        })
    };
    rows.into_iter().map(entry).collect()
}
