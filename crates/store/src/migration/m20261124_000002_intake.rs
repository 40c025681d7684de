//! What taking a case in needs: pictures, links for helpers, hours of parts, and each case's
//! answers beside it, by which similar cases are found.
//!
//! Answers of cases stored before are filled in by `Store::fill_answers`, because reading them
//! takes the knowledge. `down` drops everything this step brought, pictures included.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

#[derive(DeriveIden)]
enum CaseSummary {
    Table,
    CaseId,
    Answers,
}

#[derive(DeriveIden)]
enum Machine {
    Table,
    Id,
}

#[derive(DeriveIden)]
enum Picture {
    Table,
    Id,
    CaseId,
    Bytes,
    Thumbnail,
}

#[derive(DeriveIden)]
enum HelpLink {
    Table,
    Token,
    CaseId,
    MadeAt,
    RevokedAt,
}

#[derive(DeriveIden)]
enum MachineEntry {
    Table,
    MachineId,
    Seq,
    At,
    Event,
}

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .alter_table(
                Table::alter()
                    .table(CaseSummary::Table)
                    .add_column(json_binary_null(CaseSummary::Answers))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table(Picture::Table)
                    .col(pk_uuid(Picture::Id))
                    .col(uuid(Picture::CaseId))
                    .col(blob(Picture::Bytes))
                    .col(blob(Picture::Thumbnail))
                    .foreign_key(
                        ForeignKey::create()
                            .from(Picture::Table, Picture::CaseId)
                            .to(CaseSummary::Table, CaseSummary::CaseId),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table(HelpLink::Table)
                    .col(
                        ColumnDef::new(HelpLink::Token)
                            .string()
                            .not_null()
                            .primary_key(),
                    )
                    .col(uuid(HelpLink::CaseId))
                    .col(timestamp_with_time_zone(HelpLink::MadeAt))
                    .col(timestamp_with_time_zone_null(HelpLink::RevokedAt))
                    .foreign_key(
                        ForeignKey::create()
                            .from(HelpLink::Table, HelpLink::CaseId)
                            .to(CaseSummary::Table, CaseSummary::CaseId),
                    )
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table(MachineEntry::Table)
                    .col(uuid(MachineEntry::MachineId))
                    .col(integer(MachineEntry::Seq))
                    .col(timestamp_with_time_zone(MachineEntry::At))
                    .col(json_binary(MachineEntry::Event))
                    .primary_key(
                        Index::create()
                            .col(MachineEntry::MachineId)
                            .col(MachineEntry::Seq),
                    )
                    .foreign_key(
                        ForeignKey::create()
                            .from(MachineEntry::Table, MachineEntry::MachineId)
                            .to(Machine::Table, Machine::Id),
                    )
                    .to_owned(),
            )
            .await?;
        let guard = "
            CREATE FUNCTION machine_entry_is_append_only() RETURNS trigger LANGUAGE plpgsql AS
                'BEGIN RAISE EXCEPTION ''the log of a machine is append-only''; END';
            CREATE TRIGGER machine_entry_append_only BEFORE UPDATE OR DELETE ON machine_entry
                FOR EACH ROW EXECUTE FUNCTION machine_entry_is_append_only();
            CREATE INDEX picture_by_case ON picture (case_id);
            CREATE INDEX help_link_by_case ON help_link (case_id);";
        manager.get_connection().execute_unprepared(guard).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .drop_table(Table::drop().table(MachineEntry::Table).to_owned())
            .await?;
        manager
            .get_connection()
            .execute_unprepared("DROP FUNCTION machine_entry_is_append_only()")
            .await?;
        manager
            .drop_table(Table::drop().table(HelpLink::Table).to_owned())
            .await?;
        manager
            .drop_table(Table::drop().table(Picture::Table).to_owned())
            .await?;
        manager
            .alter_table(
                Table::alter()
                    .table(CaseSummary::Table)
                    .drop_column(CaseSummary::Answers)
                    .to_owned(),
            )
            .await
    }
}
