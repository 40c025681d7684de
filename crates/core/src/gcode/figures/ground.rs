//! What lies beneath: the height of the plastic laid so far, on a grid over the plate.

/// Side of a cell, mm.
const CELL: f64 = 0.4;

/// The map grows no larger than so many cells a side: 1.6 m.
const MOST: i32 = 4096;

/// No more cells than that: 6 million are 24 MB.
const MOST_CELLS: i64 = 6_000_000;

/// Cells added around a place outside the map.
const MARGIN: i32 = 48;

/// A height in hundredths of a millimetre above the plate. 0 is bare plate.
type Height = u16;

/// How high plastic lies where. Two heights to a cell: the topmost, and the one below it, which is
/// what a line of the topmost layer rests on.
#[derive(Debug, Default)]
pub(super) struct Ground {
    cells: Vec<(Height, Height)>,
    left: i32,
    front: i32,
    wide: i32,
    deep: i32,
}

fn height(z: f64) -> Height {
    (z * 100.0 + 0.5).clamp(0.0, f64::from(Height::MAX)) as Height
}

/// Added before a number is cut to a whole one, so that the cut goes down below 0, too.
const BELOW: f64 = 1_048_576.0;

#[inline]
fn cell(mm: f64) -> i32 {
    (mm * (1.0 / CELL) + BELOW) as i32 - BELOW as i32
}

/// A way over the grid in pieces: the middle of the first, from one to the next, and how many. In
/// 65,536ths of a cell.
#[inline]
fn walk(from: [f64; 3], to: [f64; 3], pieces: f64) -> (i64, i64, i64, i64, i32) {
    const FINE: f64 = 65_536.0 / CELL;
    let pieces = pieces.min(1e6) as i32;
    let share = if pieces == 1 {
        FINE
    } else {
        FINE / f64::from(pieces)
    };
    let (dx, dy) = ((to[0] - from[0]) * share, (to[1] - from[1]) * share);
    let (x, y) = (from[0] * FINE + dx * 0.5, from[1] * FINE + dy * 0.5);
    (x as i64, y as i64, dx as i64, dy as i64, pieces)
}

impl Ground {
    #[inline]
    fn index(&self, x: i32, y: i32) -> Option<usize> {
        let (column, row) = (x.wrapping_sub(self.left), y.wrapping_sub(self.front));
        let inside = (column as u32) < self.wide as u32 && (row as u32) < self.deep as u32;
        inside.then(|| (row as usize) * (self.wide as usize) + column as usize)
    }

    /// Lays a straight line whose top is at `z` and which is `thick` mm high. Returns how many of
    /// its millimetres hang over nothing.
    #[inline]
    pub fn lay(&mut self, from: [f64; 3], to: [f64; 3], length: f64, thick: f64) -> f64 {
        let (mut x, mut y, dx, dy, pieces) = walk(from, to, length * (1.0 / CELL) + 1.0);
        let top = height(to[2]);
        let floor = height(to[2] - thick - thick.max(0.15));
        let mut open = 0;
        for _ in 0..pieces {
            let (cx, cy) = ((x >> 16) as i32, (y >> 16) as i32);
            let at = self.index(cx, cy).or_else(|| self.grow(cx, cy));
            if let Some(at) = at {
                let cell = &mut self.cells[at];
                let beneath = if cell.0 < top { cell.0 } else { cell.1 };
                open += i32::from(beneath < floor);
                if cell.0 < top {
                    *cell = (top, cell.0);
                }
            }
            (x, y) = (x + dx, y + dy);
        }
        if open == 0 {
            0.0
        } else {
            f64::from(open) / f64::from(pieces) * length
        }
    }

    /// Whether a line whose top is at `z` begins in the air: nothing beneath it is nearer than the
    /// width of a line.
    pub fn in_air(&self, at: [f64; 3], thick: f64, width: f64) -> bool {
        let bottom = at[2] - thick;
        if bottom <= 0.05 {
            return false;
        }
        let (top, floor) = (height(at[2] - 0.02), height(bottom - width));
        // From the middle of one line to the edge of another, half a line further.
        let reach = 1.5 * width;
        let (x0, x1) = (cell(at[0] - reach), cell(at[0] + reach));
        let (y0, y1) = (cell(at[1] - reach), cell(at[1] + reach));
        for y in y0..=y1 {
            for x in x0..=x1 {
                let Some(index) = self.index(x, y) else {
                    continue;
                };
                let (highest, below) = self.cells[index];
                let beneath = if highest <= top { highest } else { below };
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
        let (mut x, mut y, dx, dy, pieces) = walk(from, to, (length / 2.0).clamp(1.0, 400.0));
        let mut open = 0;
        for _ in 0..pieces {
            let at = self.index((x >> 16) as i32, (y >> 16) as i32);
            open += i32::from(at.is_none_or(|at| self.cells[at].0 <= floor));
            (x, y) = (x + dx, y + dy);
        }
        length * f64::from(open) / f64::from(pieces)
    }

    /// Makes room for a place outside, as far as there is any.
    #[cold]
    fn grow(&mut self, x: i32, y: i32) -> Option<usize> {
        let (mut left, mut front) = (x - MARGIN, y - MARGIN);
        let (mut right, mut back) = (x + MARGIN, y + MARGIN);
        if !self.cells.is_empty() {
            (left, front) = (left.min(self.left), front.min(self.front));
            right = right.max(self.left + self.wide);
            back = back.max(self.front + self.deep);
        }
        let (wide, deep) = (right.checked_sub(left)?, back.checked_sub(front)?);
        if wide > MOST || deep > MOST || i64::from(wide) * i64::from(deep) > MOST_CELLS {
            return None;
        }
        let mut cells = vec![(0, 0); wide as usize * deep as usize];
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
        };
        self.index(x, y)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(ground: &mut Ground, from: [f64; 2], to: [f64; 2], z: f64) -> f64 {
        let length = (to[0] - from[0]).hypot(to[1] - from[1]);
        ground.lay([from[0], from[1], z], [to[0], to[1], z], length, 0.2)
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
}
