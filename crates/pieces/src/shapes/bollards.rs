//! `bollards`: four mooring posts with gaps of 6, 12 and 24 between them. Strings, seams, what a
//! restart leaves.

use super::{Piece, spot};
use crate::region::{Region, sides};
use crate::settings::Settings;
use crate::stack::Solid;
use crate::views::{Side, Spot};

pub(super) const PIECE: Piece = Piece {
    id: "bollards",
    name: "Bollards",
    build,
    spots,
};

const RADIUS: f64 = 3.5;
const HEAD: f64 = 4.5;
/// Centres along the foot: gaps of 6, 12, 24 between shafts of 7.
const CENTRES: [f64; 4] = [6.0, 19.0, 38.0, 69.0];

fn build(s: &Settings) -> Solid {
    let mut solid = Solid::default();
    let foot = s.z(1.0);
    // The head flares 34 degrees from upright.
    let flare = s.z(16.0);
    let head = s.z(16.0 + (HEAD - RADIUS) / 34.0_f64.to_radians().tan());
    let top = s.z(20.0);
    let plate = Region::rect(0.0, 0.0, 75.0, 12.0);
    solid.add(0.0, foot, plate);
    for x in CENTRES {
        let around = sides(HEAD);
        let shaft = Region::circle_of(x, 6.0, RADIUS, around);
        let wide = Region::circle_of(x, 6.0, HEAD, around);
        solid.add(foot, flare, shaft.clone());
        solid.loft(flare, head, shaft, wide.clone());
        solid.add(head, top, wide);
    }
    solid
}

fn spots(s: &Settings) -> Vec<Spot> {
    let (foot, flare, top) = (s.z(1.0), s.z(16.0), s.z(20.0));
    vec![
        spot("gaps", Side::Front, [9.5, 2.5, foot], [65.5, 9.5, flare]),
        spot("seams", Side::Front, [2.5, 2.5, foot], [9.5, 9.5, flare]),
        spot(
            "upper-halves",
            Side::Front,
            [1.5, 1.5, s.z(10.0)],
            [73.5, 10.5, top],
        ),
    ]
}
