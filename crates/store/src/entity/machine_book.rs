//! What a machine's log says, summed up.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "machine_book")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub machine_id: Uuid,
    /// The way of summing up.
    pub made: String,
    pub seq: i32,
    pub book: Json,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
