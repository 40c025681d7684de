//! Beginning a case by touching a place of the drawing: on the page of a new case, and on the floor
//! of an empty workshop.

use crate::drawing::print_map::{PlaceLink, places};
use suspect_core::intake::{PLACES, Place};

/// A place of the drawing, to be touched.
pub struct PlaceButton {
    pub id: &'static str,
    pub name: &'static str,
}

/// The drawing, whose places press the buttons of the same names.
pub struct Begin {
    pub map: String,
    pub places: Vec<PlaceButton>,
}

/// The drawing to begin with.
pub fn begin() -> Begin {
    let link = |p: &'static Place| PlaceLink {
        id: p.id,
        name: p.name,
        href: format!("#at-{}", p.id),
        chosen: false,
        tally: Default::default(),
    };
    let links: Vec<PlaceLink> = PLACES.iter().map(link).collect();
    let button = |p: &'static Place| PlaceButton {
        id: p.id,
        name: p.name,
    };
    Begin {
        map: places(&links),
        places: PLACES.iter().map(button).collect(),
    }
}
