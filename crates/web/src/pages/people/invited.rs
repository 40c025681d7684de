//! The page a link leads to that lets somebody in once.

use super::noted::note_by;
use super::sign_in::signed_in;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::people::peer::Peer;
use crate::people::secret::{hash, turn};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::HeaderMap;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::people::{Changed, MemberProblem, Strength, strength};
use suspect_store::people::{Invited, PeopleError};
use tower_sessions::Session;

#[derive(Template)]
#[template(path = "people/invited.html")]
struct InvitedPage {
    action: String,
    role: &'static str,
    /// The member who forgot the passphrase.
    known: Option<String>,
    name: String,
    errors: Errors,
}

/// What a member gets to read of a problem.
pub(super) fn refused(e: PeopleError) -> Result<MemberProblem, PageError> {
    match e {
        PeopleError::Member(problem) => Ok(problem),
        PeopleError::Store(e) => Err(e.into()),
    }
}

async fn invited(state: &AppState, secret: &str) -> Result<Invited, PageError> {
    let invited = state.store.invited(secret, state.now()).await;
    match invited.map_err(refused) {
        Ok(invited) => Ok(invited),
        Err(Ok(_)) => Err(PageError::NoSuchLink),
        Err(Err(e)) => Err(e),
    }
}

fn page(
    secret: &str,
    invited: &Invited,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let page = InvitedPage {
        action: format!("/invited/{secret}"),
        role: invited.role.words(),
        known: invited.member.as_ref().map(|(_, name)| name.clone()),
        name: fields.get("name").to_string(),
        errors,
    };
    Ok(page.render()?)
}

/// `GET /invited/{secret}`: looking at it takes nothing.
pub async fn form(State(state): State<AppState>, Path(secret): Path<String>) -> Page {
    let invited = invited(&state, &secret).await?;
    let html = page(&secret, &invited, &Fields::default(), Errors::new())?;
    Ok(Html(html))
}

/// `POST /invited/{secret}`
pub async fn take(
    State(state): State<AppState>,
    Path(secret): Path<String>,
    session: Session,
    peer: Peer,
    headers: HeaderMap,
    fields: Fields,
) -> Answer {
    let invited = invited(&state, &secret).await?;
    let passphrase = fields.sent("passphrase").unwrap_or_default();
    let known = invited.member.as_ref().map(|(_, name)| name.as_str());
    let name = known.unwrap_or(fields.get("name"));
    let mut errors = Errors::new();
    if let Strength::Weak(why) = strength(passphrase, &[name]) {
        errors.insert("passphrase".into(), show::sentence(why));
        return Ok(again(page(&secret, &invited, &fields, errors)?));
    }
    let hash = hash(&turn().await?, passphrase.to_string()).await?;
    let taken = state
        .store
        .take_invitation(&secret, name, hash, state.now())
        .await;
    match taken.map_err(refused) {
        Ok(member) => {
            let what = match invited.member {
                Some(_) => Changed::Passphrase,
                None => Changed::Joined,
            };
            note_by(&state, Some(member), what, (Some(member), "")).await?;
            signed_in(&state, &session, (member, peer.text(), None), &headers).await?;
            Ok(Redirect::to(urls::FLOOR).into_response())
        }
        Err(Err(e)) => Err(e),
        Err(Ok(MemberProblem::Invitation | MemberProblem::Gone)) => Err(PageError::NoSuchLink),
        Err(Ok(problem)) => {
            let words = show::sentence(&problem.to_string());
            errors.insert("name".into(), words);
            Ok(again(page(&secret, &invited, &fields, errors)?))
        }
    }
}
