//! Cases that somebody asks another to pass; what was passed is shown to them with leave alone.

use crate::{Store, StoreError};
use sea_orm::{QueryResult, Value};
use time::OffsetDateTime;
use uuid::Uuid;

/// A wish to see cases passed.
#[derive(Debug, Clone, PartialEq)]
pub struct Wish {
    /// Number.
    pub id: Uuid,
    /// Who is asked.
    pub owner: String,
    /// Who asks.
    pub asked_by: String,
    /// Of which level.
    pub level: String,
    /// How many.
    pub many: i32,
    /// For what: a role, a kind of procedure.
    pub reason: String,
    /// When.
    pub made_at: OffsetDateTime,
    /// Passed since it was asked; none while whoever is asked gives no leave.
    pub passed: Option<i64>,
}

impl Store {
    /// Asks somebody to pass cases.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn wish_practice(&self, wish: &Wish) -> Result<(), StoreError> {
        const WISH: &str = "INSERT INTO practice_wish
            (id, owner, asked_by, level, many, reason, made_at) VALUES ($1, $2, $3, $4, $5, $6, $7)
            ON CONFLICT (id) DO NOTHING";
        let values: [Value; 7] = [
            wish.id.into(),
            wish.owner.clone().into(),
            wish.asked_by.clone().into(),
            wish.level.clone().into(),
            wish.many.into(),
            wish.reason.clone().into(),
            wish.made_at.into(),
        ];
        self.practice_write(WISH, values).await?;
        Ok(())
    }

    /// What somebody is asked to pass, with what they passed: their own eyes need no leave.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn wishes_of(&self, owner: &str) -> Result<Vec<(Wish, bool)>, StoreError> {
        self.wishes("owner", owner, true).await
    }

    /// What somebody asked others to pass: what these passed is there only with their leave.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn wishes_by(&self, asked_by: &str) -> Result<Vec<(Wish, bool)>, StoreError> {
        self.wishes("asked_by", asked_by, false).await
    }

    async fn wishes(
        &self,
        column: &str,
        who: &str,
        own: bool,
    ) -> Result<Vec<(Wish, bool)>, StoreError> {
        let all = format!(
            "SELECT id, owner, asked_by, level, many, reason, made_at, shown,
                CASE WHEN shown OR $2 THEN (SELECT count(*) FROM practice_case c
                    WHERE c.owner = w.owner AND c.level = w.level AND c.passed
                        AND c.ended_at >= w.made_at) END
            FROM practice_wish w WHERE {column} = $1 ORDER BY made_at DESC"
        );
        let rows = self.practice_read(&all, [who.into(), own.into()]).await?;
        let of = |r: &QueryResult| {
            let wish = Wish {
                id: r.try_get_by_index(0)?,
                owner: r.try_get_by_index(1)?,
                asked_by: r.try_get_by_index(2)?,
                level: r.try_get_by_index(3)?,
                many: r.try_get_by_index(4)?,
                reason: r.try_get_by_index(5)?,
                made_at: r.try_get_by_index(6)?,
                passed: r.try_get_by_index(8)?,
            };
            Ok((wish, r.try_get_by_index(7)?))
        };
        rows.iter().map(of).collect()
    }

    /// Gives leave to see what was passed for a wish, or takes it back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where nobody asked them that.
    pub async fn show_passed(
        &self,
        owner: &str,
        wish: Uuid,
        shown: bool,
    ) -> Result<(), StoreError> {
        const SHOW: &str = "UPDATE practice_wish SET shown = $3 WHERE owner = $1 AND id = $2";
        let values: [Value; 3] = [owner.into(), wish.into(), shown.into()];
        match self.practice_write(SHOW, values).await? {
            0 => Err(StoreError::NotFound),
            _ => Ok(()),
        }
    }

    /// Takes a wish back.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn take_wish_back(&self, asked_by: &str, wish: Uuid) -> Result<(), StoreError> {
        const BACK: &str = "DELETE FROM practice_wish WHERE asked_by = $1 AND id = $2";
        self.practice_write(BACK, [asked_by.into(), wish.into()])
            .await?;
        Ok(())
    }
}
