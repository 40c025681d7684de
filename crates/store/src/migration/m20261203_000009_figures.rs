//! The workshop's own figures: sums over closed cases by machine and month, and over the shop; the
//! words of cases, to be found by.
//!
//! Lessons hold more than before, so all of them are written anew from the logs: they and their
//! sums begin empty, and no row of a case bears a stamp.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE TABLE figure (
        scope uuid NOT NULL,
        month date NOT NULL,
        of text NOT NULL,
        key text NOT NULL,
        n bigint NOT NULL,
        amount bigint NOT NULL,
        PRIMARY KEY (scope, month, of, key)
    );
    DELETE FROM lesson;
    DELETE FROM learned_cell;
    DELETE FROM learned_use;
    DELETE FROM learned_hold;
    UPDATE learned_state SET version = version + 1, cases = 0;
    UPDATE case_summary SET stamp = '';
    CREATE TABLE case_words (
        case_id uuid PRIMARY KEY REFERENCES case_summary (case_id),
        words text NOT NULL,
        found tsvector GENERATED ALWAYS AS (to_tsvector('english', words)) STORED
    );
    CREATE INDEX case_words_found ON case_words USING gin (found);
    CREATE INDEX case_summary_opened_at ON case_summary (opened_at);";

const DOWN: &str = "
    DROP INDEX case_summary_opened_at;
    DROP TABLE case_words;
    DROP TABLE figure;";

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
