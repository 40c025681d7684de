//! Everything in one archive, while others work: a view of one moment, written down in constant
//! memory. Pictures and print files are files of it; the manifest, last, has the sum of each.

use crate::sums::Summed;
use crate::writing::{Names, write_log, write_table};
use crate::{ExchangeError, people, series, shelf};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::io::{Seek, Write};
use suspect_core::knowledge::Knowledge;
use suspect_store::Store;
use suspect_store::exchange::{Snapshot, StoredFile, StoredLink};
use time::OffsetDateTime;
use uuid::Uuid;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

/// Name and version of the format.
pub const BACKUP_FORMAT: &str = "usual-suspect-backup/1";
/// Pictures looked up at once.
const BATCH: u64 = 500;

/// Names of files in a backup.
pub(crate) const MANIFEST: &str = "manifest.json";
pub(crate) const LOG: &str = "log.jsonl";
pub(crate) const LINKS: &str = "links.jsonl";
pub(crate) const PICTURES: &str = "pictures.jsonl";
pub(crate) const FILES: &str = "print-files.jsonl";
const TABLE: &str = "cases.csv";

/// What a backup holds.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Manifest {
    /// [`BACKUP_FORMAT`].
    pub format: String,
    /// When it was written.
    #[serde(with = "time::serde::rfc3339")]
    pub written: OffsetDateTime,
    /// Version of the program that wrote it.
    pub program: String,
    /// Cases.
    pub cases: u64,
    /// Pictures.
    pub pictures: u64,
    /// Print files.
    pub print_files: u64,
    /// The sum over each file by its name, SHA-256 in hexadecimal.
    pub sums: BTreeMap<String, String>,
}

/// What was written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Backed {
    /// Cases.
    pub cases: u64,
    /// Pictures.
    pub pictures: u64,
    /// Print files.
    pub print_files: u64,
}

/// A picture in `pictures.jsonl`.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) struct PictureLine {
    pub id: Uuid,
    pub case: Uuid,
}

/// A print file in `print-files.jsonl`.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) struct FileLine {
    pub id: Uuid,
    pub sha256: String,
    pub bytes: i64,
    pub text_bytes: i64,
    pub packed: Option<String>,
    #[serde(with = "time::serde::rfc3339")]
    pub kept_at: OffsetDateTime,
    #[serde(default, with = "time::serde::rfc3339::option")]
    pub removed_at: Option<OffsetDateTime>,
    #[serde(default)]
    pub removed_by: String,
    #[serde(default)]
    pub removed_reason: String,
}

/// A helper's link in `links.jsonl`.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) struct LinkLine {
    pub token: String,
    pub case: Uuid,
    #[serde(with = "time::serde::rfc3339")]
    pub made_at: OffsetDateTime,
    #[serde(default)]
    pub by: Option<String>,
    #[serde(default, with = "time::serde::rfc3339::option")]
    pub revoked_at: Option<OffsetDateTime>,
}

/// Where a picture stands in the archive, large and small.
pub(crate) fn picture_names(id: Uuid) -> [String; 2] {
    [
        format!("pictures/{id}.jpg"),
        format!("pictures/{id}-small.jpg"),
    ]
}

/// Where a print file's text stands.
pub(crate) fn file_name(id: Uuid) -> String {
    format!("print-files/{id}.gcode")
}

/// Where its figures stand.
pub(crate) fn figures_name(id: Uuid) -> String {
    format!("print-files/{id}.json")
}

/// An archive that sums up what it writes.
pub(crate) struct Archive<W: Write + Seek> {
    zip: ZipWriter<W>,
    sums: BTreeMap<String, String>,
}

impl<W: Write + Seek + Send> Archive<W> {
    fn begin(&mut self, name: &str, packed: bool) -> Result<(), ExchangeError> {
        let method = match packed {
            true => CompressionMethod::Deflated,
            // A picture is packed already.
            false => CompressionMethod::Stored,
        };
        let options = SimpleFileOptions::default()
            .compression_method(method)
            .large_file(true);
        self.zip.start_file(name, options)?;
        Ok(())
    }

    pub(crate) fn whole(
        &mut self,
        name: &str,
        bytes: &[u8],
        packed: bool,
    ) -> Result<(), ExchangeError> {
        self.begin(name, packed)?;
        let mut out = Summed::new(&mut self.zip);
        out.write_all(bytes)?;
        self.sums.insert(name.to_string(), out.end().0);
        Ok(())
    }
}

