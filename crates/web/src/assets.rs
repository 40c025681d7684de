//! Fonts, styles and scripts shipped in the program, under names that change with their content.
//!
//! The files of `assets/styles` are served as one sheet, in the order given here; those of
//! `assets/scripts` as modules of one folder, so that they find each other by their plain names.

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
#[include = "styles/*.css"]
#[include = "scripts/*.js"]
#[include = "scripts/parts/*.js"]
#[include = "icon.svg"]
#[include = "vendor/*.js"]
#[include = "vendor/*.css"]
#[include = "vendor/*.woff2"]
#[exclude = "scripts/test/*"]
#[exclude = "vendor/test/*"]
struct Shipped;

/// Style sheets in the order in which they are joined; within a layer the later one wins.
const STYLES: [&str; 48] = [
    "layers",
    "roles",
    "elements",
    "frame",
    "forms",
    "questions",
    "wall",
    "ledger",
    "next",
    "doing",
    "bench",
    "print-charts",
    "print-file",
    "print-lines",
    "waits",
    "plan",
    "case",
    "word",
    "workshop",
    "tag",
    "stops",
    "floor",
    "records",
    "handbook",
    "sign",
    "intake",
    "begin",
    "words",
    "map",
    "sign-card",
    "numbers",
    "aside",
    "pictures",
    "who",
    "held",
    "figures",
    "shift",
    "practice",
    "drill",
    "trials",
    "people",
    "pieces",
    "not-sent",
    "machine",
    "book",
    "pictured",
    "other",
    "patterns",
];
/// Those that win over all components.
const STYLES_ABOVE: [&str; 4] = ["states", "narrow", "thumb", "print"];
/// The joined sheet, and the sheet of others that ours wins over.
const SHEET: &str = "app.css";
const VENDOR_SHEET: &str = "vendor/bulma.css";
/// Folder of our modules.
const SCRIPTS: &str = "scripts/";

struct Asset {
    kind: &'static str,
    plain: Vec<u8>,
    /// Compressed once at start instead of with every request; fonts are compressed already.
    gzip: Option<Vec<u8>>,
}

/// Addresses below `/static/` by plain name, and what stands there.
struct Shelf {
    addresses: BTreeMap<String, String>,
    assets: BTreeMap<String, Asset>,
}

static SHELF: LazyLock<Shelf> = LazyLock::new(Shelf::fill);

/// The content of a shipped file; empty when there is none.
fn content(name: &str) -> Vec<u8> {
    Shipped::get(name).map_or_else(Vec::new, |file| file.data.into_owned())
}

fn text(name: &str) -> String {
    String::from_utf8_lossy(&content(name)).into_owned()
}

/// The sheet that gives the roles of the colours their values.
pub fn roles() -> String {
    text("styles/roles.css")
}

/// The first letters of a content's hash.
fn hash(content: &[u8]) -> String {
    let hash = Sha256::digest(content);
    hash.iter().take(6).map(|b| format!("{b:02x}")).collect()
}

/// `icon-1a2b3c.svg`
fn hashed(name: &str, content: &[u8]) -> String {
    let last = name.rsplit('/').next().unwrap_or(name);
    let (stem, ending) = last.rsplit_once('.').unwrap_or((last, ""));
    format!("{stem}-{}.{ending}", hash(content))
}

impl Shelf {
    fn fill() -> Self {
        let mut shelf = Self {
            addresses: BTreeMap::new(),
            assets: BTreeMap::new(),
        };
        let modules: Vec<String> = modules().collect();
        let all: Vec<u8> = modules.iter().flat_map(|name| content(name)).collect();
        let folder = format!("scripts-{}", hash(&all));
        for name in modules {
            let address = format!("{folder}/{}", &name[SCRIPTS.len()..]);
            shelf.put(&name, address, content(&name));
        }
        let alone = Shipped::iter().filter(|n| n.starts_with("vendor/") || n == "icon.svg");
        for name in alone.filter(|n| n != VENDOR_SHEET) {
            let content = content(&name);
            shelf.put(&name, hashed(&name, &content), content);
        }
        // Whatever its selectors weigh, the sheet of others stands below ours.
        let vendor = format!("@layer vendor {{{}}}", text(VENDOR_SHEET)).into_bytes();
        shelf.put(VENDOR_SHEET, hashed(VENDOR_SHEET, &vendor), vendor);
        let ours = shelf.sheet().into_bytes();
        shelf.put(SHEET, hashed(SHEET, &ours), ours);
        shelf
    }

