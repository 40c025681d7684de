//! A practice case as its pages need it.

use super::owner;
use crate::page_error::PageError;
use crate::state::AppState;
use axum::extract::{FromRequestParts, Path};
use axum::http::request::Parts;
use suspect_core::planning::Workshop;
use suspect_rehearsal::practice::{Act, Judged, Kept, PracticeCase};
use suspect_store::practice::PracticeRow;
use suspect_store::{StoreError, Uuid};

/// A practice case of whoever is here, with what was done in it.
pub struct OpenPractice {
    pub row: PracticeRow,
    pub case: PracticeCase,
    pub done: Vec<(Act, Judged)>,
    pub workshop: Workshop,
}

impl OpenPractice {
    /// Its address.
    pub fn href(&self) -> String {
        href(self.row.id)
    }

    /// What was done, without what it cost.
    pub fn acts(&self) -> impl Iterator<Item = &Act> {
        self.done.iter().map(|(act, _)| act)
    }
}

/// The address of a practice case.
pub fn href(id: Uuid) -> String {
    format!("/practice/cases/{id}")
}

impl FromRequestParts<AppState> for OpenPractice {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Self, PageError> {
        const NONE: PageError = PageError::NotFound("practice case");
        let all = Path::<Vec<(String, String)>>::from_request_parts(parts, state).await;
        let all = all.map_err(|_| NONE)?;
        let id = all.iter().find(|(name, _)| name == "id");
        let id: Uuid = id.and_then(|(_, v)| v.parse().ok()).ok_or(NONE)?;
        let read = state.store.practice_case(&owner(), id).await;
        let (row, acts) = read.map_err(|e| match e {
            StoreError::NotFound => NONE,
            other => other.into(),
        })?;
        let kept: Kept =
            serde_json::from_value(row.drawn.clone()).map_err(|_| PageError::Broken)?;
        let case = kept
            .open(&state.knowledge)
            .map_err(|e| PageError::Refused {
                message: crate::show::sentence(&e.to_string()),
                back: crate::urls::PRACTICE.into(),
            })?;
        let mut done = Vec::new();
        for act in acts {
            let read = (
                serde_json::from_value(act.act),
                serde_json::from_value(act.judged),
            );
            let (Ok(act), Ok(judged)) = read else {
                return Err(PageError::Broken);
            };
            done.push((act, judged));
        }
        let (workshop, _) = state.workshop().await?;
        Ok(Self {
            row,
            case,
            done,
            workshop,
        })
    }
}
