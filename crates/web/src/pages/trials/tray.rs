//! The tray: every piece with its photo, its grade, where it lies. Taking entries back.

use super::next_piece::what;
use super::open_series::{OpenSeries, Recorded};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::trial as words;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::series::{Event, Piece};
use suspect_store::think;

struct Slot {
    label: String,
    href: String,
    what: String,
    grades: String,
    place: String,
    thumb: Option<String>,
    gone: bool,
}

#[derive(Template)]
#[template(path = "trials/tray.html")]
struct TrayPage {
    name: String,
    href: String,
    baseline: Option<String>,
    baseline_place: String,
    slots: Vec<Slot>,
}

/// `GET /trials/{series}/tray`
pub async fn show(State(_): State<AppState>, open: OpenSeries) -> Page {
    let html = think(|| {
        let small = |id: &String| open.below(&format!("pictures/{id}/small"));
        let slot = |piece: &Piece| Slot {
            label: piece.label.to_string(),
            href: open.of_piece(piece.label, ""),
            what: what(&open.now, piece),
            grades: match piece.looks.is_empty() {
                true => "not graded".into(),
                false => {
                    let all = piece.looks.iter().map(|l| words::grade(l.grade));
                    all.collect::<Vec<_>>().join(", ")
                }
            },
            place: piece.made.place.clone(),
            thumb: piece.pictures.last().map(small),
            gone: piece.gone,
        };
        let page = TrayPage {
            name: open.now.name.clone(),
            href: open.href(),
            baseline: open.now.baseline_pictures.last().map(small),
            baseline_place: open.now.baseline.place.clone(),
            slots: open.now.pieces.iter().map(slot).collect(),
        };
        page.render()
    });
    Ok(Html(html.await?))
}

/// `POST /trials/{series}/retract`: an entry was wrong; a label stays used.
pub async fn retract(State(state): State<AppState>, open: OpenSeries, fields: Fields) -> Answer {
    let event = Event::Retracted {
        entry: fields.get("entry").parse().unwrap_or(0),
    };
    match open.record(&state, &fields, &[event], &open.href()).await? {
        Recorded::Done(answer) => Ok(answer),
        Recorded::Not(message) => Err(PageError::Refused {
            message,
            back: open.href(),
        }),
    }
}
