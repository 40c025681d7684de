//! The one door from errors to status and page. Nothing internal goes through it.

use crate::urls;
use crate::words::error;
use askama::Template;
use axum::http::{StatusCode, header};
use axum::response::{Html, IntoResponse, Response};
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
    /// The address holds what no address of ours holds.
    BadAddress,
    /// The request names another host than ours.
    WrongHost,
    /// The case moved on; the page with what was sent is already made.
    Conflict(String),
    /// What was asked makes no sense now; text and way back.
    Refused {
        /// What is wrong and what would do.
        message: String,
        /// Address of the way back.
        back: String,
    },
    /// The form was stored before with another content.
    SentBefore {
        /// Address of the page to look at.
        back: String,
    },
    /// Not a form as our pages send it.
    NotAForm,
    /// The form is larger than any of ours.
    TooLarge,
    /// The form has more fields than any of ours: at most so many.
    TooManyFields(usize),
    /// A form from another site.
    ForeignForm,
    /// Too many want something at once.
    Busy,
    /// It took too long.
    Slow,
    /// The database cannot be reached.
    Unavailable,
    /// A template failed.
    Broken,
}

/// Seconds after which a browser may try again.
const RETRY_AFTER: &str = "5";

#[derive(Template)]
#[template(path = "error.html")]
struct ErrorPage {
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
            // A handler that records words its refusals itself.
            StoreError::Refused(refusal) => PageError::Refused {
                message: crate::show::sentence(&refusal.to_string()),
                back: urls::FLOOR.into(),
            },
            // A handler that appends makes its own page of a conflict; one that slips through is
            // still no success.
            StoreError::Conflict { .. } => PageError::Refused {
                message: "Someone else wrote to this case first.".into(),
                back: urls::FLOOR.into(),
            },
            StoreError::OtherTouch => PageError::SentBefore {
                back: urls::FLOOR.into(),
            },
            // Two that wrote the same thing at the same moment: the second may try again.
            StoreError::Taken(rule) => {
                tracing::warn!("taken at the same moment: {rule}");
                PageError::Busy
            }
            StoreError::Busy => PageError::Busy,
            StoreError::Newer => PageError::Unavailable,
            StoreError::Unreadable(what) => {
                tracing::error!("stored and not understood: {what}");
                PageError::Broken
            }
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
    fn status(&self) -> StatusCode {
        match self {
            PageError::NotFound(_) | PageError::NoSuchLink => StatusCode::NOT_FOUND,
            PageError::WrongMethod => StatusCode::METHOD_NOT_ALLOWED,
            PageError::BadAddress => StatusCode::BAD_REQUEST,
            PageError::WrongHost => StatusCode::MISDIRECTED_REQUEST,
            PageError::Refused { .. } => StatusCode::UNPROCESSABLE_ENTITY,
            PageError::Conflict(_) | PageError::SentBefore { .. } => StatusCode::CONFLICT,
            PageError::NotAForm => StatusCode::UNSUPPORTED_MEDIA_TYPE,
            PageError::TooLarge | PageError::TooManyFields(_) => StatusCode::PAYLOAD_TOO_LARGE,
            PageError::ForeignForm => StatusCode::FORBIDDEN,
            PageError::Busy | PageError::Slow | PageError::Unavailable => {
                StatusCode::SERVICE_UNAVAILABLE
            }
            PageError::Broken => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    /// Where it leads, and the words for it.
    fn way_back(&self) -> (String, &'static str) {
        match self {
            PageError::Refused { back, .. } => (back.clone(), "Back"),
            PageError::SentBefore { back } => (back.clone(), "Look at it"),
            _ => (urls::FLOOR.to_string(), "To the floor"),
        }
    }
}

impl IntoResponse for PageError {
    fn into_response(self) -> Response {
        if let PageError::Conflict(page) = self {
            return (StatusCode::CONFLICT, Html(page)).into_response();
        }
        let status = self.status();
        let (title, message) = error::told(&self);
        let (back, back_words) = self.way_back();
        let page = ErrorPage {
            status: status.as_u16(),
            title,
            message,
            back,
            back_words,
        };
        let answer = match page.render() {
            Ok(html) => (status, Html(html)).into_response(),
            Err(_) => (status, title).into_response(),
        };
        match status {
            StatusCode::SERVICE_UNAVAILABLE => {
                ([(header::RETRY_AFTER, RETRY_AFTER)], answer).into_response()
            }
            _ => answer,
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
