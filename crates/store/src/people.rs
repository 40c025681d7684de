//! Members, invitations, sessions, and how often somebody guessed.

mod feeds;
mod guesses;
mod invitations;
mod kept;
mod log;
mod sessions;
mod stations;

pub use invitations::Invited;
pub use kept::Recorded;
pub use log::PeopleEntry;
pub use sessions::SessionRow;
pub use stations::{Station, Tries};

use crate::entity::{member, session};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, DatabaseTransaction,
    EntityTrait, PaginatorTrait, QueryFilter, QueryOrder, QuerySelect, TransactionTrait,
};
use sha2::{Digest, Sha256};
use suspect_core::people::{FORMER, MemberProblem, Role, keeper_stays, looks};
use time::OffsetDateTime;
use uuid::Uuid;

/// Whoever changes members waits for whoever else does: one keeper stays.
const CHANGING: &str = "SELECT pg_advisory_xact_lock(7251)";

/// Why something about people was not done.
#[derive(Debug, thiserror::Error)]
pub enum PeopleError {
    /// A rule of the workshop.
    #[error(transparent)]
    Member(#[from] MemberProblem),
    /// The database.
    #[error(transparent)]
    Store(#[from] StoreError),
}

impl From<sea_orm::DbErr> for PeopleError {
    fn from(e: sea_orm::DbErr) -> Self {
        PeopleError::Store(e.into())
    }
}

/// A member as pages see them.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Member {
    /// Number, as logs hold it.
    pub id: Uuid,
    /// Their name; what all are called who left.
    pub name: String,
    /// What they are.
    pub role: Role,
    /// Since when.
    pub made_at: OffsetDateTime,
    /// They left.
    pub left: bool,
    /// Another one than a session holds ends that session.
    pub stamp: Uuid,
    /// They can sign in: a passphrase is kept.
    pub able: bool,
    /// They have a PIN for stations.
    pub pin: bool,
}

/// What signing in compares with. Its text tells no secret.
pub struct Secret {
    /// Whose.
    pub member: Uuid,
    /// Hash of the passphrase.
    pub hash: String,
}

impl From<member::Model> for Member {
    fn from(row: member::Model) -> Self {
        let left = row.left_at.is_some();
        Self {
            id: row.id,
            name: if left { FORMER.into() } else { row.name },
            role: Role::from_id(&row.role).unwrap_or(Role::Visitor),
            made_at: row.made_at,
            left,
            stamp: row.stamp,
            able: row.secret.is_some(),
            pin: row.pin.is_some(),
        }
    }
}

/// A secret as it is kept.
fn digest(secret: &str) -> String {
    let hash = Sha256::digest(secret.as_bytes());
    hash.iter().map(|b| format!("{b:02x}")).collect()
}

impl Store {
    /// Everybody who is or was a member, by name, those who left at the end.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn members(&self) -> Result<Vec<Member>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = member::Entity::find()
            .order_by_asc(member::Column::Name)
            .all(&self.db)
            .await?;
        let mut all: Vec<Member> = rows.into_iter().map(Member::from).collect();
        all.sort_by_key(|m| m.left);
        Ok(all)
    }

