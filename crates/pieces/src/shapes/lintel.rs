//! `lintel`: four beams over 10, 20, 30 and 40 of air. Bridges.

use super::{Piece, spot};
use crate::region::Region;
use crate::settings::Settings;
use crate::stack::Solid;
use crate::views::{Side, Spot};

pub(super) const PIECE: Piece = Piece {
    id: "lintel",
    name: "Lintel",
    build,
    spots,
};

const SPANS: [f64; 4] = [10.0, 20.0, 30.0, 40.0];
const PIER: f64 = 4.0;
const BEAM: f64 = 6.0;
const PITCH: f64 = 9.0;

fn build(s: &Settings) -> Solid {
    let mut solid = Solid::default();
    let foot = s.z(0.4);
    let under = s.z(10.0);
    let top = s.above(under, 6);
    solid.add(0.0, foot, Region::rect(0.0, 0.0, 48.0, 33.0));
    solid.add(foot, top, Region::rect(0.0, 0.0, PIER, 33.0));
    for (k, span) in SPANS.into_iter().enumerate() {
        let (y, end) = (PITCH * k as f64, PIER + span);
        solid.add(foot, top, Region::rect(end, y, end + PIER, y + BEAM));
        solid.add(under, top, Region::rect(PIER, y, end, y + BEAM));
        // One dot more on the pier for each beam.
        for dot in 0..=k {
            let across = y + 0.9 + 1.4 * dot as f64;
            let mark = Region::circle(2.0, across, 0.5_f64.max(s.line * 0.6));
            solid.add(top, s.above(top, 2), mark);
        }
    }
    solid
}

fn spots(s: &Settings) -> Vec<Spot> {
    let under = s.z(10.0);
    let beam = |feature, k: usize| {
        let y = PITCH * k as f64;
        let end = PIER + SPANS[k];
        spot(
            feature,
            Side::Front,
            [PIER, y, under - 1.0],
            [end, y + BEAM, s.above(under, 6)],
        )
    };
    vec![
        beam("span-10", 0),
        beam("span-20", 1),
        beam("span-30", 2),
        beam("span-40", 3),
    ]
}
