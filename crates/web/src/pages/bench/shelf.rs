//! The bench: every measure as a picture, by what one holds in the hand; found by plain words.

use crate::drawing::bench::picture;
use crate::pages::Page;
use crate::pages::bench::context::carried;
use crate::words::measure as measure_words;
use crate::{show, urls};
use askama::Template;
use axum::extract::{RawQuery, State};
use axum::response::Html;
use std::sync::Arc;
use suspect_core::measures::{Hold, Measure, measure, measures};
use suspect_core::search::{Index, Topic};

/// A longer query is cut: nobody types it, and it would only cost time.
const LONGEST_QUERY: usize = 120;

struct Tile {
    href: String,
    name: String,
    picture: String,
}

struct Shelf {
    id: &'static str,
    name: &'static str,
    about: &'static str,
    tiles: Vec<Tile>,
}

#[derive(Template)]
#[template(path = "bench/shelf.html")]
struct ShelfPage {
    query: String,
    /// Case and machine, carried along by the search.
    carried: Vec<(&'static str, String)>,
    found: Option<Vec<Tile>>,
    shelves: Vec<Shelf>,
}

/// `GET /bench?q=…&case=…&machine=…`
pub async fn show(State(index): State<Arc<Index>>, RawQuery(query): RawQuery) -> Page {
    let query = query.unwrap_or_default();
    let fields = crate::form::Fields::of(form_urlencoded::parse(query.as_bytes()).into_owned());
    let carried = carried(&fields);
    let text: String = fields.get("q").chars().take(LONGEST_QUERY).collect();
    let tile = |m: &Measure| Tile {
        href: urls::with(&urls::measure(m.id), &carried),
        name: show::capital(m.plain),
        picture: picture(m.id),
    };
    let found = (!text.is_empty()).then(|| {
        let hits = index.find(&text).into_iter().filter_map(|h| match h.topic {
            Topic::Measure(id) => measure(id).ok(),
            _ => None,
        });
        hits.map(tile).collect()
    });
    let shelves = Hold::ALL.map(|h| Shelf {
        id: h.id(),
        name: measure_words::hold(h).0,
        about: measure_words::hold(h).1,
        tiles: measures().filter(|m| m.card.hold == h).map(tile).collect(),
    });
    let page = ShelfPage {
        query: text,
        found,
        shelves: shelves.into(),
        carried,
    };
    Ok(Html(page.render()?))
}
