//! Trial series: each a log of its own, with the row that lists read; photos of pieces.

use crate::entity::{case_summary, machine, series, series_entry, series_picture};
use crate::pictures::PictureBytes;
use crate::stamp::{self, Content, Stamp};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, DatabaseTransaction,
    EntityTrait, QueryFilter, QueryOrder, QuerySelect, TransactionTrait,
};
use suspect_core::series::{Entry, Event, Series, accept, replay};
use time::OffsetDateTime;
use uuid::Uuid;

/// A series as lists see it.
#[derive(Debug, Clone, PartialEq)]
pub struct SeriesRow {
    /// Identifier.
    pub id: Uuid,
    /// Running number.
    pub number: i64,
    /// Its machine.
    pub machine: Uuid,
    /// The case it belongs to.
    pub case: Option<Uuid>,
    /// What is looked for.
    pub name: String,
    /// Pieces made.
    pub pieces: u32,
    /// How it ended.
    pub ended: Option<String>,
    /// When it was begun.
    pub begun_at: OffsetDateTime,
    /// When something happened last.
    pub changed_at: OffsetDateTime,
}

impl From<series::Model> for SeriesRow {
    fn from(row: series::Model) -> Self {
        SeriesRow {
            id: row.id,
            number: row.number,
            machine: row.machine_id,
            case: row.case_id,
            name: row.name,
            pieces: row.pieces as u32,
            ended: row.ended,
            begun_at: row.begun_at,
            changed_at: row.changed_at,
        }
    }
}

/// Why nothing was written to a series.
#[derive(Debug, thiserror::Error)]
pub enum SeriesError {
    /// It makes no sense.
    #[error(transparent)]
    Refused(#[from] suspect_core::series::Refused),
    /// Somebody else wrote first; the number now.
    #[error("somebody else wrote to this series first, it stands at entry {0}")]
    Conflict(u32),
    /// The database.
    #[error(transparent)]
    Store(#[from] StoreError),
}

impl From<sea_orm::DbErr> for SeriesError {
    fn from(e: sea_orm::DbErr) -> Self {
        SeriesError::Store(e.into())
    }
}

/// Of which series lists are asked.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Which {
    /// All.
    All,
    /// Of a machine.
    Machine(Uuid),
    /// Of a case.
    Case(Uuid),
}

/// Longest list of series.
const MOST_LISTED: u64 = 500;

impl Store {
    /// Begins a series on a machine, for a case or not. The same series begun again is fine.
    ///
    /// # Errors
    /// [`SeriesError`]; [`StoreError::NotFound`] without such a machine or case.
    pub async fn begin_series(
        &self,
        id: Uuid,
        (machine, case): (Uuid, Option<Uuid>),
        events: &[Event],
        stamp: impl Into<Stamp>,
    ) -> Result<u32, SeriesError> {
        let stamp = stamp.into();
        let content = content(id, events)?;
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        if let Some((_, last)) = stamp::taken_before(&transaction, &stamp, &content).await? {
            return Ok(last);
        }
        there(&transaction, machine, case).await?;
        let row = series::ActiveModel {
            id: Set(id),
            machine_id: Set(machine),
            case_id: Set(case),
            name: Set(String::new()),
            pieces: Set(0),
            ended: Set(None),
            begun_at: Set(stamp.at),
            changed_at: Set(stamp.at),
            ..Default::default()
        };
        series::Entity::insert(row)
            .exec_without_returning(&transaction)
            .await?;
        let last = write(&transaction, id, Vec::new(), events, &stamp).await?;
        stamp::keep(&transaction, &stamp, content, 1, last).await?;
        transaction.commit().await?;
        Ok(last)
    }

    /// Appends to a series; `expected` is the last entry the writer knew. What stands on its own (a
    /// grade, a photo, a place) is written whatever happened meanwhile.
    ///
    /// # Errors
    /// [`SeriesError`].
    pub async fn append_to_series(
        &self,
        id: Uuid,
        expected: u32,
        events: &[Event],
        stamp: impl Into<Stamp>,
    ) -> Result<u32, SeriesError> {
        self.append_series_with(id, expected, events, None, stamp.into())
            .await
    }

