//! What guards every page, each with its reason.

use crate::page_error::PageError;
use crate::people::guard;
use crate::people::sessions::Kept;
use crate::state::AppState;
use crate::{hosts, screen};
use axum::Router;
use axum::extract::Request;
use axum::http::{HeaderName, HeaderValue, StatusCode, header};
use axum::middleware::{self, Next};
use axum::response::{IntoResponse, Response};
use hosts::Hosts;
use std::time::Duration;
use suspect_core::people::IDLE;
use tower_http::compression::CompressionLayer;
use tower_http::csrf::CsrfLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::TimeoutLayer;
use tower_sessions::cookie::SameSite;
use tower_sessions::{Expiry, SessionManagerLayer};

/// Only our own scripts, styles, fonts and pictures; nobody may frame us or take our forms
/// elsewhere.
const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; \
    img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; form-action 'self'; \
    base-uri 'none'; frame-ancestors 'none'";

/// A page that takes longer than this has lost its database.
const PATIENCE: Duration = Duration::from_secs(20);

/// Eight large pictures over a slow telephone line take their time.
const PATIENCE_WITH_UPLOADS: Duration = Duration::from_secs(15 * 60);

/// Puts the guards around the pages, what takes uploads, what streams, and what is shipped.
pub fn guard(
    state: &AppState,
    hosts: Hosts,
    pages: Router,
    uploads: Router,
    endless: Router,
    shipped: Router,
) -> Router {
    let timeout =
        |patience| TimeoutLayer::with_status_code(StatusCode::SERVICE_UNAVAILABLE, patience);
    let header = |name: HeaderName, value: &'static str| {
        SetResponseHeaderLayer::overriding(name, HeaderValue::from_static(value))
    };
    pages
        .layer(timeout(PATIENCE))
        .merge(uploads.layer(timeout(PATIENCE_WITH_UPLOADS)))
        .merge(endless)
        .layer(middleware::from_fn_with_state(state.clone(), guard::guard))
        .layer(sessions(state))
        // Forms are proof against cross-site posting: a browser says where a post comes from, and
        // foreign origins are refused.
        .layer(CsrfLayer::new())
        .merge(shipped)
        .layer(middleware::from_fn(explain_refusals))
        .layer(CompressionLayer::new())
        .layer(middleware::from_fn_with_state(state.clone(), screen::known))
        // Inside the screen nothing is known of a foreign host's request: it is refused before.
        .layer(middleware::from_fn_with_state(hosts, hosts::known_host))
        .layer(header(header::CONTENT_SECURITY_POLICY, POLICY))
        .layer(header(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(header(header::REFERRER_POLICY, "same-origin"))
        // A case must never be shown from a cache: the log may have moved on. What never changes
        // says so itself.
        .layer(SetResponseHeaderLayer::if_not_present(
            header::CACHE_CONTROL,
            HeaderValue::from_static("no-store"),
        ))
}

/// Sessions: a cookie no script reads, kept in the database.
fn sessions(state: &AppState) -> SessionManagerLayer<Kept> {
    SessionManagerLayer::new(Kept(state.store.clone()))
        .with_name("us-session")
        .with_http_only(true)
        .with_same_site(SameSite::Lax)
        // Over plain http a browser would not send a cookie that must not go so.
        .with_secure(state.https)
        .with_expiry(Expiry::OnInactivity(IDLE))
}

/// The guards and the framework answer with an empty page or a line of text; a person gets ours.
async fn explain_refusals(request: Request, next: Next) -> Response {
    let uri = request.uri();
    let parts = [Some(uri.path()), uri.query()];
    // No text of ours holds a null, and no database takes one.
    if parts.iter().flatten().any(|part| part.contains("%00")) {
        return PageError::BadAddress.into_response();
    }
    let response = next.run(request).await;
    let kind = response.headers().get(header::CONTENT_TYPE);
    let ours = kind.is_some_and(|k| !k.as_bytes().starts_with(b"text/plain"));
    match response.status() {
        StatusCode::FORBIDDEN if !ours => PageError::ForeignForm.into_response(),
        StatusCode::BAD_REQUEST if !ours => PageError::BadAddress.into_response(),
        StatusCode::NOT_FOUND if !ours => PageError::NotFound("page").into_response(),
        StatusCode::METHOD_NOT_ALLOWED if !ours => PageError::WrongMethod.into_response(),
        StatusCode::PAYLOAD_TOO_LARGE if !ours => PageError::TooLarge.into_response(),
        StatusCode::SERVICE_UNAVAILABLE | StatusCode::REQUEST_TIMEOUT if !ours => {
            PageError::Slow.into_response()
        }
        _ => response,
    }
}
