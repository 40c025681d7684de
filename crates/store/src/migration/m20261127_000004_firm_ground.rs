//! Touches that count once, authors of entries, a projection stamped with what made it, machines
//! that can be edited, and a log that not even TRUNCATE can empty.
//!
//! Rows of the projection get an empty stamp, so that the next start rebuilds them from the log.
//! `down` drops what this step brought: touches, authors, and what was said of machines beside
//! their build.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE TABLE touch (
        id uuid PRIMARY KEY,
        -- What the touch was about: a case, a machine, or nothing for the workshop.
        subject uuid,
        digest text NOT NULL,
        -- Entries it caused in the log of its subject.
        first_seq integer NOT NULL,
        last_seq integer NOT NULL,
        at timestamptz NOT NULL
    );
    CREATE TABLE setup (name text PRIMARY KEY, value text NOT NULL);
    ALTER TABLE case_entry ADD COLUMN by text;
    ALTER TABLE machine_entry ADD COLUMN by text;
    ALTER TABLE workshop_entry ADD COLUMN by text;
    ALTER TABLE help_link ADD COLUMN by text;
    ALTER TABLE case_summary
        ADD COLUMN stamp text NOT NULL DEFAULT '',
        ADD COLUMN resting boolean NOT NULL DEFAULT false;
    CREATE INDEX case_summary_on_the_floor ON case_summary (machine_id)
        WHERE status <> 'resolved' OR stops <> '';
    CREATE INDEX case_summary_by_stamp ON case_summary (stamp, case_id);
    ALTER TABLE machine
        ADD COLUMN place text NOT NULL DEFAULT '',
        ADD COLUMN note text NOT NULL DEFAULT '',
        ADD COLUMN out_of_service text;
    CREATE TRIGGER case_entry_keeps_all BEFORE TRUNCATE ON case_entry
        FOR EACH STATEMENT EXECUTE FUNCTION case_entry_is_append_only();
    CREATE TRIGGER machine_entry_keeps_all BEFORE TRUNCATE ON machine_entry
        FOR EACH STATEMENT EXECUTE FUNCTION machine_entry_is_append_only();
    CREATE TRIGGER workshop_entry_keeps_all BEFORE TRUNCATE ON workshop_entry
        FOR EACH STATEMENT EXECUTE FUNCTION workshop_entry_is_append_only();";

const DOWN: &str = "
    DROP TRIGGER workshop_entry_keeps_all ON workshop_entry;
    DROP TRIGGER machine_entry_keeps_all ON machine_entry;
    DROP TRIGGER case_entry_keeps_all ON case_entry;
    ALTER TABLE machine DROP COLUMN place, DROP COLUMN note, DROP COLUMN out_of_service;
    DROP INDEX case_summary_by_stamp;
    DROP INDEX case_summary_on_the_floor;
    ALTER TABLE case_summary DROP COLUMN stamp, DROP COLUMN resting;
    ALTER TABLE help_link DROP COLUMN by;
    ALTER TABLE workshop_entry DROP COLUMN by;
    ALTER TABLE machine_entry DROP COLUMN by;
    ALTER TABLE case_entry DROP COLUMN by;
    DROP TABLE setup;
    DROP TABLE touch;";

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
