//! The guard before every page: who is there, and whether they may. Nothing is merely hidden.

use super::Present;
use super::deeds::{deed, open};
use super::sessions::{SIGNED, signed};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{screen, urls};
use axum::extract::{MatchedPath, Request, State};
use axum::http::Method;
use axum::middleware::Next;
use axum::response::{IntoResponse, Redirect, Response};
use suspect_core::people::{ended, renewed};
use suspect_store::StoreError;
use tower_sessions::Session;

/// Lets a request pass to its page, or says why not.
pub async fn guard(State(state): State<AppState>, request: Request, next: Next) -> Response {
    let session = request.extensions().get::<Session>().cloned();
    let present = match present(&state, session).await {
        Ok(present) => present,
        Err(e) => return PageError::from(e).into_response(),
    };
    let refused = refusal(&state, &present, &request);
    screen::present(present);
    match refused {
        None => next.run(request).await,
        Some(refused) => refused,
    }
}

/// Who is there.
async fn present(state: &AppState, session: Option<Session>) -> Result<Present, StoreError> {
    let members = state.store.members().await?;
    if members.iter().all(|m| m.left) {
        return Ok(Present {
            alone: !state.for_strangers,
            ..Present::of(members, None, None)
        });
    }
    let Some(session) = session else {
        return Ok(Present::of(members, None, None));
    };
    let Some(mut signed) = signed(&session).await else {
        return Ok(Present::of(members, None, None));
    };
    let now = state.now();
    let present = Present::of(members, Some(signed.member), Some(signed.stamp));
    if present.member.is_none() || ended(signed.began, signed.used, now) {
        // What a stolen cookie leads to after its owner signed out: nothing.
        let _ = session.flush().await;
        return Ok(Present {
            member: None,
            ..present
        });
    }
    if renewed(signed.used, now) {
        signed.used = now;
        let _ = session.insert(SIGNED, &signed).await;
    }
    Ok(present)
}

/// Why a request does not pass.
fn refusal(state: &AppState, present: &Present, request: &Request) -> Option<Response> {
    let pattern = request.extensions().get::<MatchedPath>();
    let pattern = pattern.map_or("", MatchedPath::as_str);
    if present.alone || open(pattern) {
        return None;
    }
    let (method, path) = (request.method(), request.uri().path());
    if present.member.is_none() {
        return Some(stranger(present, request));
    }
    let deed = deed(&state.knowledge, method, pattern, path);
    match present.may(deed) {
        true => None,
        false => Some(
            PageError::MayNot {
                deed,
                who: present.who_may(deed),
            }
            .into_response(),
        ),
    }
}

/// Nobody signed in: to the way in, and back from there; a form is not sent on to another page.
fn stranger(present: &Present, request: &Request) -> Response {
    if present.roles.is_empty() {
        return PageError::NoKeeper.into_response();
    }
    match *request.method() {
        Method::GET | Method::HEAD => {
            let here = request.uri().path_and_query().map_or("/", |p| p.as_str());
            let to = urls::with(urls::SIGN_IN, &[("next", here.to_string())]);
            Redirect::to(&to).into_response()
        }
        _ => PageError::SignedOut.into_response(),
    }
}
