//! `deck`: a broad deck over infill, a rim of two lines, a gentle slope, a shelf that is all skin.
//! Top skins, corners, shallow slopes.

use super::{Piece, spot};
use crate::region::Region;
use crate::settings::Settings;
use crate::stack::Solid;
use crate::views::{Side, Spot};

pub(super) const PIECE: Piece = Piece {
    id: "deck",
    name: "Deck",
    build,
    spots,
};

const DEPTH: f64 = 34.0;

fn build(s: &Settings) -> Solid {
    let mut solid = Solid::default();
    let shelf = s.after(8);
    let deck = s.z(6.0);
    let rim = s.above(deck, 6);
    solid.add(0.0, shelf, Region::rect(0.0, 0.0, 70.0, DEPTH));
    // The slope ends in a face a line wide: a ridge cannot be printed.
    solid.loft(
        shelf,
        deck,
        Region::rect(0.0, 0.0, 60.0, DEPTH),
        Region::rect(0.0, 0.0, 40.0 + s.line, DEPTH),
    );
    let wide = 2.0 * s.line;
    let outer = Region::rect(0.0, 0.0, 40.0, DEPTH);
    let inner = Region::rect(wide, wide, 40.0 - wide, DEPTH - wide);
    solid.add(deck, rim, outer.minus(&inner));
    solid
}

fn spots(s: &Settings) -> Vec<Spot> {
    let (shelf, deck) = (s.after(8), s.z(6.0));
    let rim = s.above(deck, 6);
    vec![
        spot("deck", Side::Top, [1.0, 1.0, deck], [39.0, 33.0, deck]),
        spot("rim", Side::Top, [0.0, 0.0, deck], [40.0, 1.5, rim]),
        spot("slope", Side::Top, [40.5, 0.0, shelf], [60.0, DEPTH, deck]),
        spot("shelf", Side::Top, [60.0, 0.0, 0.0], [70.0, DEPTH, shelf]),
        spot(
            "ends",
            Side::Front,
            [0.0, 0.0, 0.0],
            [70.0, DEPTH, s.after(3)],
        ),
    ]
}
