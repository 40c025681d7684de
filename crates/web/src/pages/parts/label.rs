//! A label to print: what it is, and a code that leads to its page. A6, and a strip of 62 mm.

use super::tag::{code, origin};
use crate::pages::Page;
use askama::Template;
use axum::http::HeaderMap;
use axum::response::Html;

/// What a label says.
pub struct Label {
    pub title: String,
    pub lines: Vec<String>,
    /// Where its code leads.
    pub href: String,
    pub back: String,
}

#[derive(Template)]
#[template(path = "parts/label.html")]
struct LabelPage {
    of: Label,
    code: String,
    address: String,
}

/// The page of a label.
pub fn render(headers: &HeaderMap, of: Label) -> Page {
    let address = format!("{}{}", origin(headers), of.href);
    let page = LabelPage {
        code: code(&address).unwrap_or_default(),
        address,
        of,
    };
    Ok(Html(page.render()?))
}
