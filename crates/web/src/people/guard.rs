//! The guard before every page: who is there, and whether they may. Nothing is merely hidden.

use super::Present;
use super::deeds::{deed, open};
use super::sessions::{SIGNED, signed};
use super::station::secret;
use crate::form::LARGEST_FORM;
use crate::page_error::PageError;
use crate::screen::{self, Marks};
use crate::state::AppState;
use crate::urls;
use axum::extract::{MatchedPath, Request, State};
use axum::http::{Method, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Redirect, Response};
use suspect_core::people::{ended, ended_at_station, renewed, renewed_at_station};
use suspect_store::StoreError;
use tower_sessions::Session;

/// Addresses of feeds, as the routes have them.
const FEEDS: &str = "/feeds/{secret}/";

/// Lets a request pass to its page, or says why not.
pub async fn guard(State(state): State<AppState>, request: Request, next: Next) -> Response {
    let session = request.extensions().get::<Session>().cloned();
    let cookie = secret(request.headers());
    let present = match present(&state, session, cookie).await {
        Ok(present) => present,
        Err(e) => return PageError::from(e).into_response(),
    };
    let feed = feed_secret(&request);
    let present = match by_feed(&state, feed, &present).await {
        Ok(Some(present)) => present,
        Ok(None) => present,
        Err(e) => return e.into_response(),
    };
    let refused = refusal(&state, &present, &request);
    if refused.is_none() && request.method() == Method::GET {
        screen::mark(marks(&state).await);
    }
    screen::present(present);
    match refused {
        None => next.run(request).await,
        Some(barred) => barred.answer(wrote(request).await),
    }
}

/// What the rail marks; nothing where the database does not say.
async fn marks(state: &AppState) -> Marks {
    let (stops, waits) = state.store.attention(state.now()).await.unwrap_or_default();
    Marks { stops, waits }
}

/// The secret in the address of a feed.
fn feed_secret(request: &Request) -> Option<String> {
    let pattern = request.extensions().get::<MatchedPath>()?;
    let path = request.uri().path();
    let secret = pattern
        .as_str()
        .starts_with(FEEDS)
        .then(|| path.split('/').nth(2));
    secret.flatten().map(str::to_string)
}

/// Whoever has a secret address of a feed reads that feed, as its member, and nothing else.
async fn by_feed(
    state: &AppState,
    secret: Option<String>,
    present: &Present,
) -> Result<Option<Present>, PageError> {
    let Some(secret) = secret else {
        return Ok(None);
    };
    let member = state.store.feed_of(&secret).await?;
    let members = state.store.members().await?;
    let stamp = members
        .iter()
        .find(|m| Some(m.id) == member)
        .map(|m| m.stamp);
    let reads = Present::of(members, member, stamp);
    match reads.member {
        Some(_) => Ok(Some(Present {
            alone: present.alone,
            ..reads
        })),
        None => Err(PageError::NoSuchLink),
    }
}

/// Who is there.
async fn present(
    state: &AppState,
    session: Option<Session>,
    cookie: Option<String>,
) -> Result<Present, StoreError> {
    let members = state.store.members().await?;
    if members.iter().all(|m| m.left || !m.able) {
        return Ok(Present {
            alone: !state.for_strangers,
            ..Present::of(members, None, None)
        });
    }
    let station = match cookie {
        Some(secret) => state.store.station(&secret).await?,
        None => None,
    };
    let nobody = |members| Present {
        station: station.clone(),
        ..Present::of(members, None, None)
    };
    let Some(session) = session else {
        return Ok(nobody(members));
    };
    let Some(mut signed) = signed(&session).await else {
        return Ok(nobody(members));
    };
    let now = state.now();
    let present = Present {
        station: station.clone(),
        ..Present::of(members, Some(signed.member), Some(signed.stamp))
    };
    // A session of a station holds at that station alone, and while it is one.
    let elsewhere = signed.station != station.as_ref().map(|s| s.id);
    let over = match signed.station {
        Some(_) => ended_at_station(signed.began, signed.used, now),
        None => ended(signed.began, signed.used, now),
    };
    if present.member.is_none() || elsewhere || over {
        // What a stolen cookie leads to after its owner signed out: nothing.
        let _ = session.flush().await;
        return Ok(Present {
            member: None,
            ..present
        });
    }
    let again = match signed.station {
        Some(_) => renewed_at_station(signed.used, now),
        None => renewed(signed.used, now),
    };
    if again {
        signed.used = now;
        let _ = session.insert(SIGNED, &signed).await;
    }
    Ok(present)
}

/// What stands in the way of a request.
enum Barred {
    /// The way in.
    To(String),
    /// Why it does not pass.
    By(PageError),
}

impl Barred {
    /// The answer; what was written in a form stays with it.
    fn answer(self, written: Vec<String>) -> Response {
        match self {
            Barred::To(address) => Redirect::to(&address).into_response(),
            Barred::By(PageError::MayNot { deed, who, .. }) => PageError::MayNot {
                deed,
                who,
                wrote: written,
            }
            .into_response(),
            Barred::By(PageError::SignedOut(_)) => PageError::SignedOut(written).into_response(),
            Barred::By(other) => other.into_response(),
        }
    }
}

/// Fewer characters are no text that anybody would miss.
const LEAST_WRITTEN: usize = 8;

/// What a person wrote in a form that does not pass: its texts, no secrets.
async fn wrote(request: Request) -> Vec<String> {
    let kind = request.headers().get(header::CONTENT_TYPE);
    let form = kind.is_some_and(|k| {
        k.as_bytes()
            .starts_with(b"application/x-www-form-urlencoded")
    });
    if !form {
        return Vec::new();
    }
    let body = axum::body::to_bytes(request.into_body(), LARGEST_FORM).await;
    let pairs = form_urlencoded::parse(&body.unwrap_or_default())
        .into_owned()
        .collect::<Vec<_>>();
    let secret = |name: &str| ["passphrase", "pin", "old_one", "new_one"].contains(&name);
    let text = |(name, value): (String, String)| {
        let words = value.contains(char::is_whitespace) && value.chars().count() >= LEAST_WRITTEN;
        (words && !secret(&name)).then_some(value)
    };
    pairs.into_iter().filter_map(text).collect()
}

/// Why a request does not pass.
fn refusal(state: &AppState, present: &Present, request: &Request) -> Option<Barred> {
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
        false => Some(Barred::By(PageError::MayNot {
            deed,
            who: present.who_may(deed),
            wrote: Vec::new(),
        })),
    }
}

/// Nobody signed in: to the way in, and back from there; a form is not sent on to another page.
fn stranger(present: &Present, request: &Request) -> Barred {
    if present.roles.is_empty() {
        return Barred::By(PageError::NoKeeper);
    }
    match *request.method() {
        Method::GET | Method::HEAD => {
            let here = request.uri().path_and_query().map_or("/", |p| p.as_str());
            let way_in = match present.station {
                Some(_) => urls::STATION,
                None => urls::SIGN_IN,
            };
            let to = urls::with(way_in, &[("next", here.to_string())]);
            Barred::To(to)
        }
        _ => Barred::By(PageError::SignedOut(Vec::new())),
    }
}
