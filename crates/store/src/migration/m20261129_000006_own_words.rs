//! What the workshop names in its own words is found again; lists tell of the waits that run and of
//! what was last worked on.
//!
//! The rows of open cases are rebuilt from their logs by the version of the projection. `down`
//! drops what this step brought; nothing of a log changes.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE INDEX case_entry_own_words ON case_entry ((event->>'kind'))
        WHERE event->>'kind' IN ('own-checked', 'own-fixed', 'own-suspected');
    CREATE INDEX case_summary_latest ON case_summary (updated_at DESC, number DESC);
    ALTER TABLE case_summary
        ADD COLUMN hearsay integer NOT NULL DEFAULT 0,
        ADD COLUMN wait_for text,
        ADD COLUMN wait_step integer,
        ADD COLUMN wait_from timestamptz,
        ADD COLUMN wait_until timestamptz;";

const DOWN: &str = "
    ALTER TABLE case_summary
        DROP COLUMN hearsay,
        DROP COLUMN wait_for,
        DROP COLUMN wait_step,
        DROP COLUMN wait_from,
        DROP COLUMN wait_until;
    DROP INDEX case_summary_latest;
    DROP INDEX case_entry_own_words;";

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
