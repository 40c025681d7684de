//! Practice: drawn cases with what was done in them, cards of drills, what somebody asked to see
//! passed. No other table is named here, and none names these.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE TABLE practice_case (
        id uuid PRIMARY KEY,
        owner text NOT NULL,
        level text NOT NULL,
        family text NOT NULL,
        drawn jsonb NOT NULL,
        shown text NOT NULL,
        begun_at timestamptz NOT NULL,
        ended_at timestamptz,
        ended text,
        passed boolean NOT NULL DEFAULT false,
        result jsonb
    );
    CREATE INDEX practice_case_owner ON practice_case (owner, begun_at DESC);
    CREATE TABLE practice_act (
        case_id uuid NOT NULL REFERENCES practice_case (id) ON DELETE CASCADE,
        seq integer NOT NULL,
        at timestamptz NOT NULL,
        act jsonb NOT NULL,
        judged jsonb NOT NULL,
        PRIMARY KEY (case_id, seq)
    );
    CREATE TABLE practice_card (
        owner text NOT NULL,
        card text NOT NULL,
        memory jsonb NOT NULL,
        due_at timestamptz NOT NULL,
        turns integer NOT NULL,
        wrong integer NOT NULL,
        PRIMARY KEY (owner, card)
    );
    CREATE TABLE practice_wish (
        id uuid PRIMARY KEY,
        owner text NOT NULL,
        asked_by text NOT NULL,
        level text NOT NULL,
        many integer NOT NULL,
        reason text NOT NULL,
        made_at timestamptz NOT NULL,
        shown boolean NOT NULL DEFAULT false
    );
    CREATE INDEX practice_wish_owner ON practice_wish (owner);
    CREATE INDEX practice_wish_asked_by ON practice_wish (asked_by);";

const DOWN: &str = "
    DROP TABLE practice_wish;
    DROP TABLE practice_card;
    DROP TABLE practice_act;
    DROP TABLE practice_case;";

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
