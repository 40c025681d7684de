//! One file per thing a person can do, in folders by what they are about: route, view model and
//! template stand together under the same name.
//!
//! `open_case` and `record` are what handlers share, `parts` what pages share. A folder uses these
//! and what lies below, not another folder; only `case`, where everything meets, shows pieces of
//! `doing` and `help`.

pub mod bench;
pub mod book;
pub mod case;
pub mod doing;
pub mod figures;
pub mod files;
pub mod floor;
pub mod handbook;
pub mod help;
pub mod intake;
pub mod live;
pub mod open_case;
pub mod parts;
pub mod patterns;
pub mod people;
pub mod pieces;
pub mod practice;
pub mod record;
pub mod records;
pub mod shelf;
pub mod shift;
pub mod trials;

use crate::page_error::PageError;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};

/// A rendered page.
pub type Page = Result<Html<String>, PageError>;
/// What becomes of a form.
pub type Answer = Result<Response, PageError>;

/// A form's page again, with what was sent and what is wrong with it.
pub fn again(html: String) -> Response {
    (StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response()
}
