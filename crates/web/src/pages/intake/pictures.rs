//! Pictures as a part of the intake.

use super::scene::Scene;
use crate::form::Errors;
use crate::pages::parts::pictures::{PictureCard, cards};
use suspect_core::case::MOST_PICTURES;
use suspect_store::Uuid;

pub struct PicturesView {
    pub cards: Vec<PictureCard>,
    pub left: usize,
    pub upload: Uuid,
    pub problems: Vec<String>,
}

/// Pictures as a part of the intake.
pub fn view(scene: &Scene, errors: &Errors) -> PicturesView {
    let case = scene.case;
    PicturesView {
        cards: cards(case),
        left: MOST_PICTURES.saturating_sub(case.state.pictures.len()),
        upload: Uuid::now_v7(),
        problems: errors
            .iter()
            .filter(|(f, _)| f.starts_with("picture"))
            .map(|(_, m)| m.clone())
            .collect(),
    }
}
