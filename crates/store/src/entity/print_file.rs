//! A print file: its figures beside it. Its text is in pieces.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "print_file")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    pub sha256: String,
    pub bytes: i64,
    pub text_bytes: i64,
    pub packed: Option<String>,
    /// Figures and layers as JSON.
    #[sea_orm(column_type = "Text")]
    pub reading: String,
    pub kept_at: TimeDateTimeWithTimeZone,
    pub removed_at: Option<TimeDateTimeWithTimeZone>,
    pub removed_by: Option<String>,
    pub removed_reason: Option<String>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
