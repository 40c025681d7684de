//! Print files: the text in pieces, the figures beside it. The same text is kept once.

use crate::entity::{print_file, print_file_piece};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ColumnTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect, Set,
    TransactionTrait, TryInsertResult,
};
use std::io::Read;
use time::OffsetDateTime;
use uuid::Uuid;

/// Bytes of a piece of text.
const PIECE: usize = 1 << 20;

/// A file to be kept.
#[derive(Debug, Clone, PartialEq)]
pub struct NewFile {
    /// Sum over its text, in hexadecimal.
    pub sha256: String,
    /// Bytes as it came.
    pub bytes: u64,
    /// Bytes of its text.
    pub text_bytes: u64,
    /// How it was packed when it came.
    pub packed: Option<String>,
    /// Its figures as JSON.
    pub reading: String,
    /// When it is kept.
    pub at: OffsetDateTime,
}

/// What is known of a file that is kept, or was.
#[derive(Debug, Clone, PartialEq)]
pub struct FileRow {
    /// Its identifier.
    pub id: Uuid,
    /// Sum over its text, in hexadecimal.
    pub sha256: String,
    /// Bytes as it came.
    pub bytes: u64,
    /// Bytes of its text.
    pub text_bytes: u64,
    /// How it was packed when it came.
    pub packed: Option<String>,
    /// Its figures as JSON.
    pub reading: String,
    /// When it was kept.
    pub kept_at: OffsetDateTime,
    /// Its text is gone: who removed it, why, and when.
    pub removed: Option<(String, String, OffsetDateTime)>,
}

impl From<print_file::Model> for FileRow {
    fn from(row: print_file::Model) -> Self {
        let removed = row.removed_at.map(|at| {
            (
                row.removed_by.unwrap_or_default(),
                row.removed_reason.unwrap_or_default(),
                at,
            )
        });
        FileRow {
            id: row.id,
            sha256: row.sha256,
            bytes: row.bytes as u64,
            text_bytes: row.text_bytes as u64,
            packed: row.packed,
            reading: row.reading,
            kept_at: row.kept_at,
            removed,
        }
    }
}

/// The identifier of a file with this sum.
fn id_of(sha256: &str) -> Result<Uuid, StoreError> {
    let first = sha256
        .get(..32)
        .and_then(|hex| u128::from_str_radix(hex, 16).ok());
    let first = first.ok_or(StoreError::NotFound)?;
    Ok(uuid::Builder::from_custom_bytes(first.to_be_bytes()).into_uuid())
}

impl Store {
    /// Keeps a file and its text, or finds it when it is kept already; all of it or nothing. Two
    /// who keep the same file at once keep one. A text that was removed comes back.
    ///
    /// # Errors
    /// When the text cannot be read or the database refuses. Nothing is stored then.
    pub async fn keep_print_file(
        &self,
        file: NewFile,
        mut text: impl Read,
    ) -> Result<Uuid, StoreError> {
        let id = id_of(&file.sha256)?;
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        let row = print_file::ActiveModel {
            id: Set(id),
            sha256: Set(file.sha256),
            bytes: Set(file.bytes as i64),
            text_bytes: Set(file.text_bytes as i64),
            packed: Set(file.packed),
            reading: Set(file.reading),
            kept_at: Set(file.at),
            removed_at: Set(None),
            removed_by: Set(None),
            removed_reason: Set(None),
        };
        let kept = print_file::Entity::insert(row.clone())
            .on_conflict_do_nothing_on([print_file::Column::Id])
            .exec_without_returning(&transaction)
            .await?;
        if !matches!(kept, TryInsertResult::Inserted(1)) {
            let there = print_file::Entity::find_by_id(id)
                .lock_exclusive()
                .one(&transaction)
                .await?
                .ok_or(StoreError::NotFound)?;
            if there.removed_at.is_none() {
                return Ok(id);
            }
            row.update(&transaction).await?;
        }
        for number in 0.. {
            let mut piece = Vec::with_capacity(PIECE);
            let most = PIECE as u64;
            let read = text.by_ref().take(most).read_to_end(&mut piece);
            read.map_err(|e| StoreError::Unreadable(e.to_string()))?;
            if piece.is_empty() {
                break;
            }
            let row = print_file_piece::ActiveModel {
                file_id: Set(id),
                number: Set(number),
                bytes: Set(piece),
            };
            print_file_piece::Entity::insert(row)
                .exec_without_returning(&transaction)
                .await?;
        }
        transaction.commit().await?;
        Ok(id)
    }

    /// What is known of a file.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there never was one.
    pub async fn print_file(&self, id: Uuid) -> Result<FileRow, StoreError> {
        let _turn = self.gate.reader().await?;
        let row = print_file::Entity::find_by_id(id).one(&self.db).await?;
        row.map(FileRow::from).ok_or(StoreError::NotFound)
    }

    /// A part of a file's text, from one place to another, in bytes. Empty when the text is gone.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn print_text(&self, id: Uuid, from: u64, to: u64) -> Result<Vec<u8>, StoreError> {
        let _turn = self.gate.reader().await?;
        let piece = PIECE as u64;
        let first = from / piece;
        let pieces: Vec<Vec<u8>> = print_file_piece::Entity::find()
            .filter(print_file_piece::Column::FileId.eq(id))
            .filter(print_file_piece::Column::Number.gte(first as i32))
            .filter(print_file_piece::Column::Number.lte(to.div_ceil(piece) as i32))
            .order_by_asc(print_file_piece::Column::Number)
            .select_only()
            .column(print_file_piece::Column::Bytes)
            .into_tuple()
            .all(&self.db)
            .await?;
        let mut text = pieces.concat();
        text.truncate((to - first * piece) as usize);
        text.drain(..((from - first * piece) as usize).min(text.len()));
        Ok(text)
    }

    /// Removes a file's text; its figures stay.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such text.
    pub async fn remove_print_text(
        &self,
        id: Uuid,
        (by, reason): (&str, &str),
        at: OffsetDateTime,
    ) -> Result<(), StoreError> {
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        let row = print_file::Entity::find_by_id(id)
            .lock_exclusive()
            .one(&transaction)
            .await?
            .ok_or(StoreError::NotFound)?;
        if row.removed_at.is_some() {
            return Ok(());
        }
        let mut row: print_file::ActiveModel = row.into();
        row.removed_at = Set(Some(at));
        row.removed_by = Set(Some(by.to_owned()));
        row.removed_reason = Set(Some(reason.to_owned()));
        row.update(&transaction).await?;
        print_file_piece::Entity::delete_many()
            .filter(print_file_piece::Column::FileId.eq(id))
            .exec(&transaction)
            .await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Writes the figures of a file anew, as a later program reads them.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn keep_reading(&self, id: Uuid, reading: String) -> Result<(), StoreError> {
        let _turn = self.gate.writer().await?;
        let row = print_file::ActiveModel {
            id: Set(id),
            reading: Set(reading),
            ..Default::default()
        };
        row.update(&self.db).await?;
        Ok(())
    }
}
