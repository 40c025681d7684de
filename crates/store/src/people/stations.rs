//! Shared stations: registered once, with PINs that are tried five times, out at once when revoked.

use super::{PeopleError, digest};
use crate::entity::{member, station};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, DbBackend, EntityTrait,
    QueryFilter, QueryOrder, Statement, Value,
};
use suspect_core::people::MemberProblem;
use time::OffsetDateTime;
use uuid::Uuid;

/// A station.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Station {
    /// Number.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// Since when.
    pub made_at: OffsetDateTime,
}

/// A member's PIN at a station.
pub struct Tries {
    /// Hash of it; none where they have none.
    pub hash: Option<String>,
    /// Wrong ones so far.
    pub wrong: u32,
}

impl From<station::Model> for Station {
    fn from(row: station::Model) -> Self {
        Self {
            id: row.id,
            name: row.name,
            made_at: row.made_at,
        }
    }
}

impl Store {
    /// Registers a station. `secret` is what its cookie holds.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn add_station(
        &self,
        secret: &str,
        name: &str,
        by: Option<Uuid>,
        now: OffsetDateTime,
    ) -> Result<Uuid, StoreError> {
        let _turn = self.gate.writer().await?;
        let id = Uuid::now_v7();
        let row = station::ActiveModel {
            id: Set(id),
            name: Set(name.to_string()),
            digest: Set(digest(secret)),
            made_by: Set(by),
            made_at: Set(now),
            revoked_at: Set(None),
        };
        row.insert(&self.db).await?;
        Ok(id)
    }

    /// Stations that are in use, by name.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn stations(&self) -> Result<Vec<Station>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = station::Entity::find()
            .filter(station::Column::RevokedAt.is_null())
            .order_by_asc(station::Column::Name)
            .all(&self.db)
            .await?;
        Ok(rows.into_iter().map(Station::from).collect())
    }

    /// The station whose cookie holds a secret, unless it was revoked.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn station(&self, secret: &str) -> Result<Option<Station>, StoreError> {
        let _turn = self.gate.reader().await?;
        let row = station::Entity::find()
            .filter(station::Column::Digest.eq(digest(secret)))
            .filter(station::Column::RevokedAt.is_null())
            .one(&self.db)
            .await?;
        Ok(row.map(Station::from))
    }

    /// Takes a station out of use: whoever is signed in at it is out at once.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn revoke_station(&self, id: Uuid, now: OffsetDateTime) -> Result<(), StoreError> {
        let _turn = self.gate.writer().await?;
        let revoke = "UPDATE station SET revoked_at = $1 WHERE id = $2 AND revoked_at IS NULL";
        let values: [Value; 2] = [now.into(), id.into()];
        let revoke = Statement::from_sql_and_values(DbBackend::Postgres, revoke, values);
        self.db.execute_raw(revoke).await?;
        Ok(())
    }

    /// Keeps a PIN; what was tried wrong is forgotten.
    ///
    /// # Errors
    /// [`MemberProblem::Gone`] when they left.
    pub async fn set_pin(&self, id: Uuid, hash: String) -> Result<(), PeopleError> {
        self.change(id, async |_, row| {
            row.pin = Set(Some(hash));
            Ok(())
        })
        .await?;
        Ok(self.free_pin(id).await?)
    }

    /// Forgets wrong PINs of a member: they signed in with their passphrase.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn free_pin(&self, id: Uuid) -> Result<(), StoreError> {
        let _turn = self.gate.writer().await?;
        let free = "DELETE FROM pin_try WHERE member_id = $1";
        let free = Statement::from_sql_and_values(DbBackend::Postgres, free, [id.into()]);
        self.db.execute_raw(free).await?;
        Ok(())
    }

    /// A member's PIN, and how often it was typed wrong at a station since.
    ///
    /// # Errors
    /// [`MemberProblem::Gone`] when they left.
    pub async fn pin_tries(&self, station: Uuid, id: Uuid) -> Result<Tries, PeopleError> {
        let _turn = self.gate.reader().await?;
        let row = super::present()
            .filter(member::Column::Id.eq(id))
            .one(&self.db)
            .await?;
        let row = row.ok_or(MemberProblem::Gone)?;
        let wrong = "SELECT wrong FROM pin_try WHERE station_id = $1 AND member_id = $2";
        let values: [Value; 2] = [station.into(), id.into()];
        let wrong = Statement::from_sql_and_values(DbBackend::Postgres, wrong, values);
        let counted = self.db.query_one_raw(wrong).await?;
        let wrong: i32 = match counted {
            Some(row) => row.try_get_by_index(0)?,
            None => 0,
        };
        Ok(Tries {
            hash: row.pin,
            wrong: wrong.unsigned_abs(),
        })
    }

    /// Notes a PIN that was typed: a right one forgets the wrong ones there.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn pin_tried(
        &self,
        station: Uuid,
        member: Uuid,
        right: bool,
    ) -> Result<(), StoreError> {
        const WRONG: &str = "INSERT INTO pin_try (station_id, member_id, wrong) VALUES ($1, $2, 1)
            ON CONFLICT (station_id, member_id) DO UPDATE SET wrong = pin_try.wrong + 1";
        const RIGHT: &str = "DELETE FROM pin_try WHERE station_id = $1 AND member_id = $2";
        let _turn = self.gate.writer().await?;
        let values: [Value; 2] = [station.into(), member.into()];
        let sql = if right { RIGHT } else { WRONG };
        let note = Statement::from_sql_and_values(DbBackend::Postgres, sql, values);
        self.db.execute_raw(note).await?;
        Ok(())
    }
}
