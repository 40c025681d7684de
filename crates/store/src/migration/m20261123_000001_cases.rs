//! Machines, the append-only case log and its projection.
//!
//! The log is the truth; the summary exists so that floor and records need no replay. A trigger
//! refuses to change or delete log rows, so that not even a slip in our own code can lose an event.
//! `down` drops everything, data included.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

#[derive(DeriveIden)]
enum Machine {
    Table,
    Id,
    Name,
    Model,
    Profile,
    Position,
}

#[derive(DeriveIden)]
enum CaseEntry {
    Table,
    CaseId,
    Seq,
    At,
    Event,
}

#[derive(DeriveIden)]
enum CaseSummary {
    Table,
    CaseId,
    Number,
    MachineId,
    LastSeq,
    Title,
    Status,
    Material,
    Leader,
    LeaderProbability,
    NextStep,
    Stops,
    Outcome,
    Cause,
    Fix,
    Minutes,
    Grams,
    Money,
    OpenedAt,
    UpdatedAt,
    ClosedAt,
}

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table(Machine::Table)
                    .col(pk_uuid(Machine::Id))
                    .col(string_uniq(Machine::Name))
                    .col(string(Machine::Model))
                    .col(json_binary(Machine::Profile))
                    .col(integer(Machine::Position))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table(CaseSummary::Table)
                    .col(pk_uuid(CaseSummary::CaseId))
                    .col(
                        big_integer(CaseSummary::Number)
                            .auto_increment()
                            .unique_key(),
                    )
                    .col(uuid(CaseSummary::MachineId))
                    .col(integer(CaseSummary::LastSeq))
                    .col(string(CaseSummary::Title))
                    .col(string(CaseSummary::Status))
                    .col(string_null(CaseSummary::Material))
                    .col(string_null(CaseSummary::Leader))
                    .col(double_null(CaseSummary::LeaderProbability))
                    .col(string_null(CaseSummary::NextStep))
                    .col(string(CaseSummary::Stops))
                    .col(string_null(CaseSummary::Outcome))
                    .col(string_null(CaseSummary::Cause))
                    .col(string_null(CaseSummary::Fix))
                    .col(double(CaseSummary::Minutes))
                    .col(double(CaseSummary::Grams))
                    .col(double(CaseSummary::Money))
                    .col(timestamp_with_time_zone(CaseSummary::OpenedAt))
                    .col(timestamp_with_time_zone(CaseSummary::UpdatedAt))
                    .col(timestamp_with_time_zone_null(CaseSummary::ClosedAt))
                    .foreign_key(
                        ForeignKey::create()
                            .from(CaseSummary::Table, CaseSummary::MachineId)
                            .to(Machine::Table, Machine::Id),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table(CaseEntry::Table)
                    .col(uuid(CaseEntry::CaseId))
                    .col(integer(CaseEntry::Seq))
                    .col(timestamp_with_time_zone(CaseEntry::At))
                    .col(json_binary(CaseEntry::Event))
                    .primary_key(Index::create().col(CaseEntry::CaseId).col(CaseEntry::Seq))
                    .foreign_key(
                        ForeignKey::create()
                            .from(CaseEntry::Table, CaseEntry::CaseId)
                            .to(CaseSummary::Table, CaseSummary::CaseId),
                    )
                    .to_owned(),
            )
            .await?;
        for (name, columns) in [
            ("case_summary_by_machine", vec![CaseSummary::MachineId]),
            (
                "case_summary_by_status",
                vec![CaseSummary::Status, CaseSummary::ClosedAt],
            ),
        ] {
            let mut index = Index::create();
            index.name(name).table(CaseSummary::Table);
            for column in columns {
                index.col(column);
            }
            manager.create_index(index.clone()).await?;
        }
        let guard = "
            CREATE FUNCTION case_entry_is_append_only() RETURNS trigger LANGUAGE plpgsql AS
                'BEGIN RAISE EXCEPTION ''the case log is append-only''; END';
            CREATE TRIGGER case_entry_append_only BEFORE UPDATE OR DELETE ON case_entry
                FOR EACH ROW EXECUTE FUNCTION case_entry_is_append_only();";
        manager.get_connection().execute_unprepared(guard).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .drop_table(Table::drop().table(CaseEntry::Table).to_owned())
            .await?;
        manager
            .get_connection()
            .execute_unprepared("DROP FUNCTION case_entry_is_append_only()")
            .await?;
        manager
            .drop_table(Table::drop().table(CaseSummary::Table).to_owned())
            .await?;
        manager
            .drop_table(Table::drop().table(Machine::Table).to_owned())
            .await
    }
}
