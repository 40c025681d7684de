//! The series an address names, and recording what a form of it asks for.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::show;
use crate::state::AppState;
use crate::urls;
use axum::extract::FromRequestParts;
use axum::extract::Path;
use axum::http::request::Parts;
use axum::response::{IntoResponse, Redirect, Response};
use std::collections::HashMap;
use suspect_core::case;
use suspect_core::lock::Lock;
use suspect_core::series::{Entry, Event, Label, Piece, Series, Word, replay};
use suspect_store::machines::Machine;
use suspect_store::series::{SeriesError, SeriesRow};
use suspect_store::{Stamp, StoreError, Uuid};

/// A series with its log replayed.
pub struct OpenSeries {
    pub row: SeriesRow,
    pub log: Vec<Entry>,
    pub now: Series,
    pub machine: Machine,
    /// What locks the machine: nothing is printed on it then.
    pub lock: Option<Lock>,
    /// What the address names below the series: the label of a piece.
    below: HashMap<String, String>,
}

/// What became of a form.
pub enum Recorded {
    /// Stored, or stored before by the same form.
    Done(Response),
    /// It was not: why, for the page it came from.
    Not(String),
}

impl OpenSeries {
    /// Reads a series.
    ///
    /// # Errors
    /// When there is none, or the database cannot be reached.
    pub async fn read(state: &AppState, id: Uuid) -> Result<Self, PageError> {
        let (row, log) = state.store.series(id).await.map_err(|e| match e {
            StoreError::NotFound => PageError::NotFound("trial series"),
            other => other.into(),
        })?;
        let machine = state.store.machine(row.machine).await?;
        let k = &state.knowledge;
        let lock = state.store.lock_of(k, machine.id, Uuid::nil()).await?;
        Ok(OpenSeries {
            now: replay(&log),
            row,
            log,
            machine,
            lock,
            below: HashMap::new(),
        })
    }

    pub fn href(&self) -> String {
        urls::series(self.row.id)
    }

    /// A page or action below the series.
    pub fn below(&self, what: &str) -> String {
        format!("{}/{what}", self.href())
    }

    /// A page or action of a piece.
    pub fn of_piece(&self, label: Label, what: &str) -> String {
        match what {
            "" => self.below(&format!("pieces/{label}")),
            what => self.below(&format!("pieces/{label}/{what}")),
        }
    }

    /// The piece that the address names.
    ///
    /// # Errors
    /// When there is no such piece.
    pub fn piece(&self) -> Result<&Piece, PageError> {
        let label = self.below.get("piece").and_then(|l| Label::parse(l));
        let piece = label.and_then(|l| self.now.piece(l));
        piece.ok_or(PageError::NotFound("piece"))
    }

    /// Appends events and leads to `then`; what the series says of the causes of its case goes into
    /// that case's log.
    ///
    /// # Errors
    /// When the database cannot be reached, or the form was sent before with another content.
    pub async fn record(
        &self,
        state: &AppState,
        fields: &Fields,
        events: &[Event],
        then: &str,
    ) -> Result<Recorded, PageError> {
        let stamp = fields.stamp(state.now());
        let written = state
            .store
            .append_to_series(self.row.id, fields.seq(), events, stamp.clone())
            .await;
        match written {
            Ok(_) => {
                tell_case(state, self.row.id, stamp).await?;
                Ok(Recorded::Done(Redirect::to(then).into_response()))
            }
            Err(e) => not_recorded(e).map(Recorded::Not),
        }
    }
}

/// Why nothing was recorded, in words for the page.
///
/// # Errors
/// What is no fault of the form.
pub fn not_recorded(e: SeriesError) -> Result<String, PageError> {
    match e {
        SeriesError::Refused(refused) => Ok(show::sentence(&show::capital(&refused.to_string()))),
        SeriesError::Conflict(_) => Ok("Somebody else wrote to this series meanwhile. What you \
            entered stands here still: look at what is new, and send it again."
            .into()),
        SeriesError::Store(StoreError::OtherTouch) => Err(PageError::SentBefore {
            back: urls::TRIALS.into(),
        }),
        SeriesError::Store(e) => Err(e.into()),
    }
}

/// How often a case is told when others write to it meanwhile.
const TRIES: usize = 5;

/// Writes what a series says into the log of its case, when it has changed.
async fn tell_case(state: &AppState, id: Uuid, stamp: Stamp) -> Result<(), PageError> {
    let open = OpenSeries::read(state, id).await?;
    let Some(of_case) = open.row.case else {
        return Ok(());
    };
    let weight = open.now.weight(&state.workshop().await?.0);
    let k = &state.knowledge;
    let word = Word {
        series: id.to_string(),
        name: open.now.name.clone(),
        weight,
    };
    for _ in 0..TRIES {
        let log = state.store.case_log(of_case).await?;
        let before = log.iter().rev().find_map(|e| match &e.event {
            case::Event::Trialled(told) if told.series == word.series => Some(told),
            _ => None,
        });
        let nothing_yet = before.is_none() && word.weight.causes.is_empty();
        if nothing_yet || before == Some(&word) {
            return Ok(());
        }
        let event = case::Event::Trialled(word.clone());
        // The form's identity stands for what was written to the series.
        let stamp = Stamp {
            touch: None,
            ..stamp.clone()
        };
        let seq = log.last().map_or(0, |e| e.seq);
        match state.store.append(k, of_case, seq, &[event], stamp).await {
            // A closed case hears nothing more.
            Ok(_) | Err(StoreError::Refused(_)) => return Ok(()),
            Err(StoreError::Conflict { .. }) => {}
            Err(e) => return Err(e.into()),
        }
    }
    Ok(())
}

impl FromRequestParts<AppState> for OpenSeries {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Self, PageError> {
        let Path(below) = Path::<HashMap<String, String>>::from_request_parts(parts, state)
            .await
            .map_err(|_| PageError::BadAddress)?;
        let id = below.get("series").and_then(|id| id.parse().ok());
        let id: Uuid = id.ok_or(PageError::NotFound("trial series"))?;
        Ok(OpenSeries {
            below,
            ..OpenSeries::read(state, id).await?
        })
    }
}
