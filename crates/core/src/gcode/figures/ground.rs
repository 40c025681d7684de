//! What lies beneath: the height of the plastic laid so far, on a grid over the plate.

use super::bridges::Bridges;
use super::walk::{CELL, FINE, Walk, cell, even};
use super::{least, nearest};

/// The map grows no larger than so many cells a side: 1.6 m.
const MOST: i32 = 4096;

/// No more cells than that: 6 million are 24 MB.
const MOST_CELLS: i64 = 6_000_000;

/// Cells added around a place outside the map.
const MARGIN: i32 = 48;

/// A line is laid in no more pieces.
const MOST_PIECES: f64 = 16_384.0;

/// A line whose underside is no higher lies on the plate, mm.
const ON_PLATE: f64 = 0.05;

/// No line ended yet.
const NOWHERE: ([f64; 2], [i32; 2]) = ([f64::NAN; 2], [0; 2]);

/// How high plastic lies where, in hundredths of a millimetre above the plate; 0 is bare plate. Two
/// heights to a cell: the topmost in its upper half, and below it the one that a line of the
/// topmost layer rests on.
#[derive(Debug)]
pub(super) struct Ground {
    cells: Vec<u32>,
    left: i32,
    front: i32,
    wide: i32,
    deep: i32,
    level: Level,
    /// Where the last line ended: in mm, and in parts of a cell from the left and front.
    pen: ([f64; 2], [i32; 2]),
    /// Spans of the lines that are laid.
    pub bridges: Bridges,
}

/// Heights of the lines that are laid.
#[derive(Debug, Default)]
struct Level {
    /// Their top.
    top: u32,
    /// What lies lower than this carries them no more.
    floor: u32,
}

fn height(z: f64) -> u32 {
    (z * 100.0 + 0.5).clamp(0.0, f64::from(u16::MAX)) as u32
}

/// The height in a cell beneath a line with its top at this one.
#[inline]
fn beneath(cell: u32, top: u32) -> u32 {
    let (highest, below) = (cell >> 16, cell & 0xffff);
    if highest < top { highest } else { below }
}

impl Default for Ground {
    fn default() -> Self {
        Ground {
            cells: Vec::new(),
            left: 0,
            front: 0,
            wide: 0,
            deep: 0,
            level: Level::default(),
            pen: NOWHERE,
            bridges: Bridges::default(),
        }
    }
}

impl Ground {
    #[inline]
    fn index(&self, x: i32, y: i32) -> Option<usize> {
        let (column, row) = (x.wrapping_sub(self.left), y.wrapping_sub(self.front));
        let inside = (column as u32) < self.wide as u32 && (row as u32) < self.deep as u32;
        inside.then(|| (row as usize) * (self.wide as usize) + column as usize)
    }

    /// A place in parts of a cell from the left and front of the map; none off the map.
    #[inline]
    fn part(&self, at: [f64; 3]) -> Option<[i32; 2]> {
        let x = nearest(at[0] * FINE).wrapping_sub(i64::from(self.left) << 16);
        let y = nearest(at[1] * FINE).wrapping_sub(i64::from(self.front) << 16);
        let inside = |part: i64, cells: i32| (part as u64) < (cells as u64) << 16;
        (inside(x, self.wide) && inside(y, self.deep)).then_some([x as i32, y as i32])
    }

    /// The ends of a line, for which the map grows if it can.
    #[cold]
    fn ends(&mut self, from: [f64; 3], to: [f64; 3]) -> Option<[[i32; 2]; 2]> {
        for at in [from, to] {
            let (x, y) = (cell(at[0]), cell(at[1]));
            if self.index(x, y).is_none() && !self.grow(x, y) {
                return None;
            }
        }
        Some([self.part(from)?, self.part(to)?])
    }

    /// Lines are laid from now on with their top at `z`, `thick` mm high. Those on the plate hang
    /// over nothing.
    pub fn level(&mut self, z: f64, thick: f64) {
        let on_plate = z - thick <= ON_PLATE;
        self.level = Level {
            top: height(z),
            floor: if on_plate {
                0
            } else {
                height(z - thick - thick.max(0.15))
            },
        };
    }

