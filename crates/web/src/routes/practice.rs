//! Routes of practice.

use crate::pages::practice::{act, begin, drill, list, own, past, show, tone, wishes, work};
use crate::state::AppState;
use axum::Router;
use axum::routing::{get, post};

/// Made-up cases and drills.
pub(super) fn practice() -> Router<AppState> {
    Router::new()
        .route("/practice", get(list::show).post(begin::begin))
        .route("/practice/cases/{id}", get(show::show).post(act::act))
        .route("/practice/cases/{id}/check/{check}", get(work::check))
        .route("/practice/cases/{id}/fix/{fix}", get(work::fix))
        .route("/practice/cases/{id}/tone.wav", get(tone::wav))
        .route("/practice/drills", get(drill::show).post(drill::answer))
        .route("/practice/past", get(past::list))
        .route("/practice/past/{case}", post(past::begin))
        .route("/practice/wishes", get(wishes::show).post(wishes::ask))
        .route("/practice/wishes/answer", post(wishes::answer))
        .route("/practice/kept.json", get(own::file))
        .route("/practice/forget", get(own::ask).post(own::forget))
}
