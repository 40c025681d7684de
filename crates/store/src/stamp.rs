//! What is written beside every entry: when, who, and by which touch.

use crate::entity::touch;
use crate::{StoreError, Uuid};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter,
};
use serde_json::Value;
use sha2::{Digest, Sha256};
use time::OffsetDateTime;

/// One press of a button: the identity its page made for it, under which it counts once.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Touch {
    /// Identity.
    pub id: Uuid,
    /// Touches of the same page that were on their way when it was pressed: what they wrote is no
    /// news to whoever pressed.
    pub after: Vec<Uuid>,
}

/// When, who, by which touch.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Stamp {
    /// When.
    pub at: OffsetDateTime,
    /// Who was at the screen, when somebody had said so.
    pub by: Option<String>,
    /// By which touch; without one only the log itself tells a repetition.
    pub touch: Option<Touch>,
}

impl From<OffsetDateTime> for Stamp {
    /// A moment alone: nobody named, no touch.
    fn from(at: OffsetDateTime) -> Self {
        Self {
            at,
            by: None,
            touch: None,
        }
    }
}

/// What a touch is about, with a hash of its content.
pub(crate) struct Content {
    subject: Option<Uuid>,
    digest: String,
}

impl Content {
    pub(crate) fn new(subject: Option<Uuid>, content: &Value) -> Self {
        let mut hash = Sha256::new();
        hash.update(subject.unwrap_or_default().as_bytes());
        hash.update(content.to_string());
        let digest = hash.finalize().iter().map(|b| format!("{b:02x}")).collect();
        Self { subject, digest }
    }
}

/// Entries an earlier arrival of the same touch caused: first and last.
///
/// # Errors
/// [`StoreError::OtherTouch`] when the identity stands for another content.
pub(crate) async fn taken_before(
    db: &impl ConnectionTrait,
    stamp: &Stamp,
    content: &Content,
) -> Result<Option<(u32, u32)>, StoreError> {
    let Some(touch) = &stamp.touch else {
        return Ok(None);
    };
    match touch::Entity::find_by_id(touch.id).one(db).await? {
        None => Ok(None),
        Some(row) if row.subject == content.subject && row.digest == content.digest => {
            Ok(Some((row.first_seq as u32, row.last_seq as u32)))
        }
        Some(_) => Err(StoreError::OtherTouch),
    }
}

/// Keeps a touch with the entries it caused.
pub(crate) async fn keep(
    db: &impl ConnectionTrait,
    stamp: &Stamp,
    content: Content,
    first: u32,
    last: u32,
) -> Result<(), StoreError> {
    let Some(touch) = &stamp.touch else {
        return Ok(());
    };
    let row = touch::ActiveModel {
        id: Set(touch.id),
        subject: Set(content.subject),
        digest: Set(content.digest),
        first_seq: Set(first as i32),
        last_seq: Set(last as i32),
        at: Set(stamp.at),
    };
    row.insert(db).await?;
    Ok(())
}

/// Entries of a subject that the sender's own earlier touches caused.
pub(crate) async fn own_entries(
    db: &impl ConnectionTrait,
    stamp: &Stamp,
    subject: Uuid,
) -> Result<Vec<(u32, u32)>, StoreError> {
    let Some(Touch { after, .. }) = stamp.touch.as_ref().filter(|t| !t.after.is_empty()) else {
        return Ok(Vec::new());
    };
    let rows = touch::Entity::find()
        .filter(touch::Column::Id.is_in(after.iter().copied()))
        .filter(touch::Column::Subject.eq(subject))
        .all(db)
        .await?;
    Ok(rows
        .into_iter()
        .map(|r| (r.first_seq as u32, r.last_seq as u32))
        .collect())
}
