//! A backup into an empty database: every sum is checked as it is read, and all stands or nothing.
//! What a log says was accepted where it was written; it is not judged again.

use crate::backup::{
    BACKUP_FORMAT, FILES, FileLine, LINKS, LOG, LinkLine, MANIFEST, Manifest, PICTURES,
    PictureLine, figures_name, file_name, picture_names,
};
use crate::reading::machine_of;
use crate::sums::Summed;
use crate::{people, series, shelf};
use std::io::{BufRead, BufReader, Read, Seek};
use suspect_core::exchange::{CaseLine, Line, read};
use suspect_core::knowledge::Knowledge;
use suspect_store::exchange::{StoredCase, StoredFile, StoredLink, StoredPicture, TakingIn};
use suspect_store::{Store, StoreError};
use uuid::Uuid;
use zip::ZipArchive;

/// Bytes of the manifest at most, of one picture, of one line.
const LARGEST_MANIFEST: u64 = 256 << 20;
const LARGEST_PICTURE: u64 = 64 << 20;
const LONGEST_LINE: u64 = 64 << 20;
/// Bytes of a piece of a print file's text.
const PIECE: u64 = 1 << 20;
/// Cases held in memory at once.
const BATCH: usize = 200;

/// Why a backup was not restored. Nothing of it stands.
#[derive(Debug, thiserror::Error)]
pub enum RestoreError {
    /// Something is kept here already.
    #[error(
        "the database is not empty: a backup is restored into an empty one, and nothing here \
        was changed"
    )]
    NotEmpty,
    /// It is no archive, or breaks off.
    #[error("the archive cannot be read ({0}): is it whole?")]
    Archive(String),
    /// It is something else, or of another version.
    #[error("`{0}` is not a backup known here: expected `{BACKUP_FORMAT}`")]
    Format(String),
    /// A file of it is missing.
    #[error("`{0}` is missing from the archive")]
    Missing(String),
    /// A file of it was changed or damaged.
    #[error("`{0}` is not what it was when the backup was written: its sum is wrong")]
    Sum(String),
    /// A line of it makes no sense.
    #[error("`{file}`, line {line}: {problem}")]
    Line {
        /// Which file.
        file: String,
        /// Which line, from 1.
        line: u64,
        /// What is wrong.
        problem: String,
    },
    /// The records did not answer.
    #[error(transparent)]
    Store(#[from] StoreError),
}

impl From<std::io::Error> for RestoreError {
    fn from(e: std::io::Error) -> Self {
        RestoreError::Archive(e.to_string())
    }
}

impl From<zip::result::ZipError> for RestoreError {
    fn from(e: zip::result::ZipError) -> Self {
        RestoreError::Archive(e.to_string())
    }
}

/// Restores a backup into an empty database.
///
/// # Errors
/// What is wrong with it; nothing of it stands then.
pub async fn restore(
    store: &Store,
    knowledge: &Knowledge,
    from: impl Read + Seek + Send,
) -> Result<Manifest, RestoreError> {
    let mut into = store.taking_in().await?;
    if !store.holds_nothing().await? {
        return Err(RestoreError::NotEmpty);
    }
    let mut zip = ZipArchive::new(from)?;
    let manifest = manifest(&mut zip)?;
    let mut archive = Archive { zip, manifest };
    log(&mut archive, &mut into, knowledge).await?;
    pictures(&mut archive, &into).await?;
    print_files(&mut archive, &into).await?;
    for (line, text) in archive.lines(LINKS)? {
        let link: LinkLine = parsed(LINKS, line, &text)?;
        let link = StoredLink {
            token: link.token,
            case: link.case,
            made_at: link.made_at,
            by: link.by,
            revoked_at: link.revoked_at,
        };
        into.link(link).await?;
    }
    series::read(&mut archive, &into).await?;
    shelf::read(&mut archive, &into).await?;
    people::read(&mut archive, &into).await?;
    into.finish().await?;
    Ok(archive.manifest)
}

/// An archive with what it should hold.
pub(crate) struct Archive<R: Read + Seek> {
    zip: ZipArchive<R>,
    pub(crate) manifest: Manifest,
}

fn manifest<R: Read + Seek>(zip: &mut ZipArchive<R>) -> Result<Manifest, RestoreError> {
    let file = zip.by_name(MANIFEST);
    let file = file.map_err(|_| RestoreError::Missing(MANIFEST.into()))?;
    let told: serde_json::Value = serde_json::from_reader(file.take(LARGEST_MANIFEST))
        .map_err(|e| RestoreError::Archive(e.to_string()))?;
    let format = told.get("format").and_then(|f| f.as_str()).unwrap_or("");
    if format != BACKUP_FORMAT {
        let format = suspect_core::nearest::short(format);
        return Err(RestoreError::Format(format));
    }
    serde_json::from_value(told).map_err(|e| RestoreError::Line {
        file: MANIFEST.into(),
        line: 1,
        problem: e.to_string(),
    })
}

impl<R: Read + Seek> Archive<R> {
    /// The bytes of a file, checked.
    pub(crate) fn whole(&mut self, name: &str) -> Result<Vec<u8>, RestoreError> {
        let missing = || RestoreError::Missing(name.into());
        let file = self.zip.by_name(name).map_err(|_| missing())?;
        let mut file = Summed::new(file.take(LARGEST_PICTURE));
        let mut bytes = Vec::new();
        file.read_to_end(&mut bytes)?;
        let (sum, _) = file.end();
        self.fits(name, &sum)?;
        Ok(bytes)
    }

