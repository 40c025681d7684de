//! Secret addresses of feeds and calendars: one a member, revoked by making another.

use super::digest;
use crate::{Store, StoreError};
use sea_orm::{ConnectionTrait, DbBackend, Statement, Value};
use time::OffsetDateTime;
use uuid::Uuid;

impl Store {
    /// Keeps the secret of a member's feeds; the one before leads nowhere any more.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn make_feed(
        &self,
        member: Uuid,
        secret: &str,
        now: OffsetDateTime,
    ) -> Result<(), StoreError> {
        const MAKE: &str = "INSERT INTO feed (member_id, digest, made_at) VALUES ($1, $2, $3)
            ON CONFLICT (member_id) DO UPDATE SET digest = $2, made_at = $3";
        let _turn = self.gate.writer().await?;
        let values: [Value; 3] = [member.into(), digest(secret).into(), now.into()];
        let make = Statement::from_sql_and_values(DbBackend::Postgres, MAKE, values);
        self.db.execute_raw(make).await?;
        Ok(())
    }

    /// Ends a member's feeds.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn end_feed(&self, member: Uuid) -> Result<(), StoreError> {
        let _turn = self.gate.writer().await?;
        let end = "DELETE FROM feed WHERE member_id = $1";
        let end = Statement::from_sql_and_values(DbBackend::Postgres, end, [member.into()]);
        self.db.execute_raw(end).await?;
        Ok(())
    }

    /// Since when a member has feeds; none where they have none.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn feed_since(&self, member: Uuid) -> Result<Option<OffsetDateTime>, StoreError> {
        let _turn = self.gate.reader().await?;
        let since = "SELECT made_at FROM feed WHERE member_id = $1";
        let since = Statement::from_sql_and_values(DbBackend::Postgres, since, [member.into()]);
        let row = self.db.query_one_raw(since).await?;
        Ok(row.map(|row| row.try_get_by_index(0)).transpose()?)
    }

    /// Whose feeds a secret opens; nobody's once it was revoked or its member left.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn feed_of(&self, secret: &str) -> Result<Option<Uuid>, StoreError> {
        const OF: &str = "SELECT member_id FROM feed JOIN member ON member.id = member_id
            WHERE digest = $1 AND left_at IS NULL";
        let _turn = self.gate.reader().await?;
        let values: [Value; 1] = [digest(secret).into()];
        let of = Statement::from_sql_and_values(DbBackend::Postgres, OF, values);
        let row = self.db.query_one_raw(of).await?;
        Ok(row.map(|row| row.try_get_by_index(0)).transpose()?)
    }
}
