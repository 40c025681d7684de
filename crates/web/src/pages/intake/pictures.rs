//! Pictures as a part of the intake.

use super::scene::Scene;
use crate::form::Errors;
use crate::pages::parts::pictures::{PictureCard, cards};
use suspect_core::case::MOST_PICTURES;
use suspect_pictures::LARGEST_FILE;
use suspect_store::Uuid;

pub struct PicturesView {
    pub cards: Vec<PictureCard>,
    pub left: usize,
    /// As many as a case holds.
    pub most: usize,
    /// The largest taken in.
    pub megabytes: usize,
    pub upload: Uuid,
    pub problems: Vec<String>,
}

/// Pictures as a part of the intake.
pub fn view(scene: &Scene, errors: &Errors) -> PicturesView {
    let case = scene.case;
    PicturesView {
        cards: cards(case),
        left: MOST_PICTURES.saturating_sub(case.state.pictures.len()),
        most: MOST_PICTURES,
        megabytes: LARGEST_FILE / (1024 * 1024),
        upload: Uuid::now_v7(),
        problems: errors
            .iter()
            .filter(|(f, _)| f.starts_with("picture"))
            .map(|(_, m)| m.clone())
            .collect(),
    }
}
