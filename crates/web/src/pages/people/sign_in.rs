//! Signing in and out.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::people::peer::Peer;
use crate::people::secret::{is_right, turn};
use crate::people::sessions::{SIGNED, Signed};
use crate::state::AppState;
use crate::{screen, show, urls};
use askama::Template;
use axum::extract::State;
use axum::http::{HeaderMap, header};
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::people::wait;
use suspect_core::text::LONGEST_NAME;
use suspect_store::Uuid;
use tower_sessions::Session;

/// Said whichever of the two was wrong: nobody learns which names there are.
const WRONG: &str = "Name and passphrase do not belong together. A keeper can send you a link for \
    a new passphrase.";
/// Longest text of a browser that is kept.
const LONGEST_BROWSER: usize = 120;

#[derive(Template)]
#[template(path = "people/sign_in.html")]
struct SignInPage {
    name: String,
    next: String,
    problem: Option<String>,
}

fn page(name: &str, next: &str, problem: Option<String>) -> Result<String, PageError> {
    let page = SignInPage {
        name: name.chars().take(LONGEST_NAME).collect(),
        next: urls::ours(next),
        problem,
    };
    Ok(page.render()?)
}

/// `GET /sign-in?next=…`
pub async fn form(axum::extract::RawQuery(query): axum::extract::RawQuery) -> Page {
    let fields = Fields::of_query(query);
    Ok(Html(page("", fields.get("next"), None)?))
}

/// `POST /sign-in`
pub async fn sign_in(
    State(state): State<AppState>,
    session: Session,
    peer: Peer,
    headers: HeaderMap,
    fields: Fields,
) -> Answer {
    let (name, next) = (fields.get("name"), fields.get("next"));
    let name: String = name.chars().take(LONGEST_NAME).collect();
    let (address, now) = (peer.text(), state.now());
    let turn = turn().await?;
    let before = state.store.guesses(&name, &address, now).await?;
    if let Some(left) = wait(before, now) {
        let minutes = show::minutes((left.as_seconds_f64() / 60.0).ceil());
        let problem = format!(
            "Too many guesses: wait {minutes}. Whoever signed in from elsewhere before is not held \
             up by this."
        );
        return Ok(again(page(&name, next, Some(problem))?));
    }
    let kept = state.store.secret(&name).await?;
    let member = kept.as_ref().map(|k| k.member);
    let passphrase = fields.sent("passphrase").unwrap_or_default().to_string();
    let right = is_right(&turn, passphrase, kept.map(|k| k.hash)).await;
    state.store.guessed(&name, &address, right, now).await?;
    match member.filter(|_| right) {
        None => Ok(again(page(&name, next, Some(WRONG.into()))?)),
        Some(member) => {
            state.store.free_pin(member).await?;
            signed_in(&state, &session, (member, address, None), &headers).await?;
            Ok(Redirect::to(&urls::ours(next)).into_response())
        }
    }
}

/// Makes the session that of a member, under a new number: whoever knew the old one has nothing.
pub(super) async fn signed_in(
    state: &AppState,
    session: &Session,
    (member, address, station): (Uuid, String, Option<Uuid>),
    headers: &HeaderMap,
) -> Result<(), PageError> {
    let known = state.store.present_member(member).await?;
    let known = known.ok_or(PageError::SignedOut(Vec::new()))?;
    let browser = headers.get(header::USER_AGENT);
    let browser = browser.and_then(|b| b.to_str().ok()).unwrap_or_default();
    let now = state.now();
    let signed = Signed {
        member,
        stamp: known.stamp,
        began: now,
        used: now,
        browser: browser.chars().take(LONGEST_BROWSER).collect(),
        address,
        station,
    };
    session.cycle_id().await.map_err(broken)?;
    session.insert(SIGNED, &signed).await.map_err(broken)?;
    Ok(())
}

pub(super) fn broken(e: tower_sessions::session::Error) -> PageError {
    tracing::error!("session: {e}");
    PageError::Unavailable
}

/// `POST /sign-out`
pub async fn sign_out(session: Session) -> Answer {
    session.flush().await.map_err(broken)?;
    let station = screen::with_present(|p| p.station.is_some()).unwrap_or(false);
    let to = if station {
        urls::STATION
    } else {
        urls::SIGN_IN
    };
    Ok(Redirect::to(to).into_response())
}
