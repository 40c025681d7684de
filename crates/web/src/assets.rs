//! Fonts, styles and scripts shipped in the program, under names that change with their content.

use axum::Router;
use axum::extract::Path;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use flate2::Compression;
use flate2::write::GzEncoder;
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;
use std::io::Write;
use std::sync::LazyLock;

#[derive(rust_embed::Embed)]
#[folder = "../../assets"]
#[include = "app.css"]
#[include = "app.js"]
#[include = "live.js"]
#[include = "icon.svg"]
#[include = "vendor/*.js"]
#[include = "vendor/*.css"]
#[include = "vendor/*.woff2"]
struct Shipped;

struct Asset {
    kind: &'static str,
    plain: Vec<u8>,
    /// Compressed once at start instead of with every request; fonts are compressed already.
    gzip: Option<Vec<u8>>,
}

/// Assets by hashed name.
static ASSETS: LazyLock<BTreeMap<String, Asset>> = LazyLock::new(|| {
    let mut assets = BTreeMap::new();
    for (name, hashed) in NAMES.iter() {
        let Some(file) = Shipped::get(name) else {
            continue;
        };
        let mut plain = file.data.into_owned();
        let kind = match name.rsplit('.').next() {
            Some("css") => "text/css; charset=utf-8",
            Some("js") => "text/javascript; charset=utf-8",
            Some("svg") => "image/svg+xml",
            _ => "font/woff2",
        };
        if name == "app.css" {
            // The style sheet names fonts by their plain name; they are served under their hashed one.
            let mut text = String::from_utf8_lossy(&plain).into_owned();
            for font in ["vendor/bricolage.woff2", "vendor/atkinson.woff2"] {
                text = text.replace(font, &url(font));
            }
            plain = text.into_bytes();
        }
        let gzip = (kind != "font/woff2").then(|| {
            let mut encoder = GzEncoder::new(Vec::new(), Compression::best());
            let _ = encoder.write_all(&plain);
            encoder.finish().unwrap_or_default()
        });
        assets.insert(hashed.clone(), Asset { kind, plain, gzip });
    }
    assets
});

/// Plain name to hashed name.
static NAMES: LazyLock<BTreeMap<String, String>> = LazyLock::new(|| {
    Shipped::iter()
        .filter_map(|name| {
            let file = Shipped::get(&name)?;
            let mut hash = Sha256::new();
            hash.update(&file.data);
            // The style sheet changes with the fonts it names.
            if name == "app.css" {
                hash.update(Shipped::get("vendor/bricolage.woff2")?.data);
                hash.update(Shipped::get("vendor/atkinson.woff2")?.data);
            }
            let hash: String = hash
                .finalize()
                .iter()
                .take(6)
                .map(|b| format!("{b:02x}"))
                .collect();
            let (stem, ending) = name.rsplit('/').next()?.rsplit_once('.')?;
            Some((name.to_string(), format!("{stem}-{hash}.{ending}")))
        })
        .collect()
});

/// The address of an asset by its plain name.
pub fn url(name: &str) -> String {
    match NAMES.get(name) {
        Some(hashed) => format!("/static/{hashed}"),
        None => format!("/static/{name}"),
    }
}

/// The route that serves them, cached for good: another content has another name.
pub fn routes() -> Router {
    Router::new().route("/static/{name}", get(asset))
}

async fn asset(Path(name): Path<String>, headers: HeaderMap) -> Response {
    let Some(asset) = ASSETS.get(&name) else {
        return StatusCode::NOT_FOUND.into_response();
    };
    let wants_gzip = headers
        .get(header::ACCEPT_ENCODING)
        .and_then(|v| v.to_str().ok())
        .is_some_and(|v| v.contains("gzip"));
    let kept = (header::CACHE_CONTROL, "public, max-age=31536000, immutable");
    match (&asset.gzip, wants_gzip) {
        (Some(gzip), true) => (
            [
                (header::CONTENT_TYPE, asset.kind),
                kept,
                (header::CONTENT_ENCODING, "gzip"),
                (header::VARY, "accept-encoding"),
            ],
            gzip.clone(),
        )
            .into_response(),
        _ => (
            [(header::CONTENT_TYPE, asset.kind), kept],
            asset.plain.clone(),
        )
            .into_response(),
    }
}
