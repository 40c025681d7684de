//! What guards every page, each with its reason.

use crate::page_error::PageError;
use axum::Router;
use axum::extract::Request;
use axum::http::{HeaderName, HeaderValue, StatusCode, header};
use axum::middleware::{self, Next};
use axum::response::{IntoResponse, Response};
use std::time::Duration;
use tower_http::compression::CompressionLayer;
use tower_http::csrf::CsrfLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::TimeoutLayer;

/// Largest form accepted, in bytes. Far above any honest form, so that an overlong text still comes back beside its field.
pub const LARGEST_FORM: usize = 2 * 1024 * 1024;

/// Only our own scripts, styles, fonts and pictures; nobody may frame us or take our forms elsewhere.
const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; font-src 'self'; \
                      connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

/// A page that takes longer than this has lost its database.
const PATIENCE: Duration = Duration::from_secs(20);

/// Eight large pictures over a slow telephone line take their time.
const PATIENCE_WITH_UPLOADS: Duration = Duration::from_secs(15 * 60);

/// Puts the guards around the pages, and around what takes uploads.
pub fn guard(pages: Router, uploads: Router) -> Router {
    let timeout =
        |patience| TimeoutLayer::with_status_code(StatusCode::SERVICE_UNAVAILABLE, patience);
    let header = |name: HeaderName, value: &'static str| {
        SetResponseHeaderLayer::overriding(name, HeaderValue::from_static(value))
    };
    pages
        .layer(timeout(PATIENCE))
        .merge(uploads.layer(timeout(PATIENCE_WITH_UPLOADS)))
        // Forms are proof against cross-site posting: a browser says where a post comes from, and foreign origins are refused.
        .layer(CsrfLayer::new())
        .layer(middleware::from_fn(explain_refusals))
        .layer(CompressionLayer::new())
        .layer(header(header::CONTENT_SECURITY_POLICY, POLICY))
        .layer(header(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(header(header::REFERRER_POLICY, "same-origin"))
        // A case must never be shown from a cache: the log may have moved on. A picture never changes and says so itself.
        .layer(SetResponseHeaderLayer::if_not_present(
            header::CACHE_CONTROL,
            HeaderValue::from_static("no-store"),
        ))
}

/// The guards answer with an empty page; a person gets ours.
async fn explain_refusals(request: Request, next: Next) -> Response {
    let response = next.run(request).await;
    let ours = response.headers().contains_key(header::CONTENT_TYPE);
    match response.status() {
        StatusCode::FORBIDDEN if !ours => PageError::ForeignForm.into_response(),
        _ => response,
    }
}
