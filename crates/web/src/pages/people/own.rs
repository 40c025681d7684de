//! One's own page: sessions, a new passphrase, what is kept of a person.

use super::sign_in::broken;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::people::secret::{hash, is_right, turn};
use crate::people::sessions::{SIGNED, Signed};
use crate::state::AppState;
use crate::{screen, show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::people::{Deed, Role, Strength, strength};
use suspect_store::Uuid;
use tower_sessions::Session;

struct SessionLine {
    browser: String,
    address: String,
    began: String,
    used: String,
}

#[derive(Template)]
#[template(path = "people/own.html")]
struct OwnPage {
    name: String,
    role: &'static str,
    may: String,
    sessions: Vec<SessionLine>,
    pin: bool,
    /// Since when feeds have addresses.
    feeds: Option<String>,
    /// Addresses made just now.
    made: Option<Vec<(String, &'static str)>>,
    errors: Errors,
}

/// Who signed in with their passphrase; at a shared station nobody gets so far.
pub(super) fn member() -> Result<(Uuid, String, Role), PageError> {
    if screen::with_present(|p| p.station.is_some()).unwrap_or(false) {
        return Err(PageError::Refused {
            message: "This is a shared station: your own page opens where you sign in with your \
                      passphrase."
                .into(),
            back: urls::FLOOR.into(),
        });
    }
    let of = |p: &crate::people::Present| p.member.as_ref().map(|m| (m.id, m.name.clone(), m.role));
    screen::with_present(of)
        .flatten()
        .ok_or(PageError::NotFound(
            "member: one person works here, without signing in",
        ))
}

/// One's own page, with addresses that were made just now.
pub(super) async fn page(
    state: &AppState,
    made: Option<Vec<(String, &'static str)>>,
    errors: Errors,
) -> Result<String, PageError> {
    let (id, name, role) = member()?;
    let rows = state.store.sessions_of(id, state.now()).await?;
    let line = |row: suspect_store::people::SessionRow| {
        let signed = row.data.get(SIGNED)?.clone();
        let signed: Signed = serde_json::from_value(signed).ok()?;
        Some(SessionLine {
            browser: signed.browser,
            address: signed.address,
            began: show::moment(signed.began),
            used: show::since(signed.used),
        })
    };
    let deeds = Deed::ALL.into_iter().filter(|d| role.may(*d));
    let deeds: Vec<&str> = deeds.map(Deed::words).collect();
    let page = OwnPage {
        name,
        role: role.words(),
        may: deeds.join("; "),
        sessions: rows.into_iter().filter_map(line).collect(),
        pin: screen::with_present(|p| p.member.as_ref().is_some_and(|m| m.pin)).unwrap_or(false),
        feeds: state.store.feed_since(id).await?.map(show::date),
        made,
        errors,
    };
    Ok(page.render()?)
}

/// `GET /me`
pub async fn show(State(state): State<AppState>) -> Page {
    Ok(Html(page(&state, None, Errors::new()).await?))
}

/// `POST /me/sessions`: all of one's sessions end, this one too.
pub async fn everywhere(State(state): State<AppState>, session: Session) -> Answer {
    let (id, ..) = member()?;
    let ended = state.store.sign_out_everywhere(id).await;
    ended.map_err(super::members::told)?;
    session.flush().await.map_err(broken)?;
    Ok(Redirect::to(urls::SIGN_IN).into_response())
}

/// `POST /me/passphrase`: a new one, for whoever knows the old one. All sessions end.
pub async fn passphrase(State(state): State<AppState>, session: Session, fields: Fields) -> Answer {
    let (id, name, _) = member()?;
    let sent = |field: &str| fields.sent(field).unwrap_or_default().to_string();
    let mut errors = Errors::new();
    let turn = turn().await?;
    let kept = state.store.secret(&name).await?;
    if !is_right(&turn, sent("old_one"), kept.map(|k| k.hash)).await {
        let words = "That is not your present passphrase.";
        errors.insert("old_one".into(), words.into());
    } else if let Strength::Weak(why) = strength(&sent("new_one"), &[&name]) {
        errors.insert("new_one".into(), show::sentence(why));
    }
    if !errors.is_empty() {
        return Ok(again(page(&state, None, errors).await?));
    }
    let hash = hash(&turn, sent("new_one")).await?;
    let kept = state.store.set_secret(id, hash).await;
    kept.map_err(super::members::told)?;
    session.flush().await.map_err(broken)?;
    Ok(Redirect::to(urls::SIGN_IN).into_response())
}
