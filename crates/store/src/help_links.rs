//! Read-only links by which a helper elsewhere sees one case: unguessable, revocable.

use crate::entity::{case_summary, help_link};
use crate::stamp::{self, Content, Stamp};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, PaginatorTrait, QueryFilter,
    QueryOrder, QuerySelect, TransactionTrait,
};
use suspect_core::case::NotNow;
use time::OffsetDateTime;
use uuid::Uuid;

/// A link that works.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HelpLink {
    /// The part of the address nobody can guess.
    pub token: String,
    /// When it was made.
    pub made_at: OffsetDateTime,
    /// By whom, when somebody had said so.
    pub by: Option<String>,
}

/// Whether a text can be a token at all: what cannot never reaches the database.
fn is_token(text: &str) -> bool {
    text.len() == 32 && text.bytes().all(|b| b.is_ascii_hexdigit())
}

/// Links of one case that may work at once.
pub const MOST_LINKS: usize = 20;

impl Store {
    /// Makes a link to a case. The same touch sent again makes none but finds the one it made.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such case, [`StoreError::Refused`] when so many
    /// links work already that nobody keeps an eye on them.
    pub async fn make_help_link(
        &self,
        case: Uuid,
        stamp: impl Into<Stamp>,
    ) -> Result<(), StoreError> {
        let stamp = stamp.into();
        let content = Content::new(Some(case), &serde_json::json!("help link"));
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        let head = case_summary::Entity::find_by_id(case).lock_exclusive();
        head.one(&transaction).await?.ok_or(StoreError::NotFound)?;
        if stamp::taken_before(&transaction, &stamp, &content)
            .await?
            .is_some()
        {
            return Ok(());
        }
        let working = help_link::Entity::find()
            .filter(help_link::Column::CaseId.eq(case))
            .filter(help_link::Column::RevokedAt.is_null())
            .count(&transaction)
            .await?;
        if working as usize >= MOST_LINKS {
            return Err(StoreError::Refused(NotNow::LinksTaken(MOST_LINKS).into()));
        }
        let row = help_link::ActiveModel {
            // 122 random bits from the system's generator.
            token: Set(Uuid::new_v4().simple().to_string()),
            case_id: Set(case),
            made_at: Set(stamp.at),
            by: Set(stamp.by.clone()),
            revoked_at: Set(None),
        };
        row.insert(&transaction).await?;
        stamp::keep(&transaction, &stamp, content, 0, 0).await?;
        Ok(transaction.commit().await?)
    }

    /// Links of a case that work, latest first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn help_links(&self, case: Uuid) -> Result<Vec<HelpLink>, StoreError> {
        let _turn = self.gate.reader().await?;
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
                by: row.by,
            })
            .collect())
    }

    /// The case a link leads to.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such link or it was revoked; a guesser learns no
    /// difference.
    pub async fn case_of_help_link(&self, token: &str) -> Result<Uuid, StoreError> {
        if !is_token(token) {
            return Err(StoreError::NotFound);
        }
        let _turn = self.gate.reader().await?;
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
        if !is_token(token) {
            return Err(StoreError::NotFound);
        }
        let _turn = self.gate.reader().await?;
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
