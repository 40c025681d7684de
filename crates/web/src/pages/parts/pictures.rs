//! Pictures of a case: as cards, in words, as bytes.

use crate::drawing::marks;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use axum::http::header;
use axum::response::IntoResponse;
use suspect_core::case::Picture;
use suspect_core::picture::{Fault, Judgement};
use suspect_store::{Store, StoreError, Uuid};

/// A picture in small, with what is to be said of it.
pub struct PictureCard {
    pub href: String,
    pub small: String,
    pub name: String,
    pub verdict: String,
    pub good: bool,
    pub marks: usize,
    /// The marks, to lie over the small picture.
    pub overlay: String,
    pub seq_of: u32,
}

/// The pictures of a case as cards.
pub fn cards(case: &OpenCase) -> Vec<PictureCard> {
    cards_below(case, &case.below("pictures"))
}

/// The same with addresses below another one.
pub fn cards_below(case: &OpenCase, below: &str) -> Vec<PictureCard> {
    let card = |(n, p): (usize, &Picture)| {
        let (verdict, good) = verdict(&p.judgement);
        PictureCard {
            href: format!("{below}/{}", p.id),
            small: format!("{below}/{}/small.jpg", p.id),
            name: match p.name.as_str() {
                "" => format!("Picture {}", n + 1),
                name => name.to_string(),
            },
            verdict,
            good,
            marks: p.marks.len(),
            overlay: marks::svg(&p.marks, p.judgement.width, p.judgement.height),
            seq_of: p.seq,
        }
    };
    case.state.pictures.iter().enumerate().map(card).collect()
}

/// What is to be said of a picture, and whether it will do.
pub fn verdict(judgement: &Judgement) -> (String, bool) {
    let faults = judgement.faults();
    let say = |fault: &Fault| match fault {
        Fault::Blurred => {
            "Too blurred to judge layers: hold steady, step closer, wait for the focus."
        }
        Fault::Dark => "Too dark: bring a lamp from the side.",
        Fault::Light => "Too light, the layers are washed out: turn from the window or the lamp.",
        Fault::Glare => "A lamp mirrors in it and hides what is beneath: tilt the piece a little.",
        Fault::Small => "Too few pixels to see layers: send the photo itself, not a preview of it.",
    };
    match faults.is_empty() {
        true => ("Sharp and well lit: layers can be judged.".into(), true),
        false => (faults.iter().map(say).collect::<Vec<_>>().join(" "), false),
    }
}

/// A picture that the case shows.
pub fn find<'a>(case: &'a OpenCase, picture: &str) -> Result<&'a Picture, PageError> {
    case.state
        .pictures
        .iter()
        .find(|p| p.id == picture)
        .ok_or(PageError::NotFound("picture"))
}

/// The bytes of a picture that the case shows, as it is kept or in small.
pub async fn bytes(
    store: &Store,
    case: &OpenCase,
    picture: &str,
    small: bool,
) -> Result<Vec<u8>, PageError> {
    find(case, picture)?;
    let none = || PageError::NotFound("picture");
    let id: Uuid = picture.parse().map_err(|_| none())?;
    let found = store.picture(case.id, id, small).await;
    found.map_err(|e| match e {
        StoreError::NotFound => none(),
        other => other.into(),
    })
}

/// The same as a browser takes it. They never change, but the picture may be taken back and a link
/// to it revoked: whoever keeps it asks each time whether it may still be shown.
pub async fn jpeg(store: &Store, case: &OpenCase, picture: &str, size: &str) -> Answer {
    let small = match size {
        "small.jpg" => true,
        "full.jpg" => false,
        _ => return Err(PageError::NotFound("picture")),
    };
    let bytes = bytes(store, case, picture, small).await?;
    let headers = [
        (header::CONTENT_TYPE, "image/jpeg"),
        (header::CACHE_CONTROL, "private, no-cache"),
    ];
    Ok((headers, bytes).into_response())
}
