//! Records out and in: a table, a log, a backup with everything; what comes from elsewhere is
//! looked through before it is taken in.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use crate::waiting::{self, Held};
use askama::Template;
use axum::body::{Body, Bytes};
use axum::extract::multipart::Field;
use axum::extract::{Multipart, RawQuery, State};
use axum::http::header;
use axum::response::{Html, IntoResponse, Response};
use futures_util::stream;
use std::fs::File;
use std::io::{BufWriter, Read, Write};
use std::time::Duration;
use suspect_exchange::{ExchangeError, Names, Report, Way};
use suspect_store::{StoreError, Uuid};
use tempfile::TempPath;
use tokio::time::timeout;

/// Largest file that is looked through.
pub const LARGEST_UPLOAD: usize = 1 << 30;
/// Bytes sent at once.
const PIECE: usize = 256 << 10;
/// How long an upload may stand still.
const STILL: Duration = Duration::from_secs(30);

/// What a file would bring, and what to do with it.
struct Looked {
    name: String,
    token: Uuid,
    report: Report,
}

#[derive(Template)]
#[template(path = "records/exchange.html")]
struct ExchangePage {
    looked: Option<Looked>,
    /// What came of taking one in.
    taken: Option<Report>,
    error: Option<String>,
    columns: &'static [(&'static str, &'static str)],
    megabytes: usize,
}

fn page(
    looked: Option<Looked>,
    taken: Option<Report>,
    error: Option<String>,
) -> Result<String, PageError> {
    let page = ExchangePage {
        looked,
        taken,
        error,
        columns: &suspect_core::exchange::COLUMNS,
        megabytes: LARGEST_UPLOAD >> 20,
    };
    Ok(page.render()?)
}

fn problem(e: ExchangeError) -> PageError {
    match e {
        ExchangeError::Store(e) => e.into(),
        other => {
            tracing::warn!("records could not go out or in: {other}");
            PageError::Broken
        }
    }
}

fn full(e: std::io::Error) -> PageError {
    problem(ExchangeError::File(e))
}

/// `GET /records/exchange`
pub async fn form() -> Page {
    Ok(Html(page(None, None, None)?))
}

/// `POST /records/exchange`: looks a file through.
pub async fn look(State(state): State<AppState>, mut form: Multipart) -> Answer {
    let said = |words: &str| Ok(again(page(None, None, Some(words.into()))?));
    let mut kept = None;
    while let Ok(Some(field)) = form.next_field().await {
        if let Some(name) = field.file_name().map(str::to_string) {
            match take_up(field).await? {
                Some(file) => kept = Some((name, file)),
                None => return said("The file broke off on its way: send it again."),
            }
            break;
        }
    }
    let Some((name, file)) = kept else {
        return said("Choose a file first.");
    };
    let looked = suspect_exchange::look(&state.store, &state.knowledge, &file, state.now());
    let report = looked.await.map_err(problem)?;
    let token = state.waiting.keep(file);
    let looked = Looked {
        name,
        token,
        report,
    };
    Ok(Html(page(Some(looked), None, None)?).into_response())
}

/// A file as it comes; none when it breaks off.
async fn take_up(mut field: Field<'_>) -> Result<Option<TempPath>, PageError> {
    let (file, path) = waiting::fresh().map_err(full)?;
    let mut out = BufWriter::new(file);
    loop {
        match timeout(STILL, field.chunk()).await {
            Ok(Ok(Some(bytes))) => out.write_all(&bytes).map_err(full)?,
            Ok(Ok(None)) => break,
            Ok(Err(_)) | Err(_) => return Ok(None),
        }
    }
    out.flush().map_err(full)?;
    Ok(Some(path))
}

/// `POST /records/exchange/take`: takes in what was looked through.
pub async fn take(State(state): State<AppState>, fields: Fields) -> Answer {
    let token: Uuid = fields.get("token").parse().unwrap_or_default();
    let Some(file) = state.waiting.find(token) else {
        let words = "That file does not wait any more: send it again.";
        return Ok(again(page(None, None, Some(words.into()))?));
    };
    let way = match fields.get("way") {
        "others" => Way::LeaveOut,
        _ => Way::AllOrNothing,
    };
    let (store, k) = (&state.store, &state.knowledge);
    let taken = suspect_exchange::take(store, k, Held::path(&file), way, state.now());
    let report = match taken.await {
        Ok(report) => report,
        Err(ExchangeError::Store(StoreError::Taken(rule))) => {
            tracing::warn!("records were not taken in: {rule}");
            let words = "Somebody added the same meanwhile: nothing was taken. Look again.";
            return Ok(again(page(None, None, Some(words.into()))?));
        }
        Err(e) => return Err(problem(e)),
    };
    if report.taken {
        state.waiting.let_go(token);
        state.ask_to_rebuild();
    }
    Ok(Html(page(None, Some(report), None)?).into_response())
}

/// `GET /records/cases.csv`
pub async fn table(State(state): State<AppState>) -> Answer {
    let (file, path) = waiting::fresh().map_err(full)?;
    let from = state.store.snapshot().await?;
    let mut out = BufWriter::new(file);
    let written = suspect_exchange::write_table(&from, &state.knowledge, &mut out);
    written.await.map_err(problem)?;
    out.flush().map_err(full)?;
    send(path, "text/csv; charset=utf-8", "cases.csv")
}

/// `GET /records/log.jsonl`
pub async fn log(State(state): State<AppState>, RawQuery(query): RawQuery) -> Answer {
    let names = match Fields::of_query(query).get("names") {
        "yes" => Names::Kept,
        _ => Names::LeftOut,
    };
    let (file, path) = waiting::fresh().map_err(full)?;
    let from = state.store.snapshot().await?;
    let mut out = BufWriter::new(file);
    let written = suspect_exchange::write_log(&from, &mut out, state.now(), names);
    written.await.map_err(problem)?;
    out.flush().map_err(full)?;
    send(path, "application/jsonl; charset=utf-8", "log.jsonl")
}

/// `GET /records/backup.zip`
pub async fn backup(State(state): State<AppState>, RawQuery(query): RawQuery) -> Answer {
    let names = Fields::of_query(query).get("names") == "yes";
    let (file, path) = waiting::fresh().map_err(full)?;
    let (store, k, now) = (&state.store, &state.knowledge, state.now());
    let written = suspect_exchange::backup(store, k, BufWriter::new(file), now, names);
    written.await.map_err(problem)?;
    let name = format!("usual-suspect-{}.zip", show::file_day(now));
    send(path, "application/zip", &name)
}

/// Sends a file piece by piece; it is deleted when it is sent, or nobody reads on.
fn send(path: TempPath, kind: &'static str, name: &str) -> Result<Response, PageError> {
    let file = File::open(&path).map_err(full)?;
    let long = file.metadata().map_err(full)?.len();
    let pieces = stream::unfold((file, path), async |(mut file, path)| {
        let read = tokio::task::spawn_blocking(move || {
            let mut bytes = vec![0; PIECE];
            let read = file.read(&mut bytes).map(|n| {
                bytes.truncate(n);
                Bytes::from(bytes)
            });
            (read, file)
        });
        let (read, file) = read.await.ok()?;
        let end = read.as_ref().is_ok_and(Bytes::is_empty);
        (!end).then_some((read, (file, path)))
    });
    let headers = [
        (header::CONTENT_TYPE, kind.to_string()),
        (header::CONTENT_LENGTH, long.to_string()),
        (
            header::CONTENT_DISPOSITION,
            format!("attachment; filename=\"{name}\""),
        ),
    ];
    Ok((headers, Body::from_stream(pieces)).into_response())
}
