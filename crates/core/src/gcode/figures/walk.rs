//! Ways over the grid of heights, in even pieces.

use super::nearest;

/// Side of a cell, mm.
pub(super) const CELL: f64 = 0.4;

/// Parts to a millimetre: 65,536 to a cell.
pub(super) const FINE: f64 = 65_536.0 / CELL;

/// So many pieces are told apart by multiplying and not by dividing.
const FEW: i64 = 63;

/// One by a number of pieces, in 2^32nds.
const SHARES: [i64; 64] = {
    let mut shares = [0; 64];
    let mut pieces = 1;
    while pieces < 64 {
        shares[pieces] = (1 << 32) / pieces as i64;
        pieces += 1;
    }
    shares
};

/// The column or row of a place.
#[inline]
pub(super) fn cell(mm: f64) -> i32 {
    (nearest(mm * FINE) >> 16) as i32
}

/// A way over the grid in even pieces, in parts of a cell: the middle of the next piece, and how
/// far it is to the one after.
pub(super) struct Walk {
    x: i64,
    y: i64,
    dx: i64,
    dy: i64,
}

impl Walk {
    #[inline]
    pub fn new(from: [f64; 3], to: [f64; 3], pieces: i64) -> Self {
        let share = FINE / pieces as f64;
        let (dx, dy) = ((to[0] - from[0]) * share, (to[1] - from[1]) * share);
        Walk {
            x: nearest(from[0] * FINE + dx * 0.5),
            y: nearest(from[1] * FINE + dy * 0.5),
            dx: nearest(dx),
            dy: nearest(dy),
        }
    }

    /// The cell the next piece is in.
    #[inline]
    pub fn step(&mut self) -> (i32, i32) {
        let cell = ((self.x >> 16) as i32, (self.y >> 16) as i32);
        self.x = self.x.wrapping_add(self.dx);
        self.y = self.y.wrapping_add(self.dy);
        cell
    }
}

/// The middle of the first of so many pieces between two places, and from one to the next, all in
/// parts of a cell.
#[inline]
pub(super) fn even(begins: [i32; 2], ends: [i32; 2], pieces: i64) -> ([i32; 2], [i32; 2]) {
    let step = [0, 1].map(|axis| {
        let way = i64::from(ends[axis] - begins[axis]);
        if pieces <= FEW {
            (way * SHARES[pieces as usize]) >> 32
        } else {
            way / pieces
        }
    });
    let middle = [0, 1].map(|axis| begins[axis] + (step[axis] >> 1) as i32);
    (middle, step.map(|step| step as i32))
}
