//! The way in at a shared station: one's name, and a short PIN.

use super::members::told;
use super::sign_in::signed_in;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::people::secret::{is_right, turn};
use crate::state::AppState;
use crate::{screen, urls};
use askama::Template;
use axum::extract::{RawQuery, State};
use axum::http::HeaderMap;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::people::{PIN_DIGITS, PIN_TRIES};
use suspect_store::Uuid;
use suspect_store::people::Station;
use tower_sessions::Session;

#[derive(Template)]
#[template(path = "people/station.html")]
struct StationPage {
    station: String,
    /// Who may sign in here: where each does, and the name.
    people: Vec<(String, String)>,
    /// Where another is chosen.
    others: String,
    /// Who is about to.
    chosen: Option<(Uuid, String)>,
    next: String,
    problem: Option<String>,
    digits: usize,
}

/// The station that this browser is.
fn here() -> Result<Station, PageError> {
    let station = screen::with_present(|p| p.station.clone()).flatten();
    station.ok_or(PageError::NotFound("station: this browser is none"))
}

async fn page(
    state: &AppState,
    chosen: &str,
    next: &str,
    problem: Option<String>,
) -> Result<String, PageError> {
    let station = here()?;
    let members = state.store.members().await?;
    let some = members.into_iter().filter(|m| !m.left && m.pin);
    let next = urls::ours(next);
    let people: Vec<(Uuid, String)> = some.map(|m| (m.id, m.name)).collect();
    let page = StationPage {
        station: station.name,
        chosen: people
            .iter()
            .find(|(id, _)| id.to_string() == chosen)
            .cloned(),
        others: urls::with(urls::STATION, &[("next", next.clone())]),
        people: people
            .into_iter()
            .map(|(id, name)| {
                let asked = [("who", id.to_string()), ("next", next.clone())];
                (urls::with(urls::STATION, &asked), name)
            })
            .collect(),
        next,
        problem,
        digits: PIN_DIGITS.1,
    };
    Ok(page.render()?)
}

/// `GET /station?next=…&who=…`
pub async fn form(State(state): State<AppState>, RawQuery(query): RawQuery) -> Page {
    let fields = Fields::of_query(query);
    Ok(Html(
        page(&state, fields.get("who"), fields.get("next"), None).await?,
    ))
}

/// `POST /station`
pub async fn sign_in(
    State(state): State<AppState>,
    session: Session,
    headers: HeaderMap,
    fields: Fields,
) -> Answer {
    let (who, next) = (fields.get("who"), fields.get("next"));
    let station = here()?;
    let id: Uuid = who.parse().map_err(|_| PageError::NotFound("member"))?;
    // Taken before counting: many that arrive at once are counted one after the other.
    let turn = turn().await?;
    let tries = state.store.pin_tries(station.id, id).await.map_err(told)?;
    if tries.wrong >= PIN_TRIES {
        let problem = format!(
            "Wrong {PIN_TRIES} times at this station. Sign in once elsewhere with your passphrase: \
             that frees your PIN."
        );
        return Ok(again(page(&state, who, next, Some(problem)).await?));
    }
    let pin = fields.sent("pin").unwrap_or_default().to_string();
    let right = is_right(&turn, pin, tries.hash).await;
    state.store.pin_tried(station.id, id, right).await?;
    if !right {
        let left = PIN_TRIES - tries.wrong - 1;
        let tries = if left == 1 { "try is" } else { "tries are" };
        let problem = format!("That is not the PIN: {left} {tries} left.");
        return Ok(again(page(&state, who, next, Some(problem)).await?));
    }
    let from = format!("station {}", station.name);
    signed_in(&state, &session, (id, from, Some(station.id)), &headers).await?;
    Ok(Redirect::to(&urls::ours(next)).into_response())
}
