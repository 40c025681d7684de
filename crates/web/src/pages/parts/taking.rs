//! Pictures taken in from the network: read within bounds, decoded one at a time.

use crate::pages::parts::files::STILL;
use axum::extract::multipart::Field;
use std::time::Instant;
use suspect_pictures::{Kept, LARGEST_FILE, Refused, take_in};
use tokio::sync::Semaphore;
use tokio::time::timeout;

/// Pictures decoded at a time in one process: each may take 150 MB for a moment.
static DECODING: Semaphore = Semaphore::const_new(1);
/// Uploads whose bodies are read at a time: each holds one picture in memory until it is decoded.
/// Others wait before their bodies are read, and the network makes their browsers wait.
pub static READING: Semaphore = Semaphore::const_new(2);
/// Slowest line that is waited for, in bytes a second, once it had time to begin: others wait too.
const SLOWEST: usize = 16 * 1024;

/// Bytes of one field: at most so many are kept, the rest is counted.
pub struct Bytes {
    pub kept: Vec<u8>,
    pub total: usize,
}

/// Reads a field; nothing when the line breaks off or stands still.
pub async fn read(mut field: Field<'_>, most: usize) -> Option<Bytes> {
    let mut bytes = Bytes {
        kept: Vec::new(),
        total: 0,
    };
    let began = Instant::now();
    while let Some(chunk) = timeout(STILL, field.chunk()).await.ok()?.ok()? {
        bytes.total += chunk.len();
        let seconds = began.elapsed().as_secs() as usize;
        if seconds > STILL.as_secs() as usize && bytes.total / seconds < SLOWEST {
            return None;
        }
        if bytes.total <= most {
            bytes.kept.extend_from_slice(&chunk);
        } else {
            bytes.kept = Vec::new();
        }
    }
    Some(bytes)
}

/// The picture in the bytes, decoded when its turn comes.
pub async fn decoded(bytes: Bytes) -> Result<Kept, Refused> {
    if bytes.total > LARGEST_FILE {
        return Err(Refused::TooLarge(bytes.total));
    }
    let _turn = DECODING.acquire().await;
    let kept = tokio::task::spawn_blocking(move || take_in(&bytes.kept)).await;
    // A decoder that panics has met a damaged picture.
    kept.unwrap_or(Err(Refused::Damaged))
}
