//! Sessions in the database, as the session layer wants them.

use async_trait::async_trait;
use serde::{Deserialize, Serialize};
use suspect_store::{Store, Uuid};
use time::OffsetDateTime;
use tower_sessions::session::{Id, Record};
use tower_sessions::session_store::{Error, Result};
use tower_sessions::{Session, SessionStore};

/// Under this the session says who signed in.
pub const SIGNED: &str = "signed";

/// Who signed in, when, where from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Signed {
    /// The member.
    pub member: Uuid,
    /// Their stamp: another one ends the session.
    pub stamp: Uuid,
    /// Since when.
    #[serde(with = "time::serde::rfc3339")]
    pub began: OffsetDateTime,
    /// Used last, as far as it was noted.
    #[serde(with = "time::serde::rfc3339")]
    pub used: OffsetDateTime,
    /// What the browser says it is.
    pub browser: String,
    /// Where from.
    pub address: String,
    /// The shared station, where it is one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub station: Option<Uuid>,
}

/// Who signed in, as a session says.
pub async fn signed(session: &Session) -> Option<Signed> {
    session.get(SIGNED).await.ok().flatten()
}

/// Keeps sessions in the store.
#[derive(Debug, Clone)]
pub struct Kept(pub Store);

fn failed(e: impl std::fmt::Display) -> Error {
    Error::Backend(e.to_string())
}

impl Kept {
    async fn keep(&self, record: &Record, new: bool) -> Result<bool> {
        let data = serde_json::to_value(&record.data).map_err(|e| Error::Encode(e.to_string()))?;
        let number = record.id.to_string();
        let kept = self.0.keep_session(&number, data, record.expiry_date, new);
        kept.await.map_err(failed)
    }
}

#[async_trait]
impl SessionStore for Kept {
    async fn create(&self, record: &mut Record) -> Result<()> {
        while !self.keep(record, true).await? {
            record.id = Id::default();
        }
        Ok(())
    }

    async fn save(&self, record: &Record) -> Result<()> {
        self.keep(record, false).await.map(|_| ())
    }

    async fn load(&self, id: &Id) -> Result<Option<Record>> {
        let now = OffsetDateTime::now_utc();
        let row = self.0.session(&id.to_string(), now).await.map_err(failed)?;
        let record = row.map(|(data, expiry_date)| {
            let data = serde_json::from_value(data).map_err(|e| Error::Decode(e.to_string()))?;
            Ok(Record {
                id: *id,
                data,
                expiry_date,
            })
        });
        record.transpose()
    }

    async fn delete(&self, id: &Id) -> Result<()> {
        self.0.end_session(&id.to_string()).await.map_err(failed)
    }
}
