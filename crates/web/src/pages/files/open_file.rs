//! A print file opened: what is kept of it, its figures, and for whom it is looked at.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::open_case::OpenCase;
use crate::pages::parts::whom::Whom;
use crate::state::AppState;
use crate::urls;
use axum::extract::{FromRequestParts, RawPathParams};
use axum::http::request::Parts;
use suspect_core::evidence::Facts;
use suspect_core::gcode::trace::{Trace, Tracer};
use suspect_core::gcode::{Reader, Reading};
use suspect_core::machine::good_file;
use suspect_store::machines::Machine;
use suspect_store::print_files::FileRow;
use suspect_store::{StoreError, Uuid, think};

/// Bytes of text fetched at once.
const FETCHED: u64 = 4 << 20;

/// Figures as they are kept beside the text.
pub fn as_stored(reading: &Reading) -> Result<String, PageError> {
    reading.to_stored().map_err(|_| PageError::Broken)
}

/// A print file with its figures.
pub struct OpenFile {
    pub row: FileRow,
    pub reading: Reading,
}

impl OpenFile {
    /// Reads a file. Figures of an earlier program are made anew from the text.
    ///
    /// # Errors
    /// When there is no such file, or the database cannot be reached.
    pub async fn read(state: &AppState, id: Uuid) -> Result<Self, PageError> {
        let row = state.store.print_file(id).await.map_err(|e| match e {
            StoreError::NotFound => PageError::NotFound("print file"),
            other => other.into(),
        })?;
        let reading = match think(|| Reading::from_stored(&row.reading)).await {
            Some((reading, own)) if own || row.removed.is_some() => reading,
            _ => anew(state, &row).await?,
        };
        Ok(Self { row, reading })
    }

    /// The paths of a layer; none where the text is gone.
    pub async fn trace(&self, state: &AppState, layer: usize) -> Result<Option<Trace>, PageError> {
        let layers = &self.reading.layers;
        let Some(at) = layers.get(layer) else {
            return Err(PageError::NotFound("layer"));
        };
        let next = layers.get(layer + 1);
        let named = self.reading.types_named;
        let tracer = Tracer::new(at, next, named, layer == 0);
        let (Some(mut tracer), None) = (tracer, &self.row.removed) else {
            return Ok(None);
        };
        let end = next.map_or(self.row.text_bytes, |next| next.offset);
        let mut from = at.offset;
        while from < end {
            let to = (from + FETCHED).min(end);
            let text = state.store.print_text(self.row.id, from, to).await?;
            if text.is_empty() {
                break;
            }
            tracer = think(|| {
                tracer.feed(&text);
                tracer
            })
            .await;
            from = to;
        }
        Ok(Some(think(|| tracer.finish()).await))
    }

    /// The whole text.
    pub async fn text(&self, state: &AppState) -> Result<Vec<u8>, PageError> {
        Ok(state
            .store
            .print_text(self.row.id, 0, self.row.text_bytes)
            .await?)
    }
}

/// Reads a kept text again.
async fn anew(state: &AppState, row: &FileRow) -> Result<Reading, PageError> {
    let mut reader = Reader::new();
    let mut from = 0;
    while from < row.text_bytes {
        let to = (from + FETCHED).min(row.text_bytes);
        let text = state.store.print_text(row.id, from, to).await?;
        if text.is_empty() {
            return Err(PageError::NotFound("print file"));
        }
        reader = think(|| {
            reader.feed(&text);
            reader
        })
        .await;
        from = to;
    }
    let reading = think(|| reader.finish()).await;
    state
        .store
        .keep_reading(row.id, as_stored(&reading)?)
        .await?;
    Ok(reading)
}

impl FromRequestParts<AppState> for OpenFile {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Self, PageError> {
        Self::read(state, id_in(parts, "file").await?).await
    }
}

/// An identifier in the address.
async fn id_in(parts: &mut Parts, name: &str) -> Result<Uuid, PageError> {
    let params = RawPathParams::from_request_parts(parts, &()).await;
    let params = params.map_err(|_| PageError::BadAddress)?;
    let found = params
        .iter()
        .find(|(n, _)| *n == name)
        .and_then(|(_, v)| v.parse().ok());
    found.ok_or(PageError::NotFound("print file"))
}

/// For whom a file is looked at.
pub struct For {
    pub case: Option<OpenCase>,
    pub machine: Option<Machine>,
    /// The machine's last good file: identifier and name.
    pub good: Option<(Uuid, String)>,
    pub facts: Facts,
}

impl For {
    /// Reads what the address names.
    ///
    /// # Errors
    /// When there is no such case or machine, or the database cannot be reached.
    pub async fn read(state: &AppState, fields: &Fields) -> Result<Self, PageError> {
        let whom = Whom::read(state, fields).await?;
        let good = good_file(&whom.log);
        let good = good.and_then(|(id, name)| Some((id.parse().ok()?, name.to_string())));
        let Whom {
            case,
            machine,
            facts,
            ..
        } = whom;
        Ok(Self {
            case,
            machine,
            good,
            facts,
        })
    }

    /// What the address says of it, to be sent along.
    pub fn parameters(&self) -> Vec<(&'static str, String)> {
        match (&self.case, &self.machine) {
            (Some(case), _) => vec![("case", case.id.to_string())],
            (None, Some(machine)) => vec![("machine", machine.id.to_string())],
            (None, None) => Vec::new(),
        }
    }

    /// The address of a page of a file, for the same case or machine.
    pub fn address(&self, file: Uuid, below: &str, more: &[(&'static str, String)]) -> String {
        let mut all = self.parameters();
        all.extend_from_slice(more);
        urls::with(&format!("{}{below}", urls::print_file(file)), &all)
    }

    /// What the file is called here.
    pub fn name_of(&self, file: Uuid) -> String {
        let id = file.to_string();
        let of_case = self.case.iter().flat_map(|case| &case.state.files);
        let named = of_case
            .filter(|f| f.id == id)
            .map(|f| f.name.clone())
            .next_back();
        let good = self.good.as_ref().filter(|(good, _)| *good == file);
        named
            .or_else(|| good.map(|(_, name)| name.clone()))
            .filter(|name| !name.is_empty())
            .unwrap_or_else(|| "Print file".to_string())
    }
}
