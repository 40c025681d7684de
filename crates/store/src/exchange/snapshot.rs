//! A view of one moment, whoever writes meanwhile.

use super::StoredCase;
use crate::entity::{
    case_entry, case_summary, help_link, machine, machine_entry, picture, print_file,
    print_file_piece, workshop_entry,
};
use crate::machines::Machine;
use crate::{Store, StoreError, entries};
use sea_orm::{
    AccessMode, ColumnTrait, ConnectionTrait, DatabaseTransaction, EntityTrait, IsolationLevel,
    QueryFilter, QueryOrder, QuerySelect, TransactionTrait,
};
use std::collections::BTreeMap;
use suspect_core::case::Entry;
use suspect_core::exchange::WorkshopLine;
use suspect_core::machine::MachineEntry;
use time::OffsetDateTime;
use uuid::Uuid;

/// A view of one moment. It holds a connection until it is dropped.
#[derive(Debug)]
pub struct Snapshot(pub(super) DatabaseTransaction);

/// A picture as it is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredPicture {
    /// Identifier.
    pub id: Uuid,
    /// Its case.
    pub case: Uuid,
    /// The picture, JPEG.
    pub bytes: Vec<u8>,
    /// The small one, JPEG.
    pub thumbnail: Vec<u8>,
}

/// A print file as it is kept, without its text.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredFile {
    /// Identifier.
    pub id: Uuid,
    /// Sum over its text, in hexadecimal.
    pub sha256: String,
    /// Bytes as it came.
    pub bytes: i64,
    /// Bytes of its text.
    pub text_bytes: i64,
    /// How it was packed when it came.
    pub packed: Option<String>,
    /// Its figures as JSON.
    pub reading: String,
    /// When it was kept.
    pub kept_at: OffsetDateTime,
    /// Its text is gone: when, who removed it, why.
    pub removed: Option<(OffsetDateTime, String, String)>,
}

/// A link for a helper.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredLink {
    /// The part of the address nobody can guess.
    pub token: String,
    /// Its case.
    pub case: Uuid,
    /// When it was made.
    pub made_at: OffsetDateTime,
    /// Who made it.
    pub by: Option<String>,
    /// When it ended.
    pub revoked_at: Option<OffsetDateTime>,
}

/// Whoever writes a long history down is not hurried.
pub(super) const UNHURRIED: &str = "SET LOCAL statement_timeout = 0;
    SET LOCAL idle_in_transaction_session_timeout = 0; SET LOCAL lock_timeout = 0;";

impl Store {
    /// A view of one moment over everything that is kept.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn snapshot(&self) -> Result<Snapshot, StoreError> {
        let isolation = Some(IsolationLevel::RepeatableRead);
        let mode = Some(AccessMode::ReadOnly);
        let transaction = self.db.begin_with_config(isolation, mode).await?;
        transaction.execute_unprepared(UNHURRIED).await?;
        Ok(Snapshot(transaction))
    }
}

