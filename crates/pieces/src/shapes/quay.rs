//! `quay`: a stepped quay round a basin, with an apron of two layers in front. Lengths, first
//! layer, ripples behind flutes.

use super::{Piece, spot};
use crate::region::Region;
use crate::settings::Settings;
use crate::stack::Solid;
use crate::strokes::figures;
use crate::views::{Side, Spot};

pub(super) const PIECE: Piece = Piece {
    id: "quay",
    name: "Quay",
    build,
    spots,
};

/// Where the base begins behind the apron.
const FRONT: f64 = 9.0;
const BACK: f64 = 39.0;

fn build(s: &Settings) -> Solid {
    let mut solid = Solid::default();
    let deck = s.z(5.0);
    let (second, third, top) = (s.z(12.0), s.z(20.0), s.z(25.0));
    let apron = s.after(2);
    solid.add(0.0, deck, Region::rect(0.0, FRONT, 40.0, BACK));
    solid.add(0.0, apron, Region::rect(0.0, 0.0, 40.0, FRONT + 1.0));
    // The basin, inside: 22 × 14.
    solid.cut(s.z(2.0), deck, Region::rect(9.0, 13.0, 31.0, 27.0));
    // The back wall in three steps, an arm of 20 along one side.
    solid.add(deck, second, Region::rect(0.0, 31.0, 40.0, BACK));
    solid.add(deck, second, Region::rect(0.0, 19.0, 4.0, 31.0));
    solid.add(second, third, Region::rect(8.0, 31.0, 32.0, BACK));
    solid.add(third, top, Region::rect(15.0, 31.0, 25.0, BACK));
    for k in 0..4 {
        let x = 16.5 + 2.0 * f64::from(k);
        solid.cut(deck, third, Region::rect(x, BACK - 0.8, x + 1.0, BACK));
    }
    let hundredths = (s.first * 100.0).round() as u32;
    let number = figures(hundredths, [3.0, 2.0], 5.0, s.pen());
    solid.cut(0.0, s.first, number.mirrored(10.0).moved(18.0, 0.0));
    solid.add(
        apron,
        s.above(apron, 2),
        figures(hundredths, [3.0, 2.0], 5.0, s.pen()),
    );
    solid
}

fn spots(s: &Settings) -> Vec<Spot> {
    let (deck, third) = (s.z(5.0), s.z(20.0));
    vec![
        spot("apron", Side::Top, [0.0; 3], [40.0, FRONT, s.after(4)]),
        spot("underside", Side::Under, [0.0; 3], [40.0, FRONT, s.first]),
        spot("lengths", Side::Top, [0.0, FRONT, 0.0], [40.0, BACK, deck]),
        spot(
            "flutes",
            Side::Front,
            [8.0, 38.0, deck],
            [32.0, BACK, third],
        ),
        spot(
            "steps",
            Side::Front,
            [9.0, 31.0, s.z(13.0)],
            [14.0, BACK, s.z(19.0)],
        ),
    ]
}
