//! All test pieces.

use crate::drawing::piece::small;
use crate::pages::Page;
use crate::{show, urls};
use askama::Template;
use axum::response::Html;
use suspect_pieces::sheets::sheet;
use suspect_pieces::{PIECES, Settings};

struct Card {
    href: String,
    name: &'static str,
    tests: String,
    price: String,
    drawing: String,
}

#[derive(Template)]
#[template(path = "pieces/list.html")]
struct ListPage {
    cards: Vec<Card>,
}

/// `GET /pieces`
pub async fn show() -> Page {
    let settings = Settings::default();
    let cards = PIECES.iter().map(|piece| {
        let sheet = sheet(piece.id);
        Card {
            href: urls::piece(piece.id),
            name: piece.name,
            tests: sheet.map_or_else(String::new, |s| show::capital(&s.tests)),
            price: sheet.map_or_else(String::new, |s| {
                format!("{} · {}", show::minutes(s.minutes), show::grams(s.grams))
            }),
            drawing: small(piece, &settings),
        }
    });
    let page = ListPage {
        cards: cards.collect(),
    };
    Ok(Html(page.render()?))
}
