//! The bytes of a piece's picture. The log names them; taking a picture back leaves them here.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, Eq, DeriveEntityModel)]
#[sea_orm(table_name = "series_picture")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub id: Uuid,
    pub series_id: Uuid,
    #[sea_orm(column_type = "VarBinary(StringLen::None)")]
    pub bytes: Vec<u8>,
    #[sea_orm(column_type = "VarBinary(StringLen::None)")]
    pub thumbnail: Vec<u8>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