/// Writes everything that is kept into an archive. With `names` the members go with it, by name;
/// without them what they recorded holds their numbers alone.
///
/// # Errors
/// When the records do not answer or the archive cannot be written.
pub async fn backup(
    store: &Store,
    knowledge: &Knowledge,
    out: impl Write + Seek + Send,
    now: OffsetDateTime,
    names: bool,
) -> Result<Backed, ExchangeError> {
    let from = store.snapshot().await?;
    let mut archive = Archive {
        zip: ZipWriter::new(out),
        sums: BTreeMap::new(),
    };
    archive.begin(LOG, true)?;
    let mut log = Summed::new(&mut archive.zip);
    let cases = write_log(&from, &mut log, now, Names::Kept).await?;
    let (sum, _) = log.end();
    archive.sums.insert(LOG.into(), sum);
    // For whoever looks in: restoring needs it not.
    archive.begin(TABLE, true)?;
    let mut table = Summed::new(&mut archive.zip);
    write_table(&from, knowledge, &mut table).await?;
    let (sum, _) = table.end();
    archive.sums.insert(TABLE.into(), sum);
    let pictures = pictures(&from, &mut archive).await?;
    let print_files = print_files(&from, &mut archive).await?;
    let links = from.links().await?;
    let links: Result<Vec<String>, _> = links.into_iter().map(link).collect();
    archive.whole(LINKS, links?.concat().as_bytes(), true)?;
    series::write(&from, &mut archive).await?;
    shelf::write(&from, &mut archive).await?;
    if names {
        people::write(&from, &mut archive).await?;
    }
    let manifest = Manifest {
        format: BACKUP_FORMAT.into(),
        written: now,
        program: env!("CARGO_PKG_VERSION").into(),
        cases,
        pictures,
        print_files,
        sums: archive.sums,
    };
    archive
        .zip
        .start_file(MANIFEST, SimpleFileOptions::default())?;
    serde_json::to_writer_pretty(&mut archive.zip, &manifest)?;
    archive.zip.finish()?.flush()?;
    Ok(Backed {
        cases,
        pictures,
        print_files,
    })
}

fn link(link: StoredLink) -> Result<String, serde_json::Error> {
    let line = serde_json::to_string(&LinkLine {
        token: link.token,
        case: link.case,
        made_at: link.made_at,
        by: link.by,
        revoked_at: link.revoked_at,
    })?;
    Ok(line + "\n")
}

async fn pictures<W: Write + Seek + Send>(
    from: &Snapshot,
    archive: &mut Archive<W>,
) -> Result<u64, ExchangeError> {
    let (mut after, mut lines, mut many) = (Uuid::nil(), String::new(), 0);
    loop {
        let ids = from.pictures(after, BATCH).await?;
        let Some(last) = ids.last() else {
            archive.whole(PICTURES, lines.as_bytes(), true)?;
            return Ok(many);
        };
        after = *last;
        for id in ids {
            let picture = from.picture(id).await?;
            let [large, small] = picture_names(id);
            archive.whole(&large, &picture.bytes, false)?;
            archive.whole(&small, &picture.thumbnail, false)?;
            let case = picture.case;
            lines += &serde_json::to_string(&PictureLine { id, case })?;
            lines.push('\n');
            many += 1;
        }
    }
}

async fn print_files<W: Write + Seek + Send>(
    from: &Snapshot,
    archive: &mut Archive<W>,
) -> Result<u64, ExchangeError> {
    let ids = from.files().await?;
    for id in &ids {
        let name = file_name(*id);
        archive.begin(&name, true)?;
        let mut text = Summed::new(&mut archive.zip);
        for number in 0.. {
            match from.piece(*id, number).await? {
                Some(piece) => text.write_all(&piece)?,
                None => break,
            }
        }
        let (sum, _) = text.end();
        archive.sums.insert(name, sum);
    }
    let mut lines = String::new();
    for id in &ids {
        let file = from.file(*id).await?;
        archive.whole(&figures_name(*id), file.reading.as_bytes(), true)?;
        lines += &serde_json::to_string(&line_of(file))?;
        lines.push('\n');
    }
    archive.whole(FILES, lines.as_bytes(), true)?;
    Ok(ids.len() as u64)
}

fn line_of(file: StoredFile) -> FileLine {
    let (removed_at, (removed_by, removed_reason)) = match file.removed {
        Some((at, by, reason)) => (Some(at), (by, reason)),
        None => (None, Default::default()),
    };
    FileLine {
        id: file.id,
        sha256: file.sha256,
        bytes: file.bytes,
        text_bytes: file.text_bytes,
        packed: file.packed,
        kept_at: file.kept_at,
        removed_at,
        removed_by,
        removed_reason,
    }
}
