//! What closed cases teach: a lesson beside each log, and sums over them that a ranking reads.
//!
//! Sums are whole numbers, so that a lesson taken out again leaves nothing behind. `down` drops
//! them; they are rebuilt from the logs.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE TABLE lesson (
        case_id uuid PRIMARY KEY REFERENCES case_summary (case_id),
        machine_id uuid NOT NULL,
        lesson jsonb,
        holds jsonb NOT NULL
    );
    CREATE TABLE learned_cell (
        machine_id uuid NOT NULL,
        context text NOT NULL,
        cause text NOT NULL,
        parts bigint NOT NULL,
        PRIMARY KEY (machine_id, context, cause)
    );
    CREATE TABLE learned_use (
        fix text NOT NULL,
        cause text NOT NULL,
        uses bigint NOT NULL,
        worked bigint NOT NULL,
        PRIMARY KEY (fix, cause)
    );
    CREATE TABLE learned_hold (
        fix text NOT NULL,
        cause text NOT NULL,
        early_days bigint NOT NULL,
        late_days bigint NOT NULL,
        early_returns bigint NOT NULL,
        late_returns bigint NOT NULL,
        asked bigint NOT NULL,
        PRIMARY KEY (fix, cause)
    );
    CREATE TABLE learned_state (
        one boolean PRIMARY KEY DEFAULT true CHECK (one),
        version bigint NOT NULL,
        cases bigint NOT NULL
    );
    INSERT INTO learned_state (version, cases) VALUES (0, 0);
    ALTER TABLE case_summary ADD COLUMN ask_at timestamptz;
    CREATE INDEX case_summary_ask_at ON case_summary (ask_at) WHERE ask_at IS NOT NULL;";

const DOWN: &str = "
    ALTER TABLE case_summary DROP COLUMN ask_at;
    DROP TABLE learned_state;
    DROP TABLE learned_hold;
    DROP TABLE learned_use;
    DROP TABLE learned_cell;
    DROP TABLE lesson;";

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
