//! One event of a spool or a spare part.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "shelf_entry")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub thing_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub seq: i32,
    pub at: TimeDateTimeWithTimeZone,
    pub by: Option<String>,
    pub event: Json,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
