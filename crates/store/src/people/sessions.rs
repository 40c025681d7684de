//! Sessions as rows: what is in the cookie stands here as a digest.

use super::{Member, digest, present};
use crate::entity::{member, session};
use crate::{Store, StoreError};
use sea_orm::sea_query::{Expr, OnConflict};
use sea_orm::{ActiveValue::Set, ColumnTrait, EntityTrait, QueryFilter, QueryOrder};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

/// A session of a member, as its page lists it.
#[derive(Debug, Clone, PartialEq)]
pub struct SessionRow {
    /// What stands for it in forms: not what is in the cookie.
    pub digest: String,
    /// What is kept in it.
    pub data: Value,
}

impl Store {
    /// Keeps a session under the number of its cookie; false where `new` and it is there already.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn keep_session(
        &self,
        number: &str,
        data: Value,
        expires_at: OffsetDateTime,
        new: bool,
    ) -> Result<bool, StoreError> {
        let _turn = self.gate.writer().await?;
        let row = session::ActiveModel {
            digest: Set(digest(number)),
            data: Set(data),
            expires_at: Set(expires_at),
        };
        let mut there = OnConflict::column(session::Column::Digest);
        match new {
            true => there.do_nothing(),
            false => there.update_columns([session::Column::Data, session::Column::ExpiresAt]),
        };
        let written = session::Entity::insert(row)
            .on_conflict(there)
            .exec_without_returning(&self.db)
            .await;
        match written {
            Ok(rows) => Ok(rows > 0),
            Err(sea_orm::DbErr::RecordNotInserted) => Ok(false),
            Err(e) => Err(e.into()),
        }
    }

    /// What is kept in a session; nothing once it is over.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn session(
        &self,
        number: &str,
        now: OffsetDateTime,
    ) -> Result<Option<(Value, OffsetDateTime)>, StoreError> {
        let _turn = self.gate.reader().await?;
        let row = session::Entity::find_by_id(digest(number))
            .filter(session::Column::ExpiresAt.gt(now))
            .one(&self.db)
            .await?;
        Ok(row.map(|row| (row.data, row.expires_at)))
    }

    /// Ends a session by the number of its cookie.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn end_session(&self, number: &str) -> Result<(), StoreError> {
        let _turn = self.gate.writer().await?;
        session::Entity::delete_by_id(digest(number))
            .exec(&self.db)
            .await?;
        Ok(())
    }

    /// Sessions of a member that are not over.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn sessions_of(
        &self,
        member: Uuid,
        now: OffsetDateTime,
    ) -> Result<Vec<SessionRow>, StoreError> {
        let _turn = self.gate.reader().await?;
        let whose = Expr::cust_with_values("data->'signed'->>'member' = $1", [member.to_string()]);
        let rows = session::Entity::find()
            .filter(whose)
            .filter(session::Column::ExpiresAt.gt(now))
            .order_by_desc(session::Column::ExpiresAt)
            .all(&self.db)
            .await?;
        let row = |row: session::Model| SessionRow {
            digest: row.digest,
            data: row.data,
        };
        Ok(rows.into_iter().map(row).collect())
    }

    /// A member who did not leave, for a session that holds their number.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn present_member(&self, id: Uuid) -> Result<Option<Member>, StoreError> {
        let _turn = self.gate.reader().await?;
        let row = present()
            .filter(member::Column::Id.eq(id))
            .one(&self.db)
            .await?;
        Ok(row.map(Member::from))
    }
}