impl Snapshot {
    /// All machines with their logs, in the order of the floor.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn machines(&self) -> Result<Vec<(Machine, Vec<MachineEntry>)>, StoreError> {
        let rows = machine::Entity::find()
            .order_by_asc(machine::Column::Position)
            .order_by_asc(machine::Column::Name)
            .all(&self.0)
            .await?;
        let told = machine_entry::Entity::find()
            .order_by_asc(machine_entry::Column::MachineId)
            .order_by_asc(machine_entry::Column::Seq)
            .all(&self.0)
            .await?;
        let mut logs: BTreeMap<Uuid, Vec<MachineEntry>> = BTreeMap::new();
        for row in told {
            let log = logs.entry(row.machine_id).or_default();
            log.push(entries::machine_entry(row)?);
        }
        let with_log = |row: machine::Model| {
            let log = logs.remove(&row.id).unwrap_or_default();
            (Machine::from(row), log)
        };
        Ok(rows.into_iter().map(with_log).collect())
    }

    /// Settings as they were set, one after another.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn workshop(&self) -> Result<Vec<WorkshopLine>, StoreError> {
        let rows = workshop_entry::Entity::find()
            .order_by_asc(workshop_entry::Column::Seq)
            .all(&self.0)
            .await?;
        let line = |row: workshop_entry::Model| {
            Ok(WorkshopLine {
                seq: row.seq as u32,
                at: row.at,
                by: row.by,
                settings: serde_json::from_value(row.settings).map_err(crate::error::unreadable)?,
            })
        };
        rows.into_iter().map(line).collect()
    }

    /// Cases with a number above `after`, in the order of their numbers, at most `most`.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn cases(&self, after: i64, most: u64) -> Result<Vec<StoredCase>, StoreError> {
        let heads: Vec<(Uuid, i64, Uuid)> = case_summary::Entity::find()
            .select_only()
            .column(case_summary::Column::CaseId)
            .column(case_summary::Column::Number)
            .column(case_summary::Column::MachineId)
            .filter(case_summary::Column::Number.gt(after))
            .order_by_asc(case_summary::Column::Number)
            .limit(most)
            .into_tuple()
            .all(&self.0)
            .await?;
        let mut logs = self
            .logs(heads.iter().map(|(id, ..)| *id).collect())
            .await?;
        let case = |(id, number, machine): (Uuid, i64, Uuid)| StoredCase {
            id,
            number: Some(number),
            machine,
            log: logs.remove(&id).unwrap_or_default(),
        };
        Ok(heads.into_iter().map(case).collect())
    }

    /// The logs of some cases; those that are not there are left out.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn logs(&self, ids: Vec<Uuid>) -> Result<BTreeMap<Uuid, Vec<Entry>>, StoreError> {
        let rows = case_entry::Entity::find()
            .filter(case_entry::Column::CaseId.is_in(ids))
            .order_by_asc(case_entry::Column::CaseId)
            .order_by_asc(case_entry::Column::Seq)
            .all(&self.0)
            .await?;
        let mut logs: BTreeMap<Uuid, Vec<Entry>> = BTreeMap::new();
        for row in rows {
            let log = logs.entry(row.case_id).or_default();
            log.push(entries::entry(row)?);
        }
        Ok(logs)
    }

    /// Identifiers of pictures above `after`, in their order, at most `most`.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn pictures(&self, after: Uuid, most: u64) -> Result<Vec<Uuid>, StoreError> {
        let ids = picture::Entity::find()
            .select_only()
            .column(picture::Column::Id)
            .filter(picture::Column::Id.gt(after))
            .order_by_asc(picture::Column::Id)
            .limit(most);
        Ok(ids.into_tuple().all(&self.0).await?)
    }

    /// A picture.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such picture.
    pub async fn picture(&self, id: Uuid) -> Result<StoredPicture, StoreError> {
        let row = picture::Entity::find_by_id(id).one(&self.0).await?;
        let row = row.ok_or(StoreError::NotFound)?;
        Ok(StoredPicture {
            id: row.id,
            case: row.case_id,
            bytes: row.bytes,
            thumbnail: row.thumbnail,
        })
    }

    /// Identifiers of print files.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn files(&self) -> Result<Vec<Uuid>, StoreError> {
        let ids = print_file::Entity::find()
            .select_only()
            .column(print_file::Column::Id)
            .order_by_asc(print_file::Column::Id);
        Ok(ids.into_tuple().all(&self.0).await?)
    }

    /// A print file without its text.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such file.
    pub async fn file(&self, id: Uuid) -> Result<StoredFile, StoreError> {
        let row = print_file::Entity::find_by_id(id).one(&self.0).await?;
        let row = row.ok_or(StoreError::NotFound)?;
        let said = (
            row.removed_by.unwrap_or_default(),
            row.removed_reason.unwrap_or_default(),
        );
        Ok(StoredFile {
            id: row.id,
            sha256: row.sha256,
            bytes: row.bytes,
            text_bytes: row.text_bytes,
            packed: row.packed,
            reading: row.reading,
            kept_at: row.kept_at,
            removed: row.removed_at.map(|at| (at, said.0, said.1)),
        })
    }

    /// A piece of a print file's text, from 0; none behind its end.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn piece(&self, file: Uuid, number: i32) -> Result<Option<Vec<u8>>, StoreError> {
        let piece = print_file_piece::Entity::find_by_id((file, number));
        Ok(piece.one(&self.0).await?.map(|row| row.bytes))
    }

    /// Links for helpers.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn links(&self) -> Result<Vec<StoredLink>, StoreError> {
        let rows = help_link::Entity::find()
            .order_by_asc(help_link::Column::Token)
            .all(&self.0)
            .await?;
        let link = |row: help_link::Model| StoredLink {
            token: row.token,
            case: row.case_id,
            made_at: row.made_at,
            by: row.by,
            revoked_at: row.revoked_at,
        };
        Ok(rows.into_iter().map(link).collect())
    }
}
