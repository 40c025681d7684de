//! "I am …": who is at this screen, remembered in this browser and written beside every entry.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::screen::name_of;
use crate::{screen, urls};
use axum::http::{HeaderMap, header};
use axum::response::{AppendHeaders, IntoResponse, Redirect};
use suspect_core::text::LONGEST_NAME;

/// `POST /me`: a name, one used before, or nobody.
pub async fn set(headers: HeaderMap, fields: Fields) -> Answer {
    let back = urls::ours(fields.get("back"));
    // A button pressed says more than what stands in the field beside it.
    let given = fields.given("name").or(fields.given("new"));
    let name = given.map(name_of);
    if let (Some(None), Some(given)) = (&name, given) {
        let message = format!(
            "\"{}\" is no name: write it in letters, up to {LONGEST_NAME} characters.",
            suspect_core::nearest::short(given)
        );
        return Err(PageError::Refused { message, back });
    }
    let set = screen::remember(&headers, name.flatten().as_deref());
    let set = set.into_iter().map(|cookie| (header::SET_COOKIE, cookie));
    Ok((AppendHeaders(set), Redirect::to(&back)).into_response())
}

/// `POST /me/nobody`: whoever comes next is nobody in particular.
pub async fn nobody(headers: HeaderMap, fields: Fields) -> Answer {
    let set = screen::remember(&headers, None).into_iter();
    let set = set.map(|cookie| (header::SET_COOKIE, cookie));
    Ok((
        AppendHeaders(set),
        Redirect::to(&urls::ours(fields.get("back"))),
    )
        .into_response())
}
