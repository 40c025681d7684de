//! What a trial series is now, for lists. Its log says all of it.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "series")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    pub number: i64,
    pub machine_id: Uuid,
    pub case_id: Option<Uuid>,
    pub name: String,
    pub pieces: i32,
    pub ended: Option<String>,
    pub begun_at: TimeDateTimeWithTimeZone,
    pub changed_at: TimeDateTimeWithTimeZone,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
