//! Passphrases and the secrets of links: made, hashed, compared; never beside other pages' work.

use crate::page_error::PageError;
use argon2::Argon2;
use argon2::password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash};
use std::sync::LazyLock;
use suspect_store::Uuid;
use tokio::sync::{Semaphore, SemaphorePermit};
use tokio::task::spawn_blocking;

/// Hashes made at a time: each takes 19 MiB and a processor for a moment.
static HASHING: Semaphore = Semaphore::const_new(1);

/// What a name that nobody has is compared with: it takes as long as one that somebody has.
static NOBODYS: LazyLock<String> =
    LazyLock::new(|| hashed("nobody's passphrase").unwrap_or_default());

fn hashed(passphrase: &str) -> Option<String> {
    let hash = Argon2::default().hash_password(passphrase.as_bytes());
    hash.ok().map(|hash| hash.to_string())
}

/// The hash of a secret, made at once: for whoever serves nobody yet.
///
/// # Errors
/// When it cannot be made.
pub fn hashed_now(secret: &str) -> Result<String, std::io::Error> {
    hashed(secret).ok_or_else(|| std::io::Error::other("no hash could be made"))
}

/// A turn at hashing. Whoever compares takes it before counting guesses: many that arrive at once
/// are then counted one after the other.
pub struct Turn(#[expect(dead_code, reason = "held until dropped")] SemaphorePermit<'static>);

/// Waits for a turn.
///
/// # Errors
/// When the program ends.
pub async fn turn() -> Result<Turn, PageError> {
    let turn = HASHING.acquire().await;
    turn.map(Turn).map_err(|_| PageError::Busy)
}

/// The hash of a passphrase, as it is kept.
///
/// # Errors
/// When it cannot be made.
pub async fn hash(_: &Turn, passphrase: String) -> Result<String, PageError> {
    let hash = spawn_blocking(move || hashed(&passphrase)).await;
    hash.ok().flatten().ok_or(PageError::Broken)
}

/// Whether a passphrase is the one that was hashed; with no hash it takes as long and is not.
pub async fn is_right(_: &Turn, passphrase: String, kept: Option<String>) -> bool {
    let compared = spawn_blocking(move || {
        let hash = kept.as_ref().unwrap_or(&NOBODYS);
        let parsed = PasswordHash::new(hash).ok();
        let right = parsed.is_some_and(|parsed| {
            Argon2::default()
                .verify_password(passphrase.as_bytes(), &parsed)
                .is_ok()
        });
        right && kept.is_some()
    });
    compared.await.unwrap_or(false)
}

/// A secret nobody guesses: 244 random bits.
pub fn fresh() -> String {
    format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple())
}
