//! Trial series in a backup: their logs line by line, photos of pieces as files.

use crate::ExchangeError;
use crate::backup::Archive;
use crate::restore::{Archive as Read, RestoreError, parsed};
use serde::{Deserialize, Serialize};
use std::io::{Seek, Write};
use suspect_core::series::{Entry, Event};
use suspect_store::exchange::{Snapshot, StoredPicture, StoredSeries, TakingIn};
use time::OffsetDateTime;
use uuid::Uuid;

/// The file of a backup that holds series; backups of before have none.
const SERIES: &str = "series.jsonl";

/// A series in `series.jsonl`.
#[derive(Debug, Serialize, Deserialize)]
struct SeriesLine {
    id: Uuid,
    number: i64,
    machine: Uuid,
    #[serde(default)]
    case: Option<Uuid>,
    #[serde(with = "time::serde::rfc3339")]
    begun_at: OffsetDateTime,
    entries: Vec<EntryLine>,
    #[serde(default)]
    photos: Vec<Uuid>,
}

/// An entry of its log.
#[derive(Debug, Serialize, Deserialize)]
struct EntryLine {
    seq: u32,
    #[serde(with = "time::serde::rfc3339")]
    at: OffsetDateTime,
    #[serde(default)]
    by: Option<String>,
    event: Event,
}

/// Where a photo of a piece stands in the archive, large and small.
fn photo_names(id: Uuid) -> [String; 2] {
    [format!("pieces/{id}.jpg"), format!("pieces/{id}-small.jpg")]
}

/// Writes all series and their photos.
pub(crate) async fn write<W: Write + Seek + Send>(
    from: &Snapshot,
    archive: &mut Archive<W>,
) -> Result<(), ExchangeError> {
    let mut lines = String::new();
    for stored in from.series().await? {
        let photos = from.photos_of(stored.id).await?;
        for id in &photos {
            let photo = from.photo(*id).await?;
            let [large, small] = photo_names(*id);
            archive.whole(&large, &photo.bytes, false)?;
            archive.whole(&small, &photo.thumbnail, false)?;
        }
        let entry = |e: Entry| EntryLine {
            seq: e.seq,
            at: e.at,
            by: e.by,
            event: e.event,
        };
        let line = SeriesLine {
            id: stored.id,
            number: stored.number,
            machine: stored.machine,
            case: stored.case,
            begun_at: stored.begun_at,
            entries: stored.log.into_iter().map(entry).collect(),
            photos,
        };
        lines += &serde_json::to_string(&line)?;
        lines.push('\n');
    }
    archive.whole(SERIES, lines.as_bytes(), true)
}

/// Reads them in again.
pub(crate) async fn read<R: std::io::Read + Seek + Send>(
    archive: &mut Read<R>,
    into: &TakingIn,
) -> Result<(), RestoreError> {
    if !archive.manifest.sums.contains_key(SERIES) {
        return Ok(());
    }
    for (line, text) in archive.lines(SERIES)? {
        let told: SeriesLine = parsed(SERIES, line, &text)?;
        let entry = |e: EntryLine| Entry {
            seq: e.seq,
            at: e.at,
            by: e.by,
            event: e.event,
        };
        let stored = StoredSeries {
            id: told.id,
            number: told.number,
            machine: told.machine,
            case: told.case,
            begun_at: told.begun_at,
            log: told.entries.into_iter().map(entry).collect(),
        };
        into.series(&stored).await?;
        for id in told.photos {
            let [large, small] = photo_names(id);
            let photo = StoredPicture {
                id,
                case: told.id,
                bytes: archive.whole(&large)?,
                thumbnail: archive.whole(&small)?,
            };
            into.photo(photo).await?;
        }
    }
    Ok(())
}
