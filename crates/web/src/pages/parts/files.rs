//! Files sent with a form: read within bounds.

use crate::form::Fields;
use crate::form::LARGEST_FORM;
use axum::extract::Multipart;
use axum::extract::multipart::Field;
use std::time::Duration;
use suspect_core::case::LONGEST_TITLE;
use tokio::time::timeout;

/// How long an upload may stand still before it is given up.
pub const STILL: Duration = Duration::from_secs(20);

/// A file as it came.
pub struct File {
    /// The field it came in.
    pub field: String,
    pub bytes: Vec<u8>,
}

/// What a form with files said.
#[derive(Default)]
pub struct Sent {
    pub fields: Fields,
    pub files: Vec<File>,
    /// A file is larger than is taken, or the line broke off.
    pub cut: bool,
}

/// Reads a form whose files have at most so many bytes each. What is larger is not read to its end.
pub async fn take(form: &mut Multipart, most: usize) -> Sent {
    let mut sent = Sent::default();
    loop {
        let Ok(Ok(field)) = timeout(STILL, form.next_field()).await else {
            sent.cut = true;
            return sent;
        };
        let Some(field) = field else {
            return sent;
        };
        let name = field.name().unwrap_or_default().to_string();
        let file = field.file_name().is_some();
        let limit = if file { most } else { LARGEST_FORM };
        let Some(bytes) = read(field, limit).await else {
            sent.cut = true;
            return sent;
        };
        match file {
            // An empty field of the form: no file was chosen.
            true if bytes.is_empty() => {}
            true => sent.files.push(File { field: name, bytes }),
            false => {
                let text = String::from_utf8_lossy(&bytes).into_owned();
                sent.fields.push(name, text);
            }
        }
    }
}

/// The bytes of a field; nothing when there are too many, or the line breaks off or stands still.
pub async fn read(mut field: Field<'_>, most: usize) -> Option<Vec<u8>> {
    let mut bytes = Vec::new();
    loop {
        match timeout(STILL, field.chunk()).await {
            Ok(Ok(Some(chunk))) if bytes.len() + chunk.len() <= most => bytes.extend(chunk),
            Ok(Ok(None)) => return Some(bytes),
            _ => return None,
        }
    }
}

/// The last part of a path, without what cannot be kept, no longer than a title.
pub fn file_name(given: &str) -> String {
    let last = given.rsplit(['/', '\\']).next().unwrap_or("");
    last.chars()
        .filter(|c| !c.is_control())
        .take(LONGEST_TITLE / 2)
        .collect()
}
