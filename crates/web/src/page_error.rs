//! The one door from errors to status and page. Nothing internal goes through it.

use crate::urls;
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

/// Status, title, message and way back of an error page.
type Told = (StatusCode, &'static str, String, String, &'static str);

/// Nothing is known of what became of a form: its identity makes it safe to send again.
const SEND_AGAIN: &str =
    "If you sent something, send it again: it is stored once, however often it arrives.";

impl PageError {
    fn told(self) -> Told {
        let floor = |status, title, message: &str| {
            let back = urls::FLOOR.to_string();
            (status, title, message.to_string(), back, "To the floor")
        };
        match self {
            PageError::Conflict(_) => floor(StatusCode::CONFLICT, "Not recorded yet", ""),
            PageError::NotFound(what) => floor(
                StatusCode::NOT_FOUND,
                "Nothing here",
                &format!(
                    "There is no such {what}. The link may be mistyped, or it belongs to another \
                     workshop."
                ),
            ),
            PageError::NoSuchLink => floor(
                StatusCode::NOT_FOUND,
                "This link does not work",
                "It may be mistyped, or whoever made it has revoked it. Ask them for a new one.",
            ),
            PageError::WrongMethod => floor(
                StatusCode::METHOD_NOT_ALLOWED,
                "Not this way",
                "This address takes a form, it cannot be opened as a page.",
            ),
            PageError::BadAddress => floor(
                StatusCode::BAD_REQUEST,
                "Not an address",
                "This address holds characters that no address here has. Follow a link instead of \
                 typing it.",
            ),
            PageError::WrongHost => floor(
                StatusCode::MISDIRECTED_REQUEST,
                "Not this place",
                "The address you used does not name this workshop. Open it by the address it \
                 printed when it started; whoever runs it can allow others (ALLOWED_HOSTS).",
            ),
            PageError::Refused { message, back } => (
                StatusCode::UNPROCESSABLE_ENTITY,
                "Not recorded",
                message,
                back,
                "Back",
            ),
            PageError::SentBefore { back } => (
                StatusCode::CONFLICT,
                "Sent before with other words",
                "This very form was stored before with another content, which stands. Look at what \
                 is there, and enter yours on a fresh page."
                    .into(),
                back,
                "Look at it",
            ),
            PageError::NotAForm => floor(
                StatusCode::UNSUPPORTED_MEDIA_TYPE,
                "Not a form",
                "Expected a form as our pages send it (fields, or pictures as \
                 multipart/form-data). Nothing was recorded.",
            ),
            PageError::TooLarge => floor(
                StatusCode::PAYLOAD_TOO_LARGE,
                "Too much at once",
                "The form holds more than 2 MB. Nothing was recorded; go back, shorten the text \
                 and send it again.",
            ),
            PageError::TooManyFields(most) => floor(
                StatusCode::PAYLOAD_TOO_LARGE,
                "Too much at once",
                &format!(
                    "The form has more fields than any of ours: at most {most}. Nothing was \
                     recorded."
                ),
            ),
            PageError::ForeignForm => floor(
                StatusCode::FORBIDDEN,
                "Refused",
                "This form was sent from another site, so nothing was recorded. Open the page here \
                 and send it again.",
            ),
            PageError::Busy => floor(
                StatusCode::SERVICE_UNAVAILABLE,
                "Too many at once",
                &format!(
                    "More people or pages want the records just now than can be served, or \
                     somebody writes to this machine for long. Wait a moment. {SEND_AGAIN}"
                ),
            ),
            PageError::Slow => floor(
                StatusCode::SERVICE_UNAVAILABLE,
                "This took too long",
                &format!(
                    "The page was not ready in time and was given up. Wait a moment. {SEND_AGAIN}"
                ),
            ),
            PageError::Unavailable => floor(
                StatusCode::SERVICE_UNAVAILABLE,
                "The records cannot be reached",
                &format!(
                    "The database does not answer. Wait a moment; if it stays away, start the \
                     program anew. {SEND_AGAIN}"
                ),
            ),
            PageError::Broken => floor(
                StatusCode::INTERNAL_SERVER_ERROR,
                "This page broke",
                "The page could not be drawn, or something stored is not understood by this version of \
                 the program. What was recorded before is safe; whoever runs it finds more in its log.",
            ),
        }
    }
}

impl IntoResponse for PageError {
    fn into_response(self) -> Response {
        if let PageError::Conflict(page) = self {
            return (StatusCode::CONFLICT, Html(page)).into_response();
        }
        let (status, title, message, back, back_words) = self.told();
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
                ([(header::RETRY_AFTER, "5")], answer).into_response()
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
