//! Shared stations with their PINs, secret addresses of feeds, and what was changed among members.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE TABLE station (
        id uuid PRIMARY KEY,
        name text NOT NULL,
        digest text NOT NULL UNIQUE,
        made_by uuid REFERENCES member (id),
        made_at timestamptz NOT NULL,
        revoked_at timestamptz
    );
    ALTER TABLE member ADD COLUMN pin text;
    CREATE TABLE pin_try (
        station_id uuid NOT NULL REFERENCES station (id),
        member_id uuid NOT NULL REFERENCES member (id),
        wrong integer NOT NULL,
        PRIMARY KEY (station_id, member_id)
    );
    CREATE TABLE feed (
        member_id uuid PRIMARY KEY REFERENCES member (id),
        digest text NOT NULL UNIQUE,
        made_at timestamptz NOT NULL
    );
    CREATE TABLE people_entry (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        at timestamptz NOT NULL,
        by uuid REFERENCES member (id),
        about uuid REFERENCES member (id),
        what text NOT NULL,
        detail text NOT NULL
    );";

const DOWN: &str = "
    DROP TABLE people_entry;
    DROP TABLE feed;
    DROP TABLE pin_try;
    ALTER TABLE member DROP COLUMN pin;
    DROP TABLE station;";

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
