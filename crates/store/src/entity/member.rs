//! A member: the one table in which their name stands.

use sea_orm::entity::prelude::*;

#[derive(Clone, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "member")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    pub name: String,
    /// The name as it looks; none once they left.
    pub looks: Option<String>,
    pub role: String,
    /// Hash of the passphrase; none until an invitation is taken.
    pub secret: Option<String>,
    /// Another one ends all sessions.
    pub stamp: Uuid,
    pub made_at: TimeDateTimeWithTimeZone,
    pub left_at: Option<TimeDateTimeWithTimeZone>,
    /// Hash of the PIN for stations.
    pub pin: Option<String>,
}

// Whoever prints a row prints no secret.
impl std::fmt::Debug for Model {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "member {}", self.id)
    }
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