    /// Whether any member can sign in: from then on nobody works here without doing so. Members of
    /// a backup have no passphrase until they take a link.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn has_members(&self) -> Result<bool, StoreError> {
        let _turn = self.gate.reader().await?;
        Ok(able().count(&self.db).await? > 0)
    }

    /// Hash of somebody's passphrase, by the name they type.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn secret(&self, name: &str) -> Result<Option<Secret>, StoreError> {
        let _turn = self.gate.reader().await?;
        let row = present()
            .filter(member::Column::Looks.eq(looks(name)))
            .one(&self.db)
            .await?;
        let secret = row.and_then(|row| {
            Some(Secret {
                member: row.id,
                hash: row.secret?,
            })
        });
        Ok(secret)
    }

    /// Keeps a new passphrase of a member and ends all their sessions.
    ///
    /// # Errors
    /// [`MemberProblem::Gone`] when they left.
    pub async fn set_secret(&self, id: Uuid, hash: String) -> Result<(), PeopleError> {
        self.change(id, async |_, row| {
            row.secret = Set(Some(hash));
            row.stamp = Set(Uuid::new_v4());
            Ok(())
        })
        .await
    }

    /// Gives a member another role.
    ///
    /// # Errors
    /// [`MemberProblem::LastKeeper`], [`MemberProblem::Gone`].
    pub async fn set_role(&self, id: Uuid, role: Role) -> Result<(), PeopleError> {
        self.change(id, async |keepers, row| {
            keeper_stays(keepers, role_of(row), Some(role))?;
            row.role = Set(role.id().into());
            Ok(())
        })
        .await
    }

    /// Lets a member go: the name goes, what they recorded stays with their number.
    ///
    /// # Errors
    /// [`MemberProblem::LastKeeper`], [`MemberProblem::Gone`].
    pub async fn leave(&self, id: Uuid, now: OffsetDateTime) -> Result<(), PeopleError> {
        self.change(id, async |keepers, row| {
            keeper_stays(keepers, role_of(row), None)?;
            row.name = Set(String::new());
            row.looks = Set(None);
            row.secret = Set(None);
            row.pin = Set(None);
            row.stamp = Set(Uuid::new_v4());
            row.left_at = Set(Some(now));
            Ok(())
        })
        .await?;
        // What somebody practised is no record of the workshop.
        Ok(self.forget_practice(&id.simple().to_string()).await?)
    }

    /// Ends all sessions of a member.
    ///
    /// # Errors
    /// [`MemberProblem::Gone`] when they left.
    pub async fn sign_out_everywhere(&self, id: Uuid) -> Result<(), PeopleError> {
        self.change(id, async |_, row| {
            row.stamp = Set(Uuid::new_v4());
            Ok(())
        })
        .await
    }

    /// Changes a member's row, with how many keepers there are; a new stamp ends their sessions.
    async fn change(
        &self,
        id: Uuid,
        how: impl AsyncFnOnce(usize, &mut member::ActiveModel) -> Result<(), MemberProblem>,
    ) -> Result<(), PeopleError> {
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        transaction.execute_unprepared(CHANGING).await?;
        let row = present()
            .filter(member::Column::Id.eq(id))
            .lock_exclusive()
            .one(&transaction)
            .await?;
        let Some(row) = row else {
            return Err(MemberProblem::Gone.into());
        };
        let keepers = present()
            .filter(member::Column::Role.eq(Role::Keeper.id()))
            .count(&transaction)
            .await?;
        let stamp = row.stamp;
        let mut row: member::ActiveModel = row.into();
        how(keepers as usize, &mut row).await?;
        let ended = row.stamp.as_ref() != &stamp;
        row.update(&transaction).await?;
        if ended {
            end_sessions(&transaction, id).await?;
        }
        Ok(transaction.commit().await.map_err(StoreError::from)?)
    }
}

fn role_of(row: &member::ActiveModel) -> Role {
    Role::from_id(row.role.as_ref()).unwrap_or(Role::Visitor)
}

/// Members who did not leave and can sign in.
fn able() -> sea_orm::Select<member::Entity> {
    present().filter(member::Column::Secret.is_not_null())
}

/// Members who did not leave.
fn present() -> sea_orm::Select<member::Entity> {
    member::Entity::find().filter(member::Column::LeftAt.is_null())
}

async fn end_sessions(transaction: &DatabaseTransaction, id: Uuid) -> Result<(), StoreError> {
    session::Entity::delete_many()
        .filter(sea_orm::sea_query::Expr::cust_with_values(
            "data->'signed'->>'member' = $1",
            [id.to_string()],
        ))
        .exec(transaction)
        .await?;
    Ok(())
}
