//! The tag of a locked machine: one A6 sheet to hang on it, with a code that leads to the case.

use crate::pages::Page;
use askama::Template;
use axum::http::{HeaderMap, header};
use axum::response::Html;
use qrcode::render::svg;
use qrcode::{EcLevel, QrCode};
use suspect_core::knowledge::Stop;

#[derive(Template)]
#[template(path = "parts/tag.html")]
struct TagPage {
    label: String,
    machine: String,
    name: String,
    why: String,
    holds: bool,
    since: String,
    code: String,
    address: String,
    back: String,
}

/// The address by which the reader reached us, so that the code leads a telephone to the same
/// place.
pub fn origin(headers: &HeaderMap) -> String {
    let text = |name: &str| {
        headers
            .get(name)
            .and_then(|v| v.to_str().ok())
            .map(str::to_string)
    };
    let scheme = text("x-forwarded-proto")
        .filter(|s| s == "https")
        .unwrap_or_else(|| "http".into());
    let host = text(header::HOST.as_str()).unwrap_or_else(|| "localhost".into());
    format!("{scheme}://{host}")
}

/// A code as a drawing that scales. Nothing when the address is too long for one.
pub fn code(address: &str) -> Option<String> {
    let code = QrCode::with_error_correction_level(address, EcLevel::M).ok()?;
    let svg = code
        .render::<svg::Color>()
        .min_dimensions(120, 120)
        .quiet_zone(true)
        .build();
    // Without the declaration it stands inside a page.
    svg.find("<svg").map(|at| svg[at..].to_string())
}

/// What a tag says, and where its code leads.
pub struct TagOf<'a> {
    /// Case or kind of machine, for talking about it.
    pub label: String,
    pub machine: String,
    pub stop: &'a Stop,
    pub holds: bool,
    /// When the stop itself was raised.
    pub since: Option<String>,
    /// Path the code leads to.
    pub address: String,
    pub back: String,
}

/// Draws a tag.
pub fn tag_page(headers: &HeaderMap, tag: TagOf) -> Page {
    let address = format!("{}{}", origin(headers), tag.address);
    let page = TagPage {
        label: tag.label,
        machine: tag.machine,
        name: tag.stop.name.clone(),
        why: tag.stop.why.clone(),
        holds: tag.holds,
        since: tag.since.unwrap_or_default(),
        code: code(&address).unwrap_or_default(),
        address,
        back: tag.back,
    };
    Ok(Html(page.render()?))
}
