//! What a closed case teaches, and how its fixes held.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "lesson")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub case_id: Uuid,
    pub machine_id: Uuid,
    /// [`suspect_core::learning::lesson::Lesson`]; absent while the case is open again.
    pub lesson: Option<Json>,
    /// [`suspect_core::learning::lesson::HoldRecord`], all of them.
    pub holds: Json,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
