//! The floor reads the most urgent cases of each machine from an index in the very order it shows
//! them, however many cases are open.
//!
//! Replaces the index by machine alone; `down` brings that one back. No row changes.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    DROP INDEX case_summary_on_the_floor;
    CREATE INDEX case_summary_on_the_floor ON case_summary (
        machine_id, (stops = ''), resting, (status NOT IN ('cured', 'verifying')),
        updated_at DESC, number DESC
    ) WHERE status <> 'resolved' OR stops <> '';";

const DOWN: &str = "
    DROP INDEX case_summary_on_the_floor;
    CREATE INDEX case_summary_on_the_floor ON case_summary (machine_id)
        WHERE status <> 'resolved' OR stops <> '';";

#[async_trait::async_trait]
impl MigrationTrait for Migration {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(UP).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(DOWN).await?;
        Ok(())
    }
}
