//! A floor with one machine, and a short notation for what is told to its cases.

use std::sync::Arc;
use suspect_core::case::Event;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::Described;
use suspect_core::testing::{observed, opened};
use suspect_store::testing::{Fresh, fresh};
use suspect_store::{Stamp, Store, StoreError, Touch, Uuid};
use time::OffsetDateTime;

pub const NOW: OffsetDateTime = OffsetDateTime::UNIX_EPOCH;

pub struct Floor {
    pub db: Fresh,
    pub k: Arc<Knowledge>,
    pub teal: Uuid,
}

pub fn described(name: &str, profile: &[(&str, &str)]) -> Described {
    Described {
        name: name.into(),
        model: "Skerry 300".into(),
        profile: profile
            .iter()
            .map(|(f, v)| (f.to_string(), v.to_string()))
            .collect(),
        ..Described::default()
    }
}

pub async fn floor() -> Floor {
    let (db, k, teal) = (
        fresh().await,
        Arc::new(Knowledge::shipped()),
        Uuid::now_v7(),
    );
    let machine = described("Teal", &[("feed", "direct")]);
    db.store.add_machine(&k, teal, &machine, NOW).await.unwrap();
    Floor { db, k, teal }
}

impl Floor {
    pub fn store(&self) -> &Store {
        &self.db.store
    }

    pub async fn machine(&self, name: &str, profile: &[(&str, &str)]) -> Uuid {
        let id = Uuid::now_v7();
        let machine = described(name, profile);
        self.store()
            .add_machine(&self.k, id, &machine, NOW)
            .await
            .unwrap();
        id
    }

    pub async fn open(&self, machine: Uuid) -> Uuid {
        let id = Uuid::now_v7();
        let events = [opened(), observed("layer-step", "present")];
        self.store()
            .open_case(&self.k, id, machine, &events, NOW)
            .await
            .unwrap();
        id
    }

    pub async fn append(
        &self,
        id: Uuid,
        seq: u32,
        event: Event,
        stamp: Stamp,
    ) -> Result<u32, StoreError> {
        self.store().append(&self.k, id, seq, &[event], stamp).await
    }

    pub async fn length(&self, id: Uuid) -> usize {
        self.store().case_log(id).await.unwrap().len()
    }
}

pub fn touch() -> Stamp {
    after(&[])
}

/// A touch pressed while others of the same page were on their way.
pub fn after(earlier: &[&Stamp]) -> Stamp {
    let ids = earlier.iter().map(|s| s.touch.as_ref().unwrap().id);
    Stamp {
        touch: Some(Touch {
            id: Uuid::now_v7(),
            after: ids.collect(),
        }),
        ..Stamp::from(NOW)
    }
}

pub fn is_conflict(result: &Result<u32, StoreError>) -> bool {
    matches!(result, Err(StoreError::Conflict { .. }))
}
