//! The drawing of a print with what a case saw where.

use crate::drawing::print_map::{PlaceLink, Ruler, svg};
use crate::drawing::spot::Tally;
use crate::pages::open_case::OpenCase;
use crate::urls;
use suspect_core::intake::{PLACES, Place, marked_at};
use suspect_core::knowledge::{FindingId, Knowledge};
use suspect_core::settings::NumberId;

/// Height taken for a piece while nobody said how tall it is, in millimetres.
const USUAL_PIECE_MM: f64 = 100.0;

/// The drawing, with what was seen where, and the height of the fault.
pub fn map(k: &Knowledge, case: &OpenCase, chosen: Option<&'static Place>) -> String {
    let settings = &case.state.facts.settings;
    let fault = settings.get(NumberId::FaultHeightMm);
    let piece = settings.get(NumberId::PieceHeightMm);
    let tall = piece.unwrap_or(USUAL_PIECE_MM).max(fault.unwrap_or(0.0));
    let link = |p: &'static Place| PlaceLink {
        id: p.id,
        name: p.name,
        href: urls::intake(case.id, "print", p.id),
        chosen: chosen.is_some_and(|c| c.id == p.id),
        tally: tally(k, case, |f| marked_at(k, f).is_some_and(|at| at.id == p.id)),
    };
    let places: Vec<PlaceLink> = PLACES.iter().map(link).collect();
    let ruler = Ruler {
        share: fault.unwrap_or(0.0) / tall,
        piece_mm: tall,
        known: fault.is_some(),
    };
    svg(&places, &ruler)
}

/// What was answered for findings that belong somewhere.
pub fn tally(k: &Knowledge, case: &OpenCase, belongs: impl Fn(FindingId) -> bool) -> Tally {
    let findings = case.state.facts.findings.iter();
    let mut tally = Tally::default();
    for (f, sighting) in findings.filter(|(f, _)| belongs(**f)) {
        match sighting.answer.is_denial(k, *f) {
            true => tally.not_seen += 1,
            false => tally.seen += 1,
        }
    }
    tally
}