    /// Lays a straight line. Returns how many of its millimetres hang over nothing. One that leads
    /// off the largest map is not laid.
    #[inline]
    pub fn lay(&mut self, from: [f64; 3], to: [f64; 3], length: f64) -> f64 {
        let [x, y] = self.pen.0;
        let begins = if x == from[0] && y == from[1] {
            Some(self.pen.1)
        } else {
            self.part(from)
        };
        let ends = match (begins, self.part(to)) {
            (Some(begins), Some(ends)) => Some([begins, ends]),
            _ => self.ends(from, to),
        };
        let Some([begins, ends]) = ends else {
            return 0.0;
        };
        self.pen = ([to[0], to[1]], ends);
        let pieces = nearest(least(length * (1.0 / CELL), MOST_PIECES) + 0.5).max(1);
        let (middle, step) = even(begins, ends, pieces);
        let open = if pieces <= 2 {
            self.cover(middle, step, pieces)
        } else {
            self.cover_long(middle, step, pieces)
        };
        if open == 0 {
            if self.bridges.hangs() {
                self.bridges.land();
            }
            0.0
        } else {
            self.hang(middle, step, pieces, length);
            f64::from(open) / pieces as f64 * length
        }
    }

    /// Follows a line that was laid once more: where it hangs, and where it lands.
    #[cold]
    fn hang(&mut self, from: [i32; 2], [dx, dy]: [i32; 2], pieces: i64, length: f64) {
        let [mut x, mut y] = from;
        let piece = length / pieces as f64;
        for _ in 0..pieces {
            let place = (y >> 16).wrapping_mul(self.wide).wrapping_add(x >> 16);
            let cell = self.cells.get(place as usize);
            let hangs = |cell: &u32| beneath(*cell, self.level.top) < self.level.floor;
            if cell.is_some_and(hangs) {
                self.bridges.hang(piece);
            } else {
                self.bridges.land();
            }
            (x, y) = (x.wrapping_add(dx), y.wrapping_add(dy));
        }
    }

    #[inline(never)]
    fn cover_long(&mut self, from: [i32; 2], step: [i32; 2], pieces: i64) -> u32 {
        self.cover(from, step, pieces)
    }

    /// Lays plastic in so many cells, from one on in even steps, in parts of a cell. Returns how
    /// many hang over nothing.
    #[inline(always)]
    fn cover(&mut self, from: [i32; 2], [dx, dy]: [i32; 2], pieces: i64) -> u32 {
        let [mut x, mut y] = from;
        let (cells, wide) = (&mut self.cells[..], self.wide);
        let Level { top, floor } = self.level;
        let covered = top << 16;
        let mut open = 0;
        for _ in 0..pieces {
            let place = (y >> 16).wrapping_mul(wide).wrapping_add(x >> 16);
            if let Some(cell) = cells.get_mut(place as usize) {
                let was = *cell;
                let (beneath, now) = if was < covered {
                    (was >> 16, covered | was >> 16)
                } else {
                    (was & 0xffff, was)
                };
                open += u32::from(beneath < floor);
                *cell = now;
            }
            (x, y) = (x.wrapping_add(dx), y.wrapping_add(dy));
        }
        open
    }

    /// Whether a line whose top is at `z` begins in the air: nothing beneath it is nearer than the
    /// width of a line.
    pub fn in_air(&self, at: [f64; 3], thick: f64, width: f64) -> bool {
        let bottom = at[2] - thick;
        if bottom <= ON_PLATE {
            return false;
        }
        // A hair below its own top: what was laid in this layer carries nothing.
        let (top, floor) = (height(at[2] - 0.01), height(bottom - width));
        // From the middle of one line to the edge of another, half a line further.
        let reach = 1.5 * width;
        let (x0, x1) = (cell(at[0] - reach), cell(at[0] + reach));
        let (y0, y1) = (cell(at[1] - reach), cell(at[1] + reach));
        for y in y0..=y1 {
            for x in x0..=x1 {
                let Some(index) = self.index(x, y) else {
                    continue;
                };
                let beneath = beneath(self.cells[index], top);
                let near = |cell: i32, at: f64| {
                    let low = f64::from(cell) * CELL;
                    (low - at).max(at - low - CELL).max(0.0)
                };
                if beneath > 0 && beneath >= floor && near(x, at[0]).hypot(near(y, at[1])) <= reach
                {
                    return false;
                }
            }
        }
        true
    }

    /// How much of a way at height `z` leads over places where nothing stands, mm.
    pub fn open(&self, from: [f64; 3], to: [f64; 3], length: f64, layer_z: f64) -> f64 {
        let floor = height(layer_z - 1.0);
        let pieces = nearest((length / 2.0).clamp(1.0, 400.0));
        let mut walk = Walk::new(from, to, pieces);
        let mut open = 0;
        for _ in 0..pieces {
            let (x, y) = walk.step();
            let stands = |at: usize| self.cells[at] >> 16 > floor;
            open += i32::from(!self.index(x, y).is_some_and(stands));
        }
        length * f64::from(open) / pieces as f64
    }