    fn fits(&self, name: &str, sum: &str) -> Result<(), RestoreError> {
        match self.manifest.sums.get(name) {
            None => Err(RestoreError::Missing(name.into())),
            Some(there) if there == sum => Ok(()),
            Some(_) => Err(RestoreError::Sum(name.into())),
        }
    }

    /// All lines of a file that fits into memory, checked, each with its number.
    pub(crate) fn lines(&mut self, name: &str) -> Result<Vec<(u64, String)>, RestoreError> {
        let bytes = self.whole(name)?;
        let text = String::from_utf8(bytes).map_err(|e| RestoreError::Line {
            file: name.into(),
            line: 1,
            problem: e.to_string(),
        })?;
        let lines = (1..).zip(text.lines()).filter(|(_, l)| !l.is_empty());
        Ok(lines.map(|(n, l)| (n, l.to_string())).collect())
    }
}

fn at(file: &str, line: u64, problem: impl ToString) -> RestoreError {
    RestoreError::Line {
        file: file.into(),
        line,
        problem: problem.to_string(),
    }
}

pub(crate) fn parsed<T: serde::de::DeserializeOwned>(
    file: &str,
    line: u64,
    text: &str,
) -> Result<T, RestoreError> {
    serde_json::from_str(text).map_err(|e| at(file, line, e))
}

fn case(line: u64, told: CaseLine) -> Result<StoredCase, RestoreError> {
    if told.log.is_empty() {
        return Err(at(LOG, line, "the log of the case is empty"));
    }
    Ok(StoredCase {
        id: told.id.parse().map_err(|e| at(LOG, line, e))?,
        number: told.number,
        machine: told.machine.parse().map_err(|e| at(LOG, line, e))?,
        log: told.log,
    })
}

/// The log, line by line: it may be larger than memory.
async fn log<R: Read + Seek + Send>(
    archive: &mut Archive<R>,
    into: &mut TakingIn,
    knowledge: &Knowledge,
) -> Result<(), RestoreError> {
    let missing = |_| RestoreError::Missing(LOG.into());
    let file = archive.zip.by_name(LOG).map_err(missing)?;
    let mut lines = BufReader::new(Summed::new(file));
    let mut waiting = Vec::new();
    for number in 1.. {
        let mut bytes = Vec::new();
        let read_bytes = lines
            .by_ref()
            .take(LONGEST_LINE)
            .read_until(b'\n', &mut bytes)?;
        if read_bytes == 0 {
            break;
        }
        let text = String::from_utf8_lossy(&bytes);
        match read(text.trim()).map_err(|e| at(LOG, number, e))? {
            Line::Head(_) => {}
            Line::Machine(told) => {
                let (machine, log) = machine_of(told).map_err(|e| at(LOG, number, e))?;
                into.machine(&machine, &log).await?;
            }
            Line::Workshop(settings) => into.workshop(settings).await?,
            Line::Case(told) => waiting.push(case(number, told)?),
        }
        if waiting.len() >= BATCH {
            into.cases(knowledge, &waiting).await?;
            waiting.clear();
        }
    }
    into.cases(knowledge, &waiting).await?;
    let (sum, _) = lines.into_inner().end();
    archive.fits(LOG, &sum)
}

async fn pictures<R: Read + Seek + Send>(
    archive: &mut Archive<R>,
    into: &TakingIn,
) -> Result<(), RestoreError> {
    for (line, text) in archive.lines(PICTURES)? {
        let PictureLine { id, case } = parsed(PICTURES, line, &text)?;
        let [large, small] = picture_names(id);
        let picture = StoredPicture {
            id,
            case,
            bytes: archive.whole(&large)?,
            thumbnail: archive.whole(&small)?,
        };
        into.picture(picture).await?;
    }
    Ok(())
}

async fn print_files<R: Read + Seek + Send>(
    archive: &mut Archive<R>,
    into: &TakingIn,
) -> Result<(), RestoreError> {
    for (line, text) in archive.lines(FILES)? {
        let told: FileLine = parsed(FILES, line, &text)?;
        let id = told.id;
        let file = StoredFile {
            id,
            sha256: told.sha256,
            bytes: told.bytes,
            text_bytes: told.text_bytes,
            packed: told.packed,
            reading: String::from_utf8(archive.whole(&figures_name(id))?)
                .map_err(|e| at(FILES, line, e))?,
            kept_at: told.kept_at,
            removed: told
                .removed_at
                .map(|at| (at, told.removed_by, told.removed_reason)),
        };
        into.file(file).await?;
        pieces(archive, into, id).await?;
    }
    Ok(())
}

/// The text of a print file, piece by piece.
async fn pieces<R: Read + Seek + Send>(
    archive: &mut Archive<R>,
    into: &TakingIn,
    id: Uuid,
) -> Result<(), RestoreError> {
    let name = file_name(id);
    let missing = |_| RestoreError::Missing(name.clone());
    let file = archive.zip.by_name(&name).map_err(missing)?;
    let mut file = Summed::new(file);
    for number in 0.. {
        let mut piece = Vec::new();
        file.by_ref().take(PIECE).read_to_end(&mut piece)?;
        if piece.is_empty() {
            break;
        }
        into.piece(id, number, piece).await?;
    }
    let (sum, _) = file.end();
    archive.fits(&name, &sum)
}
