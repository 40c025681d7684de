//! An address under which a helper elsewhere reads one case.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "help_link")]
pub struct Model {
    /// The part of the address nobody can guess.
    #[sea_orm(primary_key, auto_increment = false)]
    pub token: String,
    pub case_id: Uuid,
    pub made_at: TimeDateTimeWithTimeZone,
    /// Who made it, when somebody had said so.
    pub by: Option<String>,
    pub revoked_at: Option<TimeDateTimeWithTimeZone>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