    /// Appends a photo of a piece: bytes and event are written together or not at all.
    ///
    /// # Errors
    /// [`SeriesError`].
    pub async fn add_series_picture(
        &self,
        id: Uuid,
        expected: u32,
        picture: (Uuid, PictureBytes<'_>),
        event: Event,
        stamp: impl Into<Stamp>,
    ) -> Result<u32, SeriesError> {
        self.append_series_with(id, expected, &[event], Some(picture), stamp.into())
            .await
    }

    async fn append_series_with(
        &self,
        id: Uuid,
        expected: u32,
        events: &[Event],
        picture: Option<(Uuid, PictureBytes<'_>)>,
        stamp: Stamp,
    ) -> Result<u32, SeriesError> {
        let content = content(id, events)?;
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        let row = series::Entity::find_by_id(id)
            .lock_exclusive()
            .one(&transaction)
            .await?;
        row.ok_or(StoreError::NotFound)?;
        if let Some((_, last)) = stamp::taken_before(&transaction, &stamp, &content).await? {
            return Ok(last);
        }
        let log = read(&transaction, id).await?;
        let actual = log.last().map_or(0, |e| e.seq);
        if expected != actual && !events.iter().all(stands_alone) {
            return Err(SeriesError::Conflict(actual));
        }
        if let Some((picture, bytes)) = picture {
            series_picture::ActiveModel {
                id: Set(picture),
                series_id: Set(id),
                bytes: Set(bytes.picture.to_vec()),
                thumbnail: Set(bytes.thumbnail.to_vec()),
            }
            .insert(&transaction)
            .await?;
        }
        let last = write(&transaction, id, log, events, &stamp).await?;
        stamp::keep(&transaction, &stamp, content, actual + 1, last).await?;
        transaction.commit().await?;
        Ok(last)
    }

    /// One series.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with this identifier.
    pub async fn series(&self, id: Uuid) -> Result<(SeriesRow, Vec<Entry>), StoreError> {
        let _turn = self.gate.reader().await?;
        let row = series::Entity::find_by_id(id).one(&self.db).await?;
        let row = row.ok_or(StoreError::NotFound)?;
        Ok((row.into(), read(&self.db, id).await?))
    }

    /// Series, the latest first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn list_series(&self, which: Which) -> Result<Vec<SeriesRow>, StoreError> {
        let _turn = self.gate.reader().await?;
        let all = series::Entity::find()
            .order_by_desc(series::Column::Number)
            .limit(MOST_LISTED);
        let rows = match which {
            Which::All => all,
            Which::Machine(id) => all.filter(series::Column::MachineId.eq(id)),
            Which::Case(id) => all.filter(series::Column::CaseId.eq(id)),
        };
        Ok(rows
            .all(&self.db)
            .await?
            .into_iter()
            .map(SeriesRow::from)
            .collect())
    }

    /// The bytes of a photo of a series, or of its small one.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the series has no such photo.
    pub async fn series_picture(
        &self,
        of: Uuid,
        id: Uuid,
        small: bool,
    ) -> Result<Vec<u8>, StoreError> {
        let _turn = self.gate.reader().await?;
        let column = match small {
            true => series_picture::Column::Thumbnail,
            false => series_picture::Column::Bytes,
        };
        let bytes: Option<Vec<u8>> = series_picture::Entity::find_by_id(id)
            .filter(series_picture::Column::SeriesId.eq(of))
            .select_only()
            .column(column)
            .into_tuple()
            .one(&self.db)
            .await?;
        bytes.ok_or(StoreError::NotFound)
    }
}

/// What says the same whatever happened meanwhile.
fn stands_alone(event: &Event) -> bool {
    matches!(
        event,
        Event::Graded { .. } | Event::Pictured { .. } | Event::Placed { .. }
    )
}

async fn there(
    db: &impl ConnectionTrait,
    machine: Uuid,
    case: Option<Uuid>,
) -> Result<(), StoreError> {
    machine::Entity::find_by_id(machine)
        .one(db)
        .await?
        .ok_or(StoreError::NotFound)?;
    if let Some(case) = case {
        let row = case_summary::Entity::find_by_id(case).one(db).await?;
        row.filter(|c| c.machine_id == machine)
            .ok_or(StoreError::NotFound)?;
    }
    Ok(())
}

fn content(id: Uuid, events: &[Event]) -> Result<Content, StoreError> {
    let events = serde_json::to_value(events).map_err(crate::error::unreadable)?;
    Ok(Content::new(Some(id), &events))
}

/// Writes events one after another, each accepted by the series as it then is, and its row anew.
async fn write(
    transaction: &DatabaseTransaction,
    id: Uuid,
    mut log: Vec<Entry>,
    events: &[Event],
    stamp: &Stamp,
) -> Result<u32, SeriesError> {
    for event in events {
        accept(&replay(&log), event)?;
        let entry = Entry {
            seq: log.last().map_or(0, |e| e.seq) + 1,
            at: stamp.at,
            by: stamp.by.clone(),
            event: event.clone(),
        };
        insert(transaction, id, &entry).await?;
        log.push(entry);
    }
    let now = replay(&log);
    row_of(id, &now, stamp.at).update(transaction).await?;
    Ok(now.seq)
}

pub(crate) async fn insert(
    transaction: &DatabaseTransaction,
    id: Uuid,
    entry: &Entry,
) -> Result<(), StoreError> {
    series_entry::ActiveModel {
        series_id: Set(id),
        seq: Set(entry.seq as i32),
        at: Set(entry.at),
        by: Set(entry.by.clone()),
        event: Set(serde_json::to_value(&entry.event).map_err(crate::error::unreadable)?),
    }
    .insert(transaction)
    .await?;
    Ok(())
}

/// What the row says of a series.
pub(crate) fn row_of(id: Uuid, now: &Series, at: OffsetDateTime) -> series::ActiveModel {
    let ended = now.ended.as_ref().and_then(|(how, ..)| {
        suspect_core::series::How::ALL
            .iter()
            .find(|(h, _)| h == how)
            .map(|(_, id)| *id)
    });
    series::ActiveModel {
        id: Set(id),
        name: Set(now.name.clone()),
        pieces: Set(now.standing().count() as i32),
        ended: Set(ended.map(String::from)),
        changed_at: Set(at),
        ..Default::default()
    }
}

pub(crate) async fn read(db: &impl ConnectionTrait, id: Uuid) -> Result<Vec<Entry>, StoreError> {
    let rows = series_entry::Entity::find()
        .filter(series_entry::Column::SeriesId.eq(id))
        .order_by_asc(series_entry::Column::Seq)
        .all(db)
        .await?;
    rows.into_iter().map(entry).collect()
}

/// An entry as its row has it.
pub(crate) fn entry(row: series_entry::Model) -> Result<Entry, StoreError> {
    Ok(Entry {
        seq: row.seq as u32,
        at: row.at,
        by: row.by,
        event: serde_json::from_value(row.event).map_err(crate::error::unreadable)?,
    })
}
