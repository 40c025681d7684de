//! Somebody takes something, hands it over with a word, leaves it for another day.

use super::begin::write;
use super::evening::{current, here};
use super::tasks::tasks;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::state::AppState;
use crate::{screen, urls};
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use suspect_core::people::{Deed, Role};
use suspect_core::shift::{JobId, ShiftEvent, Who};
use suspect_store::Uuid;
use time::Duration;

/// `POST /shift/say`
pub async fn say(State(state): State<AppState>, fields: Fields) -> Answer {
    let job: JobId = fields
        .get("job")
        .parse()
        .map_err(|_| PageError::NotFound("piece of work"))?;
    let you = here();
    let event = match fields.get("say") {
        "take" => {
            may_take(&state, &job, you.role).await?;
            ShiftEvent::Took {
                job: job.clone(),
                who: you.by.clone(),
            }
        }
        "over" => ShiftEvent::HandedOver {
            job: job.clone(),
            to: fields.given("to").map(str::to_string),
            word: fields.get("word").trim().to_string(),
        },
        "later" => ShiftEvent::NotTonight {
            job: job.clone(),
            word: fields.get("word").trim().to_string(),
        },
        "again" => ShiftEvent::Again { job: job.clone() },
        _ => return Err(PageError::NotAForm),
    };
    let id = shift(&state, &fields, you).await?;
    write(&state, &fields, id, event).await?;
    let back = format!("{}#{}", urls::SHIFT, job.to_string().replace('/', "-"));
    Ok(Redirect::to(&back).into_response())
}

/// Nobody takes what they may not do.
async fn may_take(state: &AppState, job: &JobId, role: Role) -> Result<(), PageError> {
    let all = tasks(state).await?.all;
    let task = all.iter().find(|t| t.id == *job);
    let needs = task.ok_or(PageError::NotFound("piece of work"))?.needs;
    match needs.met_by(role) {
        true => Ok(()),
        false => Err(may_not(needs.deed)),
    }
}

fn may_not(deed: Deed) -> PageError {
    PageError::MayNot {
        deed,
        who: screen::with_present(|p| p.who_may(deed)).unwrap_or_default(),
        wrote: Vec::new(),
    }
}

/// The evening that goes on. Whoever speaks first without having begun one begins it, alone.
async fn shift(state: &AppState, fields: &Fields, you: Who) -> Result<Uuid, PageError> {
    if let Some(shift) = current(state).await? {
        return Ok(shift.id);
    }
    let id = fields
        .get("shift")
        .parse()
        .unwrap_or_else(|_| Uuid::now_v7());
    let minutes = super::evening::USUAL_MINUTES;
    let event = ShiftEvent::Begun {
        people: vec![you],
        until: state.now() + Duration::seconds_f64(minutes * 60.0),
        minutes,
    };
    let none = Fields::default();
    write(state, &none, id, event).await?;
    Ok(id)
}
