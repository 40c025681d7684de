//! Registering a browser as a shared station, and taking stations out of use.

use super::noted::{note, you};
use super::sign_in::broken;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::people::secret::fresh;
use crate::people::station::cookie;
use crate::state::AppState;
use crate::urls;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::{IntoResponse, Redirect};
use suspect_core::people::Changed;
use suspect_core::text;
use suspect_store::Uuid;
use tower_sessions::Session;

/// `POST /people/stations`: this browser becomes a station, and its keeper is signed out of it.
pub async fn add(State(state): State<AppState>, session: Session, fields: Fields) -> Answer {
    let name = text::trimmed(fields.get("name"));
    text::words(name, text::LONGEST_NAME).map_err(|e| PageError::Refused {
        message: crate::words::refusal::words_of("name", &e),
        back: urls::PEOPLE.into(),
    })?;
    let secret = fresh();
    let now = state.now();
    state.store.add_station(&secret, name, you(), now).await?;
    note(&state, Changed::Station, None, name).await?;
    session.flush().await.map_err(broken)?;
    let cookie = cookie(Some(&secret), state.https).ok_or(PageError::Broken)?;
    let to = Redirect::to(urls::STATION);
    Ok(([(header::SET_COOKIE, cookie)], to).into_response())
}

/// `POST /people/stations/{station}`: whoever is signed in there is out at once.
pub async fn revoke(State(state): State<AppState>, Path(id): Path<String>) -> Answer {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("station"))?;
    let all = state.store.stations().await?;
    let station = all.iter().find(|s| s.id == id);
    let station = station.ok_or(PageError::NotFound("station"))?;
    state.store.revoke_station(id, state.now()).await?;
    note(&state, Changed::Revoked, None, &station.name).await?;
    Ok(Redirect::to(urls::PEOPLE).into_response())
}
