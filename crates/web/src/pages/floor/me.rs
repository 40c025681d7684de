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
    let back = back(fields.get("back"));
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
    Ok((AppendHeaders(set), Redirect::to(&back(fields.get("back")))).into_response())
}

/// Where the page was: a place of ours, never another site.
fn back(given: &str) -> String {
    let ours =
        given.starts_with('/') && !given.starts_with("//") && !given.contains(['\\', '\n', '\r']);
    if ours {
        given.to_string()
    } else {
        urls::FLOOR.to_string()
    }
}

#[cfg(test)]
mod tests {
    use super::back;

    #[test]
    fn the_way_back_never_leads_to_another_site() {
        assert_eq!(back("/cases/x?part=words"), "/cases/x?part=words");
        for foreign in [
            "//evil.example",
            "https://evil.example",
            "/\\evil.example",
            "",
        ] {
            assert_eq!(back(foreign), "/");
        }
    }
}
