//! Spools, stock, kinds and shifts in a backup: their logs, a line a thing.

use crate::ExchangeError;
use crate::backup::Archive;
use crate::restore::{Archive as Read, RestoreError, parsed};
use serde::{Deserialize, Serialize};
use std::io::{Seek, Write};
use suspect_core::shelf::{OwnKind, Shelved, Shelving, Spool, Stock};
use suspect_core::shift::Shift;
use suspect_store::exchange::{Snapshot, StoredThing, TakingIn};
use uuid::Uuid;

/// A thing in its file.
#[derive(Serialize, Deserialize)]
struct ThingLine<E> {
    id: Uuid,
    number: i64,
    entries: Vec<Shelving<E>>,
}

/// The file of a kind; backups of before have none.
fn file<T: Shelved>() -> String {
    format!("{}.jsonl", T::KIND)
}

/// Writes all of them.
pub(crate) async fn write<W: Write + Seek + Send>(
    from: &Snapshot,
    archive: &mut Archive<W>,
) -> Result<(), ExchangeError> {
    of::<Spool, W>(from, archive).await?;
    of::<Stock, W>(from, archive).await?;
    of::<OwnKind, W>(from, archive).await?;
    of::<Shift, W>(from, archive).await
}

async fn of<T: Shelved, W: Write + Seek + Send>(
    from: &Snapshot,
    archive: &mut Archive<W>,
) -> Result<(), ExchangeError> {
    let mut lines = String::new();
    for stored in from.things::<T>().await? {
        let line = ThingLine {
            id: stored.id,
            number: stored.number,
            entries: stored.log,
        };
        lines += &serde_json::to_string(&line)?;
        lines.push('\n');
    }
    archive.whole(&file::<T>(), lines.as_bytes(), true)
}

/// Reads them in again.
pub(crate) async fn read<R: std::io::Read + Seek + Send>(
    archive: &mut Read<R>,
    into: &TakingIn,
) -> Result<(), RestoreError> {
    back::<Spool, R>(archive, into).await?;
    back::<Stock, R>(archive, into).await?;
    back::<OwnKind, R>(archive, into).await?;
    back::<Shift, R>(archive, into).await
}

async fn back<T: Shelved, R: std::io::Read + Seek + Send>(
    archive: &mut Read<R>,
    into: &TakingIn,
) -> Result<(), RestoreError> {
    let file = file::<T>();
    if !archive.manifest.sums.contains_key(&file) {
        return Ok(());
    }
    for (line, text) in archive.lines(&file)? {
        let told: ThingLine<T::Event> = parsed(&file, line, &text)?;
        let stored = StoredThing {
            id: told.id,
            number: told.number,
            log: told.entries,
        };
        into.thing::<T>(&stored).await?;
    }
    Ok(())
}