    /// Our sheet. It names fonts by their plain name; they are served under their hashed one.
    fn sheet(&self) -> String {
        let names = STYLES.iter().chain(&STYLES_ABOVE);
        let sheet: String = names
            .map(|name| text(&format!("styles/{name}.css")))
            .collect();
        let fonts = self.addresses.iter().filter(|(n, _)| n.ends_with(".woff2"));
        fonts.fold(sheet, |sheet, (name, address)| {
            sheet.replace(name.as_str(), &format!("/static/{address}"))
        })
    }

    fn put(&mut self, name: &str, address: String, plain: Vec<u8>) {
        let kind = match name.rsplit('.').next() {
            Some("css") => "text/css; charset=utf-8",
            Some("js") => "text/javascript; charset=utf-8",
            Some("svg") => "image/svg+xml",
            _ => "font/woff2",
        };
        let gzip = (kind != "font/woff2").then(|| {
            let mut encoder = GzEncoder::new(Vec::new(), Compression::best());
            let _ = encoder.write_all(&plain);
            encoder.finish().unwrap_or_default()
        });
        self.addresses.insert(name.to_string(), address.clone());
        self.assets.insert(address, Asset { kind, plain, gzip });
    }
}

/// Our modules by plain name.
fn modules() -> impl Iterator<Item = String> {
    let names = Shipped::iter().map(|name| name.to_string());
    names.filter(|name| name.starts_with(SCRIPTS))
}

/// The address of an asset by its plain name.
pub fn url(name: &str) -> String {
    let address = SHELF.addresses.get(name).map_or(name, String::as_str);
    format!("/static/{address}")
}

/// Addresses of the modules that the first one needs, so that a page asks for all of them at once.
pub fn modules_needed() -> Vec<String> {
    let apart = |name: &String| name.ends_with("/worker.js") || name.ends_with("-worklet.js");
    let needed = modules().filter(|name| !apart(name));
    needed.map(|name| url(&name)).collect()
}

/// The routes that serve them, cached for good: another content has another name.
pub fn routes() -> Router {
    Router::new().route("/static/{*name}", get(asset))
}

async fn asset(Path(name): Path<String>, headers: HeaderMap) -> Response {
    let Some(asset) = SHELF.assets.get(&name) else {
        return StatusCode::NOT_FOUND.into_response();
    };
    let accepted = headers.get(header::ACCEPT_ENCODING);
    let wants_gzip = accepted
        .and_then(|v| v.to_str().ok())
        .is_some_and(|v| v.contains("gzip"));
    let kept = (header::CACHE_CONTROL, "public, max-age=31536000, immutable");
    let kind = (header::CONTENT_TYPE, asset.kind);
    match (&asset.gzip, wants_gzip) {
        (Some(gzip), true) => {
            let encoded = (header::CONTENT_ENCODING, "gzip");
            let vary = (header::VARY, "accept-encoding");
            ([kind, kept, encoded, vary], gzip.clone()).into_response()
        }
        _ => ([kind, kept], asset.plain.clone()).into_response(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_sheet_and_every_module_is_served_and_nothing_twice() {
        let sheets = Shipped::iter().filter(|n| n.starts_with("styles/"));
        let mut there: Vec<String> = sheets.map(|n| n.to_string()).collect();
        let named = STYLES.iter().chain(&STYLES_ABOVE);
        let mut joined: Vec<String> = named.map(|n| format!("styles/{n}.css")).collect();
        there.sort();
        joined.sort();
        assert_eq!(joined, there);
        let sheet = text_of(&url(SHEET));
        assert!(
            !sheet.contains("url(\"vendor/"),
            "fonts under their hashed name"
        );
        assert!(text_of(&url(VENDOR_SHEET)).starts_with("@layer vendor {"));
        for name in modules() {
            for line in text(&name).lines().filter(|l| l.starts_with("import ")) {
                let path = line.split('"').nth(1).unwrap();
                let folder = name.rsplit_once('/').unwrap().0;
                let path = match path.strip_prefix("./") {
                    Some(below) => format!("{folder}/{below}"),
                    None => format!("scripts/{}", path.trim_start_matches("../")),
                };
                assert!(Shipped::get(&path).is_some(), "{name} imports {path}");
            }
        }
        assert!(Shipped::iter().all(|n| !n.contains("/test/")));
    }

    fn text_of(url: &str) -> String {
        let asset = &SHELF.assets[url.trim_start_matches("/static/")];
        String::from_utf8(asset.plain.clone()).unwrap()
    }
}
