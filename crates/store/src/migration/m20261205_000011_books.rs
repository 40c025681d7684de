//! The book of each machine beside its log; spools and stock, each thing a log of its own with the
//! row that lists read.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE TABLE machine_book (
        machine_id uuid PRIMARY KEY REFERENCES machine (id),
        made text NOT NULL,
        seq integer NOT NULL,
        book json NOT NULL
    );
    CREATE TABLE shelf (
        id uuid PRIMARY KEY,
        kind text NOT NULL,
        number bigint NOT NULL,
        seq integer NOT NULL,
        made text NOT NULL,
        thing json NOT NULL,
        changed_at timestamptz NOT NULL,
        UNIQUE (kind, number)
    );
    CREATE TABLE shelf_entry (
        thing_id uuid NOT NULL REFERENCES shelf (id),
        seq integer NOT NULL,
        at timestamptz NOT NULL,
        by text,
        event json NOT NULL,
        PRIMARY KEY (thing_id, seq)
    );
    CREATE FUNCTION shelf_entry_is_append_only() RETURNS trigger LANGUAGE plpgsql AS
        'BEGIN RAISE EXCEPTION ''the log of a thing is append-only''; END';
    CREATE TRIGGER shelf_entry_append_only BEFORE UPDATE OR DELETE ON shelf_entry
        FOR EACH ROW EXECUTE FUNCTION shelf_entry_is_append_only();
    CREATE TRIGGER shelf_entry_not_emptied BEFORE TRUNCATE ON shelf_entry
        FOR EACH STATEMENT EXECUTE FUNCTION shelf_entry_is_append_only();
    CREATE INDEX machine_entry_found ON machine_entry
        USING gin (to_tsvector('english', event));
    CREATE INDEX shelf_entry_found ON shelf_entry USING gin (to_tsvector('english', event));
    CREATE INDEX case_entry_spool ON case_entry ((event->>'spool') text_pattern_ops)
        WHERE event->>'spool' <> '';";

const DOWN: &str = "
    DROP INDEX case_entry_spool;
    DROP INDEX machine_entry_found;
    DROP TABLE shelf_entry;
    DROP FUNCTION shelf_entry_is_append_only();
    DROP TABLE shelf;
    DROP TABLE machine_book;";

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
