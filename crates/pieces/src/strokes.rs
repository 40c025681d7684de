//! Signs drawn with a pen: figures and bars, as regions to raise or to sink.

use crate::region::{Region, um};
use i_overlay::i_float::int::point::IntPoint;
use i_overlay::mesh::int::arc::ArcOptions;
use i_overlay::mesh::int::stroke::offset::IntStrokeOffset;
use i_overlay::mesh::int::style::{IntLineCap, IntLineJoin, IntStrokeStyle};

/// A line of a pen through points, mm.
pub(crate) fn stroke(points: &[[f64; 2]], pen: f64) -> Region {
    let path: Vec<IntPoint<i32>> = points
        .iter()
        .map(|p| IntPoint::new(um(p[0]), um(p[1])))
        .collect();
    let round = || IntLineCap::Round(ArcOptions::default());
    let style = IntStrokeStyle::new(um(pen))
        .start_cap(round())
        .end_cap(round())
        .line_join(IntLineJoin::Round(ArcOptions::default()));
    Region::of(&path[..].stroke(&style, false).unwrap_or_default())
}

/// The lines of a figure in a field of 1 by 2.
fn lines(digit: u32) -> &'static [&'static [[f64; 2]]] {
    match digit {
        0 => &[&[[0.0, 0.0], [1.0, 0.0], [1.0, 2.0], [0.0, 2.0], [0.0, 0.0]]],
        1 => &[&[[0.1, 1.5], [0.6, 2.0], [0.6, 0.0]]],
        2 => &[&[
            [0.0, 2.0],
            [1.0, 2.0],
            [1.0, 1.0],
            [0.0, 1.0],
            [0.0, 0.0],
            [1.0, 0.0],
        ]],
        3 => &[
            &[[0.0, 2.0], [1.0, 2.0], [1.0, 0.0], [0.0, 0.0]],
            &[[0.2, 1.0], [1.0, 1.0]],
        ],
        4 => &[
            &[[0.0, 2.0], [0.0, 1.0], [1.0, 1.0]],
            &[[1.0, 2.0], [1.0, 0.0]],
        ],
        5 => &[&[
            [1.0, 2.0],
            [0.0, 2.0],
            [0.0, 1.0],
            [1.0, 1.0],
            [1.0, 0.0],
            [0.0, 0.0],
        ]],
        6 => &[&[
            [1.0, 2.0],
            [0.0, 2.0],
            [0.0, 0.0],
            [1.0, 0.0],
            [1.0, 1.0],
            [0.0, 1.0],
        ]],
        7 => &[&[[0.0, 2.0], [1.0, 2.0], [0.4, 0.0]]],
        8 => &[
            &[[0.0, 0.0], [1.0, 0.0], [1.0, 2.0], [0.0, 2.0], [0.0, 0.0]],
            &[[0.0, 1.0], [1.0, 1.0]],
        ],
        _ => &[&[
            [1.0, 1.0],
            [0.0, 1.0],
            [0.0, 2.0],
            [1.0, 2.0],
            [1.0, 0.0],
            [0.0, 0.0],
        ]],
    }
}

/// A whole number as raised or sunk figures: lower left corner, height and pen in mm.
pub(crate) fn figures(number: u32, [x, y]: [f64; 2], height: f64, pen: f64) -> Region {
    let half = (height - pen) / 2.0;
    let mut whole = Region::default();
    for (k, digit) in number.to_string().chars().enumerate() {
        let left = x + pen / 2.0 + k as f64 * (half + 2.0 * pen);
        for line in lines(digit.to_digit(10).unwrap_or(0)) {
            let at = |p: &[f64; 2]| [left + p[0] * half, y + pen / 2.0 + p[1] * half];
            let line: Vec<[f64; 2]> = line.iter().map(at).collect();
            whole = whole.union(&stroke(&line, pen));
        }
    }
    whole
}
