//! The one door from errors to status and page. Nothing internal goes through it.

use crate::urls;
use askama::Template;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use suspect_core::case::Refusal;
use suspect_store::StoreError;

/// Why a page could not be given.
#[derive(Debug)]
pub enum PageError {
    /// There is no such page, case, machine, suspect.
    NotFound(&'static str),
    /// A link for a helper that never was or was revoked: nobody learns which.
    NoSuchLink,
    /// The page exists, the method does not fit.
    WrongMethod,
    /// The case moved on; the page with what was sent is already made.
    Conflict(String),
    /// What was asked makes no sense now; text and way back.
    Refused { message: String, back: String },
    /// Not a form as our pages send it.
    NotAForm,
    /// The form is larger than any of ours.
    TooLarge,
    /// A form from another site.
    ForeignForm,
    /// The database cannot be reached.
    Unavailable,
    /// A template failed.
    Broken,
}

#[derive(Template)]
#[template(path = "error.html")]
struct ErrorPage {
    place: &'static str,
    status: u16,
    title: &'static str,
    message: String,
    back: String,
    back_words: &'static str,
}

impl From<StoreError> for PageError {
    fn from(e: StoreError) -> Self {
        match e {
            StoreError::NotFound => PageError::NotFound("case"),
            StoreError::Refused(refusal) => PageError::refused(&refusal, urls::FLOOR.to_string()),
            // A handler that appends makes its own page of a conflict; one that slips through is still no success.
            StoreError::Conflict { .. } => PageError::Refused {
                message: "Someone else wrote to this case first.".into(),
                back: urls::FLOOR.into(),
            },
            StoreError::Unavailable(e) => {
                tracing::error!("database: {e}");
                PageError::Unavailable
            }
        }
    }
}

impl From<askama::Error> for PageError {
    fn from(e: askama::Error) -> Self {
        tracing::error!("template: {e}");
        PageError::Broken
    }
}

impl PageError {
    /// A refusal of the core with a way back.
    pub fn refused(refusal: &Refusal, back: String) -> Self {
        PageError::Refused {
            message: crate::show::sentence(&refusal.to_string()),
            back,
        }
    }
}

impl IntoResponse for PageError {
    fn into_response(self) -> Response {
        let (status, title, message, back, back_words) = match self {
            PageError::Conflict(page) => return (StatusCode::CONFLICT, Html(page)).into_response(),
            PageError::NotFound(what) => (
                StatusCode::NOT_FOUND,
                "Nothing here",
                format!("There is no such {what}. The link may be mistyped, or it belongs to another workshop."),
                urls::FLOOR.to_string(),
                "To the floor",
            ),
            PageError::NoSuchLink => (
                StatusCode::NOT_FOUND,
                "This link does not work",
                "It may be mistyped, or whoever made it has revoked it. Ask them for a new one.".to_string(),
                urls::FLOOR.to_string(),
                "To the floor",
            ),
            PageError::WrongMethod => (
                StatusCode::METHOD_NOT_ALLOWED,
                "Not this way",
                "This address takes a form, it cannot be opened as a page.".to_string(),
                urls::FLOOR.to_string(),
                "To the floor",
            ),
            PageError::Refused { message, back } => (StatusCode::UNPROCESSABLE_ENTITY, "Not recorded", message, back, "Back"),
            PageError::NotAForm => (
                StatusCode::UNSUPPORTED_MEDIA_TYPE,
                "Not a form",
                "Expected a form as our pages send it (fields, or pictures as multipart/form-data). Nothing was recorded.".to_string(),
                urls::FLOOR.to_string(),
                "To the floor",
            ),
            PageError::TooLarge => (
                StatusCode::PAYLOAD_TOO_LARGE,
                "Too much at once",
                "The form holds more than 2 MB. Nothing was recorded; go back, shorten the text and send it again.".to_string(),
                urls::FLOOR.to_string(),
                "To the floor",
            ),
            PageError::ForeignForm => (
                StatusCode::FORBIDDEN,
                "Refused",
                "This form was sent from another site, so nothing was recorded. Open the page here and send it again.".to_string(),
                urls::FLOOR.to_string(),
                "To the floor",
            ),
            PageError::Unavailable => (
                StatusCode::SERVICE_UNAVAILABLE,
                "The records cannot be reached",
                "The database does not answer. Nothing was recorded. Go back, wait a moment and send it again; if it stays away, start the program anew.".to_string(),
                urls::FLOOR.to_string(),
                "Try the floor",
            ),
            PageError::Broken => (
                StatusCode::INTERNAL_SERVER_ERROR,
                "This page broke",
                "The page could not be drawn. What was recorded before is safe.".to_string(),
                urls::FLOOR.to_string(),
                "To the floor",
            ),
        };
        let page = ErrorPage {
            place: "",
            status: status.as_u16(),
            title,
            message,
            back,
            back_words,
        };
        match page.render() {
            Ok(html) => (status, Html(html)).into_response(),
            Err(_) => (status, title).into_response(),
        }
    }
}

/// Any address we do not know.
pub async fn no_such_page() -> PageError {
    PageError::NotFound("page")
}

/// A known address with a method it does not take.
pub async fn wrong_method() -> PageError {
    PageError::WrongMethod
}
