//! `beacons`: a ring with a bar, three finials of different height on it. Roundness, small layers.

use super::{Piece, spot};
use crate::region::{Region, sides};
use crate::settings::Settings;
use crate::stack::Solid;
use crate::views::{Side, Spot};

pub(super) const PIECE: Piece = Piece {
    id: "beacons",
    name: "Beacons",
    build,
    spots,
};

const MIDDLE: f64 = 16.0;
/// Where the finials stand and how high they rise.
const FINIALS: [(f64, f64); 3] = [(8.5, 20.0), (16.0, 28.0), (23.5, 36.0)];

fn build(s: &Settings) -> Solid {
    let mut solid = Solid::default();
    let deck = s.z(6.0);
    let around = sides(16.0);
    let outer = Region::circle_of(MIDDLE, MIDDLE, 16.0, around);
    let inner = Region::circle_of(MIDDLE, MIDDLE, 12.0, around);
    solid.add(0.0, deck, outer.minus(&inner));
    solid.add(0.0, deck, Region::rect(3.0, 12.5, 29.0, 19.5));
    for (x, height) in FINIALS {
        let around = sides(3.2);
        // A finial ends in a face of two lines: a point cannot be printed.
        let tip = 0.8_f64.max(s.line);
        let low = Region::circle_of(x, MIDDLE, 3.2, around);
        solid.loft(
            deck,
            s.z(height),
            low,
            Region::circle_of(x, MIDDLE, tip, around),
        );
    }
    // Dots on the ring at 0, 45, 90 and 135 degrees, each larger than the one before.
    for (k, degrees) in [0.0_f64, 45.0, 90.0, 135.0].into_iter().enumerate() {
        let angle = degrees.to_radians();
        let (x, y) = (MIDDLE + 14.0 * angle.cos(), MIDDLE + 14.0 * angle.sin());
        let dot = Region::circle(x, y, 0.6 + 0.25 * k as f64);
        solid.add(deck, s.above(deck, 2), dot);
    }
    solid
}

fn spots(s: &Settings) -> Vec<Spot> {
    let deck = s.z(6.0);
    vec![
        spot("ring", Side::Top, [0.0, 0.0, 0.0], [32.0, 32.0, deck]),
        spot(
            "finials",
            Side::Front,
            [5.3, 12.8, s.z(17.0)],
            [26.7, 19.2, s.z(30.0)],
        ),
        spot(
            "tips",
            Side::Front,
            [20.3, 12.8, s.z(30.0)],
            [26.7, 19.2, s.z(36.0)],
        ),
    ]
}
