//! `buttress`: flares to both sides in nine bands from 30 to 75 degrees. Overhangs, cooling.

use super::{Piece, spot};
use crate::region::Region;
use crate::settings::Settings;
use crate::stack::Solid;
use crate::views::{Side, Spot};

pub(super) const PIECE: Piece = Piece {
    id: "buttress",
    name: "Buttress",
    build,
    spots,
};

/// Degrees from upright.
const BANDS: [f64; 9] = [30.0, 40.0, 45.0, 50.0, 55.0, 60.0, 65.0, 70.0, 75.0];
const MIDDLE: f64 = 22.5;
const STEM: f64 = 4.0;
const DEPTH: f64 = 16.0;
/// Every second band stands back, so that bands can be counted.
const BACK: f64 = 0.4;

/// Heights of the bands, and their half-widths.
fn bands(s: &Settings) -> Vec<(f64, f64)> {
    let mut at = (s.z(6.0), STEM);
    let mut all = vec![at];
    for degrees in BANDS {
        let height = s.z(at.0 + 1.2) - at.0;
        at = (at.0 + height, at.1 + height * degrees.to_radians().tan());
        all.push(at);
    }
    all
}

fn build(s: &Settings) -> Solid {
    let mut solid = Solid::default();
    let bands = bands(s);
    let across = |half: f64, k: usize| {
        let back = if k % 2 == 1 { BACK } else { 0.0 };
        Region::rect(MIDDLE - half, back, MIDDLE + half, DEPTH - back)
    };
    solid.add(
        0.0,
        s.z(0.8),
        Region::rect(MIDDLE - 10.0, 0.0, MIDDLE + 10.0, DEPTH),
    );
    solid.add(s.z(0.8), bands[0].0, across(STEM, 0));
    for (k, pair) in bands.windows(2).enumerate() {
        let [(z0, from), (z1, to)] = [pair[0], pair[1]];
        solid.loft(z0, z1, across(from, k), across(to, k));
    }
    let (z, half) = bands[BANDS.len()];
    solid.add(z, s.above(z, 3), across(half, 0));
    solid
}

fn spots(s: &Settings) -> Vec<Spot> {
    let bands = bands(s);
    let half = bands[BANDS.len()].1;
    let between = |feature, from: usize, to: usize| {
        let wide = bands[to].1;
        spot(
            feature,
            Side::Front,
            [MIDDLE - wide, 0.0, bands[from].0],
            [MIDDLE + wide, DEPTH, bands[to].0],
        )
    };
    vec![
        between("bands-30-55", 0, 5),
        between("bands-60-75", 5, 9),
        spot(
            "sides",
            Side::Front,
            [MIDDLE - half, 0.0, bands[0].0],
            [MIDDLE, DEPTH, bands[9].0],
        ),
    ]
}
