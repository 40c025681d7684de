//! What was read of a piece: into the machine's log, and as evidence into the case.

use super::files::known;
use super::show::refused;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::state::AppState;
use crate::{show, urls};
use axum::extract::{Path, State};
use axum::response::{IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::case::Event;
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{FeatureRead, MachineEvent};
use suspect_pieces::sheets::{Sheet, sheet};
use suspect_store::{Stamp, StoreError, Touch, Uuid};

/// Minutes a check takes that is read off a piece.
const MINUTES: f64 = 2.0;

/// What a form says of each feature.
///
/// # Errors
/// A grade that is none.
fn features(sheet: &Sheet, fields: &Fields) -> Result<BTreeMap<String, FeatureRead>, String> {
    let mut read = BTreeMap::new();
    for feature in &sheet.features {
        let said = fields.get(&format!("f.{}", feature.id));
        let grade = match fields.given(&format!("g.{}", feature.id)) {
            None => None,
            Some(text) => match text.trim().parse::<u8>() {
                Ok(grade @ 0..=5) => Some(grade),
                _ => {
                    return Err(format!(
                        "“{text}” is no grade: 0 to 5, 5 is the kept piece."
                    ));
                }
            },
        };
        let known = said == "normal" || feature.reading(said).is_some();
        if known || grade.is_some() {
            let said = if known {
                said.to_owned()
            } else {
                String::new()
            };
            read.insert(feature.id.clone(), FeatureRead { said, grade });
        }
    }
    Ok(read)
}

/// What the readings say of a case: a deviation is seen, what looks normal is not there.
fn events(k: &Knowledge, sheet: &Sheet, read: &BTreeMap<String, FeatureRead>) -> Vec<Event> {
    let mut events: Vec<Event> = Vec::new();
    let observed = |finding: &str, state: &str| Event::Observed {
        finding: finding.to_owned(),
        state: state.to_owned(),
        confidence: Confidence::Sure,
        asked: false,
    };
    let mut seen: Vec<&str> = Vec::new();
    let deviations = read
        .iter()
        .filter_map(|(id, r)| sheet.feature(id)?.reading(&r.said));
    for reading in deviations {
        match (
            &reading.finding,
            &reading.state,
            &reading.check,
            &reading.outcome,
        ) {
            (Some(finding), Some(state), ..) => {
                seen.push(finding);
                events.push(observed(finding, state));
            }
            (_, _, Some(check), Some(outcome)) => events.push(Event::Checked {
                check: check.clone(),
                outcome: outcome.clone(),
                confidence: Confidence::Sure,
                minutes: MINUTES,
            }),
            _ => {}
        }
    }
    let normal = read.iter().filter(|(_, r)| r.said == "normal");
    for (finding, state) in normal
        .filter_map(|(id, _)| sheet.feature(id))
        .flat_map(|f| f.denied(k))
    {
        // What one feature shows is not denied by another that looks well.
        let said = events
            .iter()
            .any(|e| matches!(e, Event::Observed { finding: f, .. } if *f == finding));
        if !seen.contains(&finding.as_str()) && !said {
            events.push(observed(&finding, &state));
        }
    }
    events
}

/// `POST /pieces/{piece}`
pub async fn record(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Answer {
    let piece = known(&id)?;
    let sheet = sheet(piece.id).ok_or(PageError::NotFound("reading sheet"))?;
    let k = &state.knowledge;
    let read = match features(sheet, &fields) {
        Ok(read) if read.is_empty() => {
            let why = "Nothing was read yet: choose for at least one feature.".to_owned();
            return refused(&state, piece, &fields, why).await;
        }
        Ok(read) => read,
        Err(why) => return refused(&state, piece, &fields, why).await,
    };
    let Ok(machine) = fields.get("machine").parse::<Uuid>() else {
        let why = "On which machine was it printed?".to_owned();
        return refused(&state, piece, &fields, why).await;
    };
    let stamp = fields.stamp(state.now());
    let event = MachineEvent::PieceRead {
        piece: piece.id.to_owned(),
        fast: fields.get("speed") == "fast",
        spool: fields.get("spool").trim().to_owned(),
        features: read.clone(),
    };
    match state
        .store
        .append_to_machine(k, machine, None, &event, stamp.clone())
        .await
    {
        Ok(()) => {}
        Err(StoreError::Refused(why)) => {
            let why = show::sentence(&show::capital(&why.to_string()));
            return refused(&state, piece, &fields, why).await;
        }
        Err(e) => return Err(e.into()),
    }
    let Some(case) = fields.given("case").and_then(|id| id.parse::<Uuid>().ok()) else {
        let then = format!("{}?machine={machine}", urls::piece(piece.id));
        return Ok(Redirect::to(&then).into_response());
    };
    heard_by(&state, case, &events(k, sheet, &read), stamp).await
}

/// What was read as evidence of a case.
async fn heard_by(state: &AppState, case: Uuid, events: &[Event], stamp: Stamp) -> Answer {
    if events.is_empty() {
        return Ok(Redirect::to(&urls::case(case)).into_response());
    }
    let seq = state.store.case_row(case).await?.last_seq;
    // The machine's log has the form's identity; the case has the one beside it, so that the same
    // form sent twice counts once there too.
    let touch = stamp.touch.map(|t| Touch {
        id: Uuid::from_u128(t.id.as_u128() ^ 1),
        after: t.after,
    });
    let own = Stamp { touch, ..stamp };
    match state
        .store
        .append(&state.knowledge, case, seq, events, own)
        .await
    {
        Ok(_) => Ok(Redirect::to(&urls::case(case)).into_response()),
        Err(StoreError::Refused(why)) => Err(PageError::Refused {
            message: format!(
                "{} What was read stands in the machine's log.",
                show::sentence(&show::capital(&why.to_string()))
            ),
            back: urls::case(case),
        }),
        Err(e) => Err(e.into()),
    }
}
