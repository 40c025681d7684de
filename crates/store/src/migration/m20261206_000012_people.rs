//! Members, invitations, sessions, failed guesses. Names stand in one table; logs hold numbers.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE TABLE member (
        id uuid PRIMARY KEY,
        name text NOT NULL,
        looks text,
        role text NOT NULL,
        secret text,
        stamp uuid NOT NULL,
        made_at timestamptz NOT NULL,
        left_at timestamptz
    );
    CREATE UNIQUE INDEX member_looks ON member (looks) WHERE left_at IS NULL;
    CREATE TABLE invitation (
        digest text PRIMARY KEY,
        role text NOT NULL,
        member_id uuid REFERENCES member (id),
        made_by uuid REFERENCES member (id),
        made_at timestamptz NOT NULL,
        used_at timestamptz
    );
    CREATE TABLE session (
        digest text PRIMARY KEY,
        data json NOT NULL,
        expires_at timestamptz NOT NULL
    );
    CREATE INDEX session_member ON session ((data->'signed'->>'member'));
    CREATE TABLE guess (
        looks text NOT NULL,
        address text NOT NULL,
        at timestamptz NOT NULL,
        right_one boolean NOT NULL
    );
    CREATE INDEX guess_looks ON guess (looks, at);
    CREATE INDEX guess_address ON guess (address, at);";

const DOWN: &str = "
    DROP TABLE guess;
    DROP TABLE session;
    DROP TABLE invitation;
    DROP TABLE member;";

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
