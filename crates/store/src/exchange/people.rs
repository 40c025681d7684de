//! Members, out of a view of one moment and in again: who they are, and no secret of theirs. They
//! sign in again by a link that a keeper makes.

use super::snapshot::Snapshot;
use super::taking_in::TakingIn;
use crate::StoreError;
use crate::entity::member;
use sea_orm::{ActiveModelTrait, ActiveValue::Set, EntityTrait, QueryOrder};
use suspect_core::people::{Role, looks};
use time::OffsetDateTime;
use uuid::Uuid;

/// A member as a backup has them.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredMember {
    /// Number, as logs hold it.
    pub id: Uuid,
    /// Name; empty once they left.
    pub name: String,
    /// What they are.
    pub role: Role,
    /// Since when.
    pub made_at: OffsetDateTime,
    /// When they left.
    pub left_at: Option<OffsetDateTime>,
}

impl Snapshot {
    /// Everybody who is or was a member.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn members(&self) -> Result<Vec<StoredMember>, StoreError> {
        let rows = member::Entity::find()
            .order_by_asc(member::Column::MadeAt)
            .all(&self.0)
            .await?;
        let stored = |row: member::Model| StoredMember {
            id: row.id,
            name: row.name,
            role: Role::from_id(&row.role).unwrap_or(Role::Visitor),
            made_at: row.made_at,
            left_at: row.left_at,
        };
        Ok(rows.into_iter().map(stored).collect())
    }
}

impl TakingIn {
    /// Takes a member in, without passphrase and PIN.
    ///
    /// # Errors
    /// When the database cannot be reached, or there is one of this number or name.
    pub async fn member(&self, stored: StoredMember) -> Result<(), StoreError> {
        let here = stored.left_at.is_none();
        let row = member::ActiveModel {
            id: Set(stored.id),
            looks: Set(here.then(|| looks(&stored.name))),
            name: Set(stored.name),
            role: Set(stored.role.id().into()),
            secret: Set(None),
            stamp: Set(Uuid::new_v4()),
            made_at: Set(stored.made_at),
            left_at: Set(stored.left_at),
            pin: Set(None),
        };
        row.insert(&self.transaction).await?;
        Ok(())
    }
}
