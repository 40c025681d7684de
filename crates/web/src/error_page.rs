//! The page of an error.

use crate::page_error::PageError;
use crate::urls;
use crate::words::error;
use askama::Template;
use axum::http::{StatusCode, header};
use axum::response::{Html, IntoResponse, Response};

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
    /// What was written in a form that does not pass.
    wrote: Vec<String>,
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
            PageError::ForeignForm | PageError::MayNot { .. } => StatusCode::FORBIDDEN,
            PageError::SignedOut(_) | PageError::NoKeeper => StatusCode::UNAUTHORIZED,
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
            wrote: match self {
                PageError::MayNot { wrote, .. } | PageError::SignedOut(wrote) => wrote,
                _ => Vec::new(),
            },
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
