//! The workshop's rates and tools, kept as a log of their own: what a plan was made with can be
//! looked up later. `down` drops them.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

#[derive(DeriveIden)]
enum WorkshopEntry {
    Table,
    Seq,
    At,
    Settings,
}

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table(WorkshopEntry::Table)
                    .col(
                        ColumnDef::new(WorkshopEntry::Seq)
                            .integer()
                            .not_null()
                            .primary_key(),
                    )
                    .col(timestamp_with_time_zone(WorkshopEntry::At))
                    .col(json_binary(WorkshopEntry::Settings))
                    .to_owned(),
            )
            .await?;
        let guard = "
            CREATE FUNCTION workshop_entry_is_append_only() RETURNS trigger LANGUAGE plpgsql AS
                'BEGIN RAISE EXCEPTION ''the log of the workshop is append-only''; END';
            CREATE TRIGGER workshop_entry_append_only BEFORE UPDATE OR DELETE ON workshop_entry
                FOR EACH ROW EXECUTE FUNCTION workshop_entry_is_append_only();";
        manager.get_connection().execute_unprepared(guard).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .drop_table(Table::drop().table(WorkshopEntry::Table).to_owned())
            .await?;
        manager
            .get_connection()
            .execute_unprepared("DROP FUNCTION workshop_entry_is_append_only()")
            .await?;
        Ok(())
    }
}
