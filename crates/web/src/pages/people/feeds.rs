//! A member's secret addresses: feeds and calendars that programs read without signing in.

use super::own::{member, page};
use crate::form::{Errors, Fields};
use crate::pages::Answer;
use crate::pages::parts::tag::origin;
use crate::people::secret::fresh;
use crate::state::AppState;
use axum::extract::State;
use axum::http::HeaderMap;
use axum::response::{Html, IntoResponse, Redirect};

/// What there is: file and what it tells.
pub const FEEDS: [(&str, &str); 5] = [
    ("mine.atom", "what is yours or handed to you (Atom)"),
    ("floor.atom", "what needs hands on the whole floor (Atom)"),
    ("waits.ics", "waits and proofs that end (calendar)"),
    ("due.ics", "upkeep that is due (calendar)"),
    (
        "again.ics",
        "cases that ask whether their fix held (calendar)",
    ),
];

/// The addresses behind a secret, with what each tells.
pub fn addresses(origin: &str, secret: &str) -> Vec<(String, &'static str)> {
    let of =
        |(file, what): &(&str, &'static str)| (format!("{origin}/feeds/{secret}/{file}"), *what);
    FEEDS.iter().map(of).collect()
}

/// `POST /me/feeds`: new addresses, shown once; those before lead nowhere. Or none any more.
pub async fn make(State(state): State<AppState>, headers: HeaderMap, fields: Fields) -> Answer {
    let (id, ..) = member()?;
    if fields.get("say") == "end" {
        state.store.end_feed(id).await?;
        return Ok(Redirect::to("/me").into_response());
    }
    let secret = fresh();
    state.store.make_feed(id, &secret, state.now()).await?;
    let made = addresses(&origin(&headers), &secret);
    Ok(Html(page(&state, Some(made), Errors::new()).await?).into_response())
}
