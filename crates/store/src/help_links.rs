//! Read-only links by which a helper elsewhere sees one case: unguessable, revocable.

use crate::entity::help_link;
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, QueryFilter, QueryOrder,
};
use time::OffsetDateTime;
use uuid::Uuid;

/// A link that works.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HelpLink {
    /// The part of the address nobody can guess.
    pub token: String,
    /// When it was made.
    pub made_at: OffsetDateTime,
}

impl Store {
    /// Makes a link to a case.
    ///
    /// # Errors
    /// When the database refuses, for instance because there is no such case.
    pub async fn make_help_link(
        &self,
        case: Uuid,
        at: OffsetDateTime,
    ) -> Result<String, StoreError> {
        // 122 random bits from the system's generator.
        let token = Uuid::new_v4().simple().to_string();
        let row = help_link::ActiveModel {
            token: Set(token.clone()),
            case_id: Set(case),
            made_at: Set(at),
            revoked_at: Set(None),
        };
        row.insert(&self.db).await?;
        Ok(token)
    }

    /// Links of a case that work, latest first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn help_links(&self, case: Uuid) -> Result<Vec<HelpLink>, StoreError> {
        let rows = help_link::Entity::find()
            .filter(help_link::Column::CaseId.eq(case))
            .filter(help_link::Column::RevokedAt.is_null())
            .order_by_desc(help_link::Column::MadeAt)
            .all(&self.db)
            .await?;
        Ok(rows
            .into_iter()
            .map(|row| HelpLink {
                token: row.token,
                made_at: row.made_at,
            })
            .collect())
    }

    /// The case a link leads to.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such link or it was revoked; a guesser learns no difference.
    pub async fn case_of_help_link(&self, token: &str) -> Result<Uuid, StoreError> {
        let row = help_link::Entity::find_by_id(token)
            .filter(help_link::Column::RevokedAt.is_null())
            .one(&self.db)
            .await?;
        row.map(|r| r.case_id).ok_or(StoreError::NotFound)
    }

    /// Revokes a link of a case. A link that was revoked before stays as it is.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the case never had this link.
    pub async fn revoke_help_link(
        &self,
        case: Uuid,
        token: &str,
        at: OffsetDateTime,
    ) -> Result<(), StoreError> {
        let row = help_link::Entity::find_by_id(token)
            .filter(help_link::Column::CaseId.eq(case))
            .one(&self.db)
            .await?;
        let row = row.ok_or(StoreError::NotFound)?;
        if row.revoked_at.is_none() {
            let mut row: help_link::ActiveModel = row.into();
            row.revoked_at = Set(Some(at));
            row.update(&self.db).await?;
        }
        Ok(())
    }
}
