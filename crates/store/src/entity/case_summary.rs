//! The projection of a case that lists and statistics read; written in the transaction of the
//! event.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "case_summary")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub case_id: Uuid,
    pub number: i64,
    pub machine_id: Uuid,
    pub last_seq: i32,
    pub title: String,
    pub status: String,
    pub material: Option<String>,
    pub leader: Option<String>,
    pub leader_probability: Option<f64>,
    pub next_step: Option<String>,
    /// Identifiers of the stops that hold, separated by blanks; empty when none does.
    pub stops: String,
    pub outcome: Option<String>,
    pub cause: Option<String>,
    pub fix: Option<String>,
    pub minutes: f64,
    pub grams: f64,
    pub money: f64,
    pub opened_at: TimeDateTimeWithTimeZone,
    pub updated_at: TimeDateTimeWithTimeZone,
    pub closed_at: Option<TimeDateTimeWithTimeZone>,
    /// Answers by finding, for finding similar cases; absent only until they are filled in.
    pub answers: Option<Json>,
    /// Which program and knowledge wrote this row; another one rebuilds it.
    pub stamp: String,
    /// Left for another day.
    pub resting: bool,
    /// Suggestions nobody answered yet.
    pub hearsay: i32,
    /// The work whose wait ends last, as [`suspect_core::case::WorkId`] is written.
    pub wait_for: Option<String>,
    /// Which step of it.
    pub wait_step: Option<i32>,
    pub wait_from: Option<TimeDateTimeWithTimeZone>,
    pub wait_until: Option<TimeDateTimeWithTimeZone>,
    /// When a closed case asks whether its fix held.
    pub ask_at: Option<TimeDateTimeWithTimeZone>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
