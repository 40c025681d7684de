//! A touch that was taken: the identity its page gave it, and what it caused.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "touch")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    /// The case or machine it was about; absent for the workshop.
    pub subject: Option<Uuid>,
    /// Hash of subject and content: another content under the same identity is another touch.
    pub digest: String,
    pub first_seq: i32,
    pub last_seq: i32,
    pub at: TimeDateTimeWithTimeZone,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
