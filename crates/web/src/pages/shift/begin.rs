//! Who is there, and for how long.

use super::evening::{FIRST, here};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::state::AppState;
use crate::words::refusal;
use crate::{screen, urls};
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_core::people::{Role, author};
use suspect_core::settings::read_number;
use suspect_core::shift::{MOST_PEOPLE, Shift, ShiftEvent, Who};
use suspect_store::{StoreError, Uuid};
use time::Duration;

/// `POST /shift`: begins an evening, or tells anew who is there.
pub async fn begin(State(state): State<AppState>, fields: Fields) -> Answer {
    let minutes =
        read_number("minutes", fields.get("minutes")).map_err(|e| PageError::Refused {
            message: refusal::number(&e),
            back: urls::SHIFT.into(),
        })?;
    let people = people(&state, &fields).await?;
    let now = state.now();
    let event = ShiftEvent::Begun {
        people,
        until: now + Duration::seconds_f64((minutes * 60.0).clamp(0.0, 1e6)),
        minutes,
    };
    let id = fields.get("shift").parse();
    write(
        &state,
        &fields,
        id.unwrap_or_else(|_| Uuid::now_v7()),
        event,
    )
    .await?;
    Ok(Redirect::to(urls::SHIFT).into_response())
}

/// Who is there, as the form says: members who may do something, or so many pairs of hands.
async fn people(state: &AppState, fields: &Fields) -> Result<Vec<Who>, PageError> {
    if screen::signs_in() {
        let members = state.store.members().await?;
        let there = members.into_iter().filter(|m| !m.left).map(|m| Who {
            by: author(&m.id.to_string()),
            role: m.role,
        });
        let named = |who: &Who| fields.all("people").any(|by| by == who.by);
        return Ok(there.filter(named).collect());
    }
    let hands = read_number("people", fields.get("hands")).unwrap_or(1.0);
    let hands = (hands.clamp(1.0, MOST_PEOPLE as f64)) as usize;
    let first = here();
    let of = |n: usize| match n {
        1 => first.by.clone(),
        n => format!("{} {n}", FIRST.trim_end_matches(" 1")),
    };
    let each = (1..=hands).map(|n| Who {
        by: of(n),
        role: Role::Keeper,
    });
    Ok(each.collect())
}

/// Writes to an evening; what is refused is said on a page of its own.
pub(super) async fn write(
    state: &AppState,
    fields: &Fields,
    id: Uuid,
    event: ShiftEvent,
) -> Result<(), PageError> {
    let (k, stamp) = (&state.knowledge, fields.stamp(state.now()));
    let store = &state.store;
    let events = [event];
    let written = store.append_to_thing::<Shift>(k, id, fields.seq(), &events, stamp);
    match written.await {
        Ok(_) => Ok(()),
        Err(StoreError::Refused(refused)) => Err(PageError::Refused {
            message: refusal::refusal(k, &refused),
            back: urls::SHIFT.into(),
        }),
        Err(e) => Err(e.into()),
    }
}
