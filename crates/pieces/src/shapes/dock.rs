//! `dock`: three blocks of 48, 24 and 12, to be ended without a top skin. Infill and its ends.

use super::{Piece, spot};
use crate::region::Region;
use crate::settings::Settings;
use crate::stack::Solid;
use crate::views::{Side, Spot};

pub(super) const PIECE: Piece = Piece {
    id: "dock",
    name: "Dry dock",
    build,
    spots,
};

fn build(s: &Settings) -> Solid {
    let mut solid = Solid::default();
    let top = s.z(6.0);
    let blocks = [
        Region::rect(0.0, 0.0, 48.0, 14.0),
        Region::rect(0.0, 16.0, 24.0, 30.0),
        Region::rect(36.0, 16.0, 48.0, 30.0),
    ];
    let foot = s.z(0.4);
    let mut ground = blocks.iter().fold(Region::default(), |all, b| all.union(b));
    // Ties of two layers hold the three together.
    for (x, y) in [(6.0, 13.0), (18.0, 13.0), (40.0, 13.0)] {
        ground = ground.union(&Region::rect(x, y, x + 4.0, y + 4.0));
    }
    solid.add(0.0, foot, ground);
    for block in blocks {
        solid.add(foot, top, block);
    }
    solid
}

fn spots(s: &Settings) -> Vec<Spot> {
    let top = s.z(6.0);
    vec![
        spot("long", Side::Top, [0.0, 0.0, 0.0], [48.0, 14.0, top]),
        spot("middle", Side::Top, [0.0, 16.0, 0.0], [24.0, 30.0, top]),
        spot("short", Side::Top, [36.0, 16.0, 0.0], [48.0, 30.0, top]),
    ]
}
