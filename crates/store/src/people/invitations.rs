//! Links that let somebody in once: a new member, the first keeper, a new passphrase.

use super::{CHANGING, PeopleError, able, digest, present};
use crate::entity::{invitation, member};
use crate::{Store, StoreError};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, EntityTrait, PaginatorTrait,
    QueryFilter, QuerySelect, TransactionTrait,
};
use suspect_core::people::{INVITATION, MemberProblem, Role, looks, name};
use time::OffsetDateTime;
use uuid::Uuid;

/// An invitation that stands.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Invited {
    /// What they will be.
    pub role: Role,
    /// The member whose passphrase is to be new, by name; none for a new member.
    pub member: Option<(Uuid, String)>,
}

impl Store {
    /// Keeps an invitation to a role, or for a member who forgot the passphrase. `secret` is what
    /// the link holds.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn invite(
        &self,
        secret: &str,
        (role, member): (Role, Option<Uuid>),
        by: Option<Uuid>,
        now: OffsetDateTime,
    ) -> Result<(), PeopleError> {
        let _turn = self.gate.writer().await?;
        let row = invitation::ActiveModel {
            digest: Set(digest(secret)),
            role: Set(role.id().into()),
            member_id: Set(member),
            made_by: Set(by),
            made_at: Set(now),
            used_at: Set(None),
        };
        row.insert(&self.db).await?;
        Ok(())
    }

    /// What a link invites to, while it stands.
    ///
    /// # Errors
    /// [`MemberProblem::Invitation`] when it was used, is over, or never was.
    pub async fn invited(&self, secret: &str, now: OffsetDateTime) -> Result<Invited, PeopleError> {
        let _turn = self.gate.reader().await?;
        let row = invitation::Entity::find_by_id(digest(secret))
            .one(&self.db)
            .await?;
        let row = row
            .filter(|row| stands(row, now))
            .ok_or(MemberProblem::Invitation)?;
        let member = match row.member_id {
            Some(id) => {
                let row = present().filter(member::Column::Id.eq(id)).one(&self.db);
                let row = row.await?.ok_or(MemberProblem::Gone)?;
                Some((id, row.name))
            }
            None => None,
        };
        Ok(Invited {
            role: Role::from_id(&row.role).unwrap_or(Role::Visitor),
            member,
        })
    }

    /// Takes an invitation: makes the member, or gives them the new passphrase. It works once,
    /// whoever is first. The invitation of a first keeper works only while nobody is a member.
    ///
    /// # Errors
    /// [`MemberProblem`] for a link that was used, or a name that is taken.
    pub async fn take_invitation(
        &self,
        secret: &str,
        called: &str,
        hash: String,
        now: OffsetDateTime,
    ) -> Result<Uuid, PeopleError> {
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        transaction.execute_unprepared(CHANGING).await?;
        let row = invitation::Entity::find_by_id(digest(secret))
            .lock_exclusive()
            .one(&transaction)
            .await?;
        let row = row
            .filter(|row| stands(row, now))
            .ok_or(MemberProblem::Invitation)?;
        if row.made_by.is_none() && able().count(&transaction).await? > 0 {
            return Err(MemberProblem::Invitation.into());
        }
        let id = match row.member_id {
            Some(id) => {
                let known = present().filter(member::Column::Id.eq(id));
                let known = known.one(&transaction).await?.ok_or(MemberProblem::Gone)?;
                let mut known: member::ActiveModel = known.into();
                known.secret = Set(Some(hash));
                known.stamp = Set(Uuid::new_v4());
                known.update(&transaction).await?;
                super::end_sessions(&transaction, id).await?;
                id
            }
            None => {
                let called = name(called).map_err(MemberProblem::from)?;
                let alike = present().filter(member::Column::Looks.eq(looks(&called)));
                if let Some(taken) = alike.one(&transaction).await? {
                    return Err(MemberProblem::NameTaken(taken.name).into());
                }
                let id = Uuid::now_v7();
                let new = member::ActiveModel {
                    id: Set(id),
                    looks: Set(Some(looks(&called))),
                    name: Set(called),
                    role: Set(row.role.clone()),
                    secret: Set(Some(hash)),
                    stamp: Set(Uuid::new_v4()),
                    made_at: Set(now),
                    left_at: Set(None),
                    pin: Set(None),
                };
                new.insert(&transaction).await?;
                id
            }
        };
        let mut used: invitation::ActiveModel = row.into();
        used.used_at = Set(Some(now));
        used.update(&transaction).await?;
        transaction.commit().await.map_err(StoreError::from)?;
        Ok(id)
    }
}

fn stands(row: &invitation::Model, now: OffsetDateTime) -> bool {
    row.used_at.is_none() && now - row.made_at <= INVITATION
}
