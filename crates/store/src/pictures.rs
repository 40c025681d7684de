//! Pictures of cases: bytes and event are written together or not at all.

use crate::entity::picture;
use crate::{Stamp, Store, StoreError};
use sea_orm::{ActiveModelTrait, ColumnTrait, EntityTrait, QueryFilter, QuerySelect, Set};
use suspect_core::case::Event;
use suspect_core::knowledge::Knowledge;
use uuid::Uuid;

/// Bytes of a picture, already taken in and re-encoded.
#[derive(Debug, Clone, Copy)]
pub struct PictureBytes<'a> {
    /// The picture, JPEG.
    pub picture: &'a [u8],
    /// The small one, JPEG.
    pub thumbnail: &'a [u8],
}

impl Store {
    /// Adds a picture to a case: `event` is the one that names it, `id` its identifier, chosen by
    /// the caller so that the same form sent twice adds one picture. Returns the last sequence
    /// number.
    ///
    /// # Errors
    /// As [`Store::append`]. Nothing is stored then.
    pub async fn add_picture(
        &self,
        knowledge: &Knowledge,
        case: Uuid,
        expected: u32,
        (id, bytes): (Uuid, PictureBytes<'_>),
        event: Event,
        stamp: impl Into<Stamp>,
    ) -> Result<u32, StoreError> {
        let row = picture::ActiveModel {
            id: Set(id),
            case_id: Set(case),
            bytes: Set(bytes.picture.to_vec()),
            thumbnail: Set(bytes.thumbnail.to_vec()),
        };
        self.append_with(
            knowledge,
            case,
            expected,
            &[event],
            &stamp.into(),
            async |transaction| {
                row.insert(transaction).await?;
                Ok(())
            },
        )
        .await
    }

    /// The bytes of a picture of a case, or of its small one.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the case has no such picture.
    pub async fn picture(&self, case: Uuid, id: Uuid, small: bool) -> Result<Vec<u8>, StoreError> {
        let _turn = self.gate.reader().await?;
        let column = if small {
            picture::Column::Thumbnail
        } else {
            picture::Column::Bytes
        };
        let bytes: Option<Vec<u8>> = picture::Entity::find_by_id(id)
            .filter(picture::Column::CaseId.eq(case))
            .select_only()
            .column(column)
            .into_tuple()
            .one(&self.db)
            .await?;
        bytes.ok_or(StoreError::NotFound)
    }
}
