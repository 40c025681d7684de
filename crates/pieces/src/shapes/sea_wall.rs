//! `sea-wall`: a wave that shortens from 10 to 3 along the wall, always as steep; fine segments on
//! the sea side, coarse ones on the land side. Changes of direction.

use super::{Piece, spot};
use crate::region::Region;
use crate::settings::Settings;
use crate::stack::Solid;
use crate::views::{Side, Spot};

pub(super) const PIECE: Piece = Piece {
    id: "sea-wall",
    name: "Sea wall",
    build,
    spots,
};

const LENGTH: f64 = 68.0;
const LONGEST: f64 = 10.0;
const SHORTEST: f64 = 3.0;
/// Height of a wave over its length: as steep everywhere.
const STEEPNESS: f64 = 0.14;
const SEA: f64 = 0.1;
const LAND: f64 = 0.8;

/// The wave at x: its phase is the integral of 1 over a wave length that falls evenly.
fn wave(x: f64) -> f64 {
    let fall = (LONGEST - SHORTEST) / LENGTH;
    let length = LONGEST - fall * x;
    let phase = (LONGEST / length).ln() / fall;
    STEEPNESS * length * (std::f64::consts::TAU * phase).sin()
}

/// Points of a face from 0 to the end, one a step.
fn face(step: f64, middle: f64) -> Vec<[f64; 2]> {
    let steps = (LENGTH / step).round() as usize;
    let at = |k: usize| LENGTH * k as f64 / steps as f64;
    (0..=steps).map(|k| [at(k), middle + wave(at(k))]).collect()
}

fn build(s: &Settings) -> Solid {
    let mut solid = Solid::default();
    let foot = s.z(1.0);
    solid.add(0.0, foot, Region::rect(0.0, 0.0, LENGTH, 13.0));
    let mut outline = face(SEA, 4.5);
    let mut land = face(LAND, 8.5);
    land.reverse();
    outline.extend(land);
    solid.add(foot, s.z(13.0), Region::polygon(&outline));
    solid
}

fn spots(s: &Settings) -> Vec<Spot> {
    let (foot, top) = (s.z(1.0), s.z(13.0));
    vec![
        spot("sea-side", Side::Top, [0.0, 2.5, foot], [LENGTH, 6.0, top]),
        spot(
            "land-side",
            Side::Top,
            [0.0, 7.0, foot],
            [LENGTH, 10.5, top],
        ),
        spot("crests", Side::Top, [0.0, 2.5, foot], [20.0, 10.5, top]),
    ]
}
