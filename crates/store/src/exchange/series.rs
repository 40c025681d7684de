//! Trial series, out of a view of one moment and in again.

use super::snapshot::{Snapshot, StoredPicture};
use super::taking_in::TakingIn;
use crate::StoreError;
use crate::entity::{series, series_entry, series_picture};
use crate::series::{entry, insert, row_of};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter,
    QueryOrder, QuerySelect,
};
use std::collections::BTreeMap;
use suspect_core::series::{Entry, replay};
use time::OffsetDateTime;
use uuid::Uuid;

/// A series with its log.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredSeries {
    /// Identifier.
    pub id: Uuid,
    /// Running number.
    pub number: i64,
    /// Its machine.
    pub machine: Uuid,
    /// Its case.
    pub case: Option<Uuid>,
    /// When it was begun.
    pub begun_at: OffsetDateTime,
    /// Everything that happened.
    pub log: Vec<Entry>,
}

impl Snapshot {
    /// All series with their logs, in the order of their numbers.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn series(&self) -> Result<Vec<StoredSeries>, StoreError> {
        let rows = series::Entity::find()
            .order_by_asc(series::Column::Number)
            .all(&self.0)
            .await?;
        let told = series_entry::Entity::find()
            .order_by_asc(series_entry::Column::SeriesId)
            .order_by_asc(series_entry::Column::Seq)
            .all(&self.0)
            .await?;
        let mut logs: BTreeMap<Uuid, Vec<Entry>> = BTreeMap::new();
        for row in told {
            logs.entry(row.series_id).or_default().push(entry(row)?);
        }
        let with_log = |row: series::Model| StoredSeries {
            log: logs.remove(&row.id).unwrap_or_default(),
            id: row.id,
            number: row.number,
            machine: row.machine_id,
            case: row.case_id,
            begun_at: row.begun_at,
        };
        Ok(rows.into_iter().map(with_log).collect())
    }

    /// Identifiers of the photos of a series.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn photos_of(&self, id: Uuid) -> Result<Vec<Uuid>, StoreError> {
        let ids = series_picture::Entity::find()
            .select_only()
            .column(series_picture::Column::Id)
            .filter(series_picture::Column::SeriesId.eq(id))
            .order_by_asc(series_picture::Column::Id);
        Ok(ids.into_tuple().all(&self.0).await?)
    }

    /// A photo of a series; what is its case elsewhere is its series here.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such photo.
    pub async fn photo(&self, id: Uuid) -> Result<StoredPicture, StoreError> {
        let row = series_picture::Entity::find_by_id(id).one(&self.0).await?;
        let row = row.ok_or(StoreError::NotFound)?;
        Ok(StoredPicture {
            id: row.id,
            case: row.series_id,
            bytes: row.bytes,
            thumbnail: row.thumbnail,
        })
    }
}

impl TakingIn {
    /// A series that is not here, with its log.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn series(&self, stored: &StoredSeries) -> Result<(), StoreError> {
        let last = stored.log.last().map_or(stored.begun_at, |e| e.at);
        let row = series::ActiveModel {
            number: Set(stored.number),
            machine_id: Set(stored.machine),
            case_id: Set(stored.case),
            begun_at: Set(stored.begun_at),
            ..row_of(stored.id, &replay(&stored.log), last)
        };
        row.insert(&self.transaction).await?;
        for entry in &stored.log {
            insert(&self.transaction, stored.id, entry).await?;
        }
        Ok(())
    }

    /// A photo of a series that was taken in.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn photo(&self, photo: StoredPicture) -> Result<(), StoreError> {
        let row = series_picture::ActiveModel {
            id: Set(photo.id),
            series_id: Set(photo.case),
            bytes: Set(photo.bytes),
            thumbnail: Set(photo.thumbnail),
        };
        series_picture::Entity::insert(row)
            .exec_without_returning(&self.transaction)
            .await?;
        Ok(())
    }

    /// The next series gets a number of its own.
    pub(super) async fn count_series_on(&self) -> Result<(), StoreError> {
        let next = "SELECT setval(pg_get_serial_sequence('series', 'number'), max(number)) \
            FROM series HAVING max(number) IS NOT NULL";
        self.transaction.execute_unprepared(next).await?;
        Ok(())
    }
}
