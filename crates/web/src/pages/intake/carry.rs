//! Facts taken over: from the machine's last case, or from one that looked the same.

use super::carried::last_case;
use super::scene::touch;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use axum::extract::State;
use suspect_core::case::{Event, answers, replay};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::FindingId;
use suspect_core::similar::{Answers, copied};
use suspect_store::Uuid;

/// `POST /cases/{id}/carry`: still the spool and settings of the machine's last case.
pub async fn carry(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let last = last_case(&state, case.row.machine_id, Some(case.id)).await?;
    let events = last.map(|last| last.kept.beyond(&case.state).events(&case.state));
    let events = events.unwrap_or_default();
    touch(&state, &case, &fields, "carry", &events).await
}

/// `POST /cases/{id}/same`: same as an earlier case in what is ticked; of its signs, behaviours and
/// pattern nothing is taken over unasked.
pub async fn same(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let k = &state.knowledge;
    let other: Uuid = fields
        .get("as")
        .parse()
        .map_err(|_| PageError::NotFound("case"))?;
    let then: Answers = answers(k, &replay(k, &state.store.case_log(other).await?));
    let number = state.store.case_row(other).await?.number;
    let fits = |f: &FindingId| k.finding(*f).fits(&case.state.facts.context);
    let copies = copied(k, &answers(k, &case.state), &then).into_iter();
    let mut events: Vec<Event> = copies
        .filter(|(f, _)| fits(f) && fields.all("take").any(|id| id == k.finding(*f).id))
        .map(|(f, s)| Event::Observed {
            finding: k.finding(f).id.clone(),
            state: s,
            confidence: Confidence::Sure,
            asked: false,
        })
        .collect();
    if !events.is_empty() {
        let case = other.to_string();
        events.insert(0, Event::SameAs { case, number });
    }
    touch(&state, &case, &fields, "same", &events).await
}
