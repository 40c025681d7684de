//! Print files: figures and text, the text in pieces of a mebibyte that the database packs.
//!
//! A file is known by the sum of its text, so the same file twice is kept once. Figures stay when
//! the text is removed. `down` drops both; logs that name a file stay as they are.

use sea_orm_migration::prelude::*;

#[derive(DeriveMigrationName)]
pub struct Migration;

const UP: &str = "
    CREATE TABLE print_file (
        id uuid PRIMARY KEY,
        sha256 text NOT NULL UNIQUE,
        bytes bigint NOT NULL,
        text_bytes bigint NOT NULL,
        packed text,
        reading text COMPRESSION lz4 NOT NULL,
        kept_at timestamptz NOT NULL,
        removed_at timestamptz,
        removed_by text,
        removed_reason text
    );
    CREATE TABLE print_file_piece (
        file_id uuid NOT NULL REFERENCES print_file (id),
        number integer NOT NULL,
        bytes bytea COMPRESSION lz4 NOT NULL,
        PRIMARY KEY (file_id, number)
    );";

const DOWN: &str = "
    DROP TABLE print_file_piece;
    DROP TABLE print_file;";

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
