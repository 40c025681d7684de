//! Members in a backup, where whoever makes it chose that names leave: who they are, and no secret.

use crate::ExchangeError;
use crate::backup::Archive;
use crate::restore::{Archive as Read, RestoreError, parsed};
use serde::{Deserialize, Serialize};
use std::io::{Seek, Write};
use suspect_core::people::Role;
use suspect_store::exchange::{Snapshot, StoredMember, TakingIn};
use time::OffsetDateTime;
use uuid::Uuid;

/// The file; backups without names have none.
const PEOPLE: &str = "people.jsonl";

/// A member in it.
#[derive(Serialize, Deserialize)]
struct MemberLine {
    id: Uuid,
    #[serde(default)]
    name: String,
    role: Role,
    #[serde(with = "time::serde::rfc3339")]
    made_at: OffsetDateTime,
    #[serde(default, with = "time::serde::rfc3339::option")]
    left_at: Option<OffsetDateTime>,
}

/// Writes all members.
pub(crate) async fn write<W: Write + Seek + Send>(
    from: &Snapshot,
    archive: &mut Archive<W>,
) -> Result<(), ExchangeError> {
    let mut lines = String::new();
    for member in from.members().await? {
        let line = MemberLine {
            id: member.id,
            name: member.name,
            role: member.role,
            made_at: member.made_at,
            left_at: member.left_at,
        };
        lines += &serde_json::to_string(&line)?;
        lines.push('\n');
    }
    archive.whole(PEOPLE, lines.as_bytes(), true)
}

/// Reads them in again.
pub(crate) async fn read<R: std::io::Read + Seek + Send>(
    archive: &mut Read<R>,
    into: &TakingIn,
) -> Result<(), RestoreError> {
    if !archive.manifest.sums.contains_key(PEOPLE) {
        return Ok(());
    }
    for (line, text) in archive.lines(PEOPLE)? {
        let told: MemberLine = parsed(PEOPLE, line, &text)?;
        let stored = StoredMember {
            id: told.id,
            name: told.name,
            role: told.role,
            made_at: told.made_at,
            left_at: told.left_at,
        };
        into.member(stored).await?;
    }
    Ok(())
}
