//! The plane through heights at points, and what is left of them beside it.

use crate::measures::maths::{mean, solve};
use crate::measures::refused::{Refused, refuse};

/// A plane through points by least squares: height at the middle, rise along X and Y.
pub struct Plane {
    middle: (f64, f64, f64),
    rise: (f64, f64),
    /// Centred sums: of squares in X, in Y, of products.
    sums: (f64, f64, f64),
    /// Spread of the points along their longer axis.
    pub spread: f64,
    many: f64,
}

impl Plane {
    /// The plane through points.
    ///
    /// # Errors
    /// When they lie in a line: no plane follows from them.
    pub fn through(xs: &[f64], ys: &[f64], zs: &[f64]) -> Result<Self, Refused> {
        let middle = (mean(xs), mean(ys), mean(zs));
        let n = xs.len() as f64;
        let sum = |f: &dyn Fn(usize) -> f64| -> f64 { (0..xs.len()).map(f).sum() };
        let (dx, dy) = (|i: usize| xs[i] - middle.0, |i: usize| ys[i] - middle.1);
        let dz = |i: usize| zs[i] - middle.2;
        let (sxx, syy) = (sum(&|i| dx(i).powi(2)), sum(&|i| dy(i).powi(2)));
        let sxy = sum(&|i| dx(i) * dy(i));
        let (half, root) = ((sxx + syy) / 2.0, ((sxx - syy) / 2.0).hypot(sxy));
        let long = ((half + root) / n).sqrt();
        let short = ((half - root).max(0.0) / n).sqrt();
        if short < 1.0 || short < 0.02 * long {
            return refuse(
                "x_mm, y_mm: the points lie in a line: no plane follows from them; probe three \
                 corners at least",
            );
        }
        let det = sxx * syy - sxy * sxy;
        let (sxz, syz) = (sum(&|i| dx(i) * dz(i)), sum(&|i| dy(i) * dz(i)));
        let rise = ((syy * sxz - sxy * syz) / det, (sxx * syz - sxy * sxz) / det);
        Ok(Self {
            middle,
            rise,
            sums: (sxx, syy, sxy),
            spread: long,
            many: n,
        })
    }

    /// Its height at a place.
    pub fn at(&self, x: f64, y: f64) -> f64 {
        self.middle.2 + self.rise.0 * (x - self.middle.0) + self.rise.1 * (y - self.middle.1)
    }

    /// Its rise along X and Y.
    pub fn rise(&self) -> (f64, f64) {
        self.rise
    }

    /// √(vᵀS⁻¹v): how far the plane's own uncertainty grows along a way.
    pub fn lever(&self, (dx, dy): (f64, f64)) -> f64 {
        let (sxx, syy, sxy) = self.sums;
        let det = sxx * syy - sxy * sxy;
        ((syy * dx * dx - 2.0 * sxy * dx * dy + sxx * dy * dy) / det).sqrt()
    }

    /// Whether a place lies far outside the points.
    pub fn outside(&self, x: f64, y: f64) -> bool {
        let lever = self.lever((x - self.middle.0, y - self.middle.1));
        1.0 / self.many + lever * lever > 1.0
    }

    /// The heights of a full quadratic through the points, for nine points or more.
    pub fn quadratic(&self, xs: &[f64], ys: &[f64], zs: &[f64]) -> Option<Vec<f64>> {
        if xs.len() < 9 {
            return None;
        }
        let row = |(x, y): (&f64, &f64)| {
            let u = (x - self.middle.0) / self.spread;
            let v = (y - self.middle.1) / self.spread;
            [1.0, u, v, u * u, u * v, v * v]
        };
        let rows: Vec<[f64; 6]> = xs.iter().zip(ys).map(row).collect();
        let (mut a, mut b) = ([[0.0; 6]; 6], [0.0; 6]);
        for (row, z) in rows.iter().zip(zs) {
            for i in 0..6 {
                b[i] += row[i] * z;
                for j in 0..6 {
                    a[i][j] += row[i] * row[j];
                }
            }
        }
        let c = solve(a, b)?;
        let height = |row: &[f64; 6]| row.iter().zip(&c).map(|(r, c)| r * c).sum();
        Some(rows.iter().map(height).collect())
    }
}
