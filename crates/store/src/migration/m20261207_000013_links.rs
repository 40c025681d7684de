//! How causes show here: looks that were asked for, by cause, finding and state; and whether what
//! was learned does better than the book.
//!
//! Lessons hold more than before, so all of them are written anew from the logs: they and their
//! sums begin empty, and no row of a case bears a stamp.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE TABLE learned_look (
        cause text NOT NULL,
        finding text NOT NULL,
        state text NOT NULL,
        looks bigint NOT NULL,
        PRIMARY KEY (cause, finding, state)
    );
    ALTER TABLE learned_state ADD COLUMN gain bigint NOT NULL DEFAULT 0;
    ALTER TABLE learned_state ADD COLUMN advised bigint NOT NULL DEFAULT 0;
    ALTER TABLE learned_state ADD COLUMN resting boolean NOT NULL DEFAULT false;
    DELETE FROM lesson;
    DELETE FROM learned_cell;
    DELETE FROM learned_use;
    DELETE FROM learned_hold;
    DELETE FROM figure;
    UPDATE learned_state SET version = version + 1, cases = 0;
    UPDATE case_summary SET stamp = '';";

const DOWN: &str = "
    ALTER TABLE learned_state DROP COLUMN resting;
    ALTER TABLE learned_state DROP COLUMN advised;
    ALTER TABLE learned_state DROP COLUMN gain;
    DROP TABLE learned_look;";

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