    /// Makes room for a place outside, as far as there is any.
    #[cold]
    fn grow(&mut self, x: i32, y: i32) -> bool {
        let [mut left, mut front] = [x, y].map(|at| at.saturating_sub(MARGIN));
        let [mut right, mut back] = [x, y].map(|at| at.saturating_add(MARGIN));
        if !self.cells.is_empty() {
            (left, front) = (left.min(self.left), front.min(self.front));
            right = right.max(self.left + self.wide);
            back = back.max(self.front + self.deep);
        }
        let (wide, deep) = (right.saturating_sub(left), back.saturating_sub(front));
        if wide > MOST || deep > MOST || i64::from(wide) * i64::from(deep) > MOST_CELLS {
            return false;
        }
        let mut cells = vec![0; wide as usize * deep as usize];
        for row in 0..self.deep {
            let from = row as usize * self.wide as usize;
            let to =
                (row + self.front - front) as usize * wide as usize + (self.left - left) as usize;
            let many = self.wide as usize;
            cells[to..to + many].copy_from_slice(&self.cells[from..from + many]);
        }
        *self = Ground {
            cells,
            left,
            front,
            wide,
            deep,
            level: std::mem::take(&mut self.level),
            pen: NOWHERE,
            bridges: std::mem::take(&mut self.bridges),
        };
        true
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(ground: &mut Ground, from: [f64; 2], to: [f64; 2], z: f64) -> f64 {
        let length = (to[0] - from[0]).hypot(to[1] - from[1]);
        ground.level(z, 0.2);
        ground.lay([from[0], from[1], z], [to[0], to[1], z], length)
    }

    #[test]
    fn a_line_rests_on_what_lies_beneath_it() {
        let mut ground = Ground::default();
        assert!(line(&mut ground, [10.0, 10.0], [30.0, 10.0], 0.2) < 0.01);
        assert!(line(&mut ground, [10.0, 10.0], [30.0, 10.0], 0.4) < 0.01);
        let half = line(&mut ground, [20.0, 10.0], [40.0, 10.0], 0.6);
        assert!((half - 10.0).abs() < 0.6, "{half}");
    }

    #[test]
    fn a_start_far_from_anything_beneath_is_in_the_air() {
        let mut ground = Ground::default();
        line(&mut ground, [10.0, 10.0], [30.0, 10.0], 0.2);
        assert!(!ground.in_air([20.0, 10.3, 0.4], 0.2, 0.45));
        assert!(ground.in_air([20.0, 12.0, 0.4], 0.2, 0.45));
        assert!(
            ground.in_air([20.0, 10.0, 2.4], 0.2, 0.45),
            "two millimetres above"
        );
        assert!(!ground.in_air([20.0, 12.0, 0.2], 0.2, 0.45), "on the plate");
        // Its own layer does not carry it, and the gap above a support does.
        line(&mut ground, [20.0, 12.0], [30.0, 12.0], 0.4);
        assert!(ground.in_air([20.0, 12.2, 0.4], 0.2, 0.45));
        assert!(!ground.in_air([20.0, 10.0, 0.6], 0.2, 0.45));
    }

    #[test]
    fn places_out_of_reach_are_not_kept() {
        let mut ground = Ground::default();
        line(&mut ground, [0.0, 0.0], [10.0, 0.0], 0.2);
        line(&mut ground, [900_000.0, 0.0], [900_001.0, 0.0], 0.2);
        assert!(ground.cells.len() < 20_000);
        assert!((ground.open([0.0, 50.0, 5.0], [40.0, 50.0, 5.0], 40.0, 5.0) - 40.0).abs() < 1e-9);
    }

    proptest::proptest! {
        #[test]
        fn a_line_carries_the_same_line_above(
            from in [-50.0..250.0f64, -50.0..250.0],
            to in [-50.0..250.0f64, -50.0..250.0],
            pieces in 1..30u32,
        ) {
            let mut ground = Ground::default();
            let length = (to[0] - from[0]).hypot(to[1] - from[1]);
            let place = |share: f64| [0, 1].map(|at| from[at] + (to[at] - from[at]) * share);
            let mut lay = |z: f64| {
                (0..pieces).map(|piece| {
                    let ends = [piece, piece + 1].map(|at| f64::from(at) / f64::from(pieces));
                    let [begin, end] = ends.map(place);
                    line(&mut ground, begin, end, z)
                }).sum::<f64>()
            };
            let [plate, second, third] = [0.2, 0.4, 0.6].map(&mut lay);
            proptest::prop_assert!(plate == 0.0 && second == 0.0 && third == 0.0, "{second}");
            let far = line(&mut ground, from, to, 2.0);
            proptest::prop_assert!((far - length).abs() < 1e-9, "{far} of {length}");
        }
    }
}
