//! A link that lets somebody in once. Its secret is kept as a digest.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "invitation")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub digest: String,
    pub role: String,
    /// The member whose passphrase is to be new; none for a new member.
    pub member_id: Option<Uuid>,
    pub made_by: Option<Uuid>,
    pub made_at: TimeDateTimeWithTimeZone,
    pub used_at: Option<TimeDateTimeWithTimeZone>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
