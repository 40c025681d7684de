//! Statistics and densities the measures share.
//!
//! Uncertainties are one standard deviation and combine as roots of sums of squares. A density is
//! the likelihood of a reading under an outcome, up to a common factor.

use std::f64::consts::{PI, SQRT_2};

/// The mean.
pub fn mean(values: &[f64]) -> f64 {
    values.iter().sum::<f64>() / values.len() as f64
}

/// The standard deviation of readings about their mean, n − 1 in the denominator; 0 for one.
pub fn sd(values: &[f64]) -> f64 {
    if values.len() < 2 {
        return 0.0;
    }
    let m = mean(values);
    let squares: f64 = values.iter().map(|v| (v - m).powi(2)).sum();
    (squares / (values.len() - 1) as f64).sqrt()
}

/// The uncertainty of a mean from the scatter of its readings.
pub fn of_mean(values: &[f64]) -> f64 {
    sd(values) / (values.len() as f64).sqrt()
}

/// The middle value, of two middle ones their mean.
pub fn median(values: &[f64]) -> f64 {
    let mut sorted = values.to_vec();
    sorted.sort_by(f64::total_cmp);
    let n = sorted.len();
    (sorted[n / 2] + sorted[(n - 1) / 2]) / 2.0
}

/// The value below which a share of the values lies, between neighbours in proportion.
pub fn percentile(values: &[f64], share: f64) -> f64 {
    let mut sorted = values.to_vec();
    sorted.sort_by(f64::total_cmp);
    let place = share * (sorted.len() - 1) as f64;
    let low = place.floor() as usize;
    let high = (low + 1).min(sorted.len() - 1);
    sorted[low] + (place - low as f64) * (sorted[high] - sorted[low])
}

/// The largest value.
pub fn largest(values: &[f64]) -> f64 {
    values.iter().copied().fold(f64::NEG_INFINITY, f64::max)
}

/// The smallest value.
pub fn smallest(values: &[f64]) -> f64 {
    values.iter().copied().fold(f64::INFINITY, f64::min)
}

/// From the smallest to the largest.
pub fn range(values: &[f64]) -> f64 {
    largest(values) - smallest(values)
}

/// The root of the sum of squares.
pub fn rss<const N: usize>(parts: [f64; N]) -> f64 {
    parts.iter().map(|p| p * p).sum::<f64>().sqrt()
}

/// What a sum may be off by in the last place before a step is rounded the other way.
const HAIR: f64 = 1e-9;

/// Rounded half up to a step.
pub fn nearest(value: f64, step: f64) -> f64 {
    (value / step + 0.5 + HAIR).floor() * step
}

/// Rounded down to a step.
pub fn down(value: f64, step: f64) -> f64 {
    (value / step + HAIR).floor() * step
}

/// Rounded up to a whole number.
pub fn ceil(value: f64) -> f64 {
    (value - HAIR).ceil()
}

/// How far a number of turns lies from a whole one.
pub fn off_whole(x: f64) -> f64 {
    x - (x + 0.5).floor()
}

/// Φ, the share of a normal distribution below z.
pub fn phi(z: f64) -> f64 {
    0.5 * libm::erfc(-z / SQRT_2)
}

/// The normal density.
pub fn normal(x: f64, middle: f64, s: f64) -> f64 {
    (-0.5 * ((x - middle) / s).powi(2)).exp() / (s * (2.0 * PI).sqrt())
}

/// A size that is never negative, usually small.
pub fn half(x: f64, s: f64) -> f64 {
    2.0 * normal(x, 0.0, s)
}

/// Anything from `low` to `high`, its edges washed out.
pub fn between(x: f64, low: f64, high: f64, s: f64) -> f64 {
    (phi((x - low) / s) - phi((x - high) / s)) / (high - low)
}

/// From `low` on over a width, and beyond it only more so.
pub fn over(x: f64, low: f64, width: f64, s: f64) -> f64 {
    phi((x - low) / s) / width
}

/// From `high` downward over a width, and beyond it only more so.
pub fn under(x: f64, high: f64, width: f64, s: f64) -> f64 {
    phi((high - x) / s) / width
}

/// The cross section of a filament of a diameter.
pub fn area(diameter: f64) -> f64 {
    PI * diameter * diameter / 4.0
}

/// Solves a linear system by elimination with pivoting; nothing when it has no one solution.
pub fn solve<const N: usize>(mut a: [[f64; N]; N], mut b: [f64; N]) -> Option<[f64; N]> {
    for i in 0..N {
        let pivot = (i..N).max_by(|x, y| a[*x][i].abs().total_cmp(&a[*y][i].abs()))?;
        if a[pivot][i].abs() < 1e-9 {
            return None;
        }
        a.swap(i, pivot);
        b.swap(i, pivot);
        for k in (0..N).filter(|k| *k != i) {
            let factor = a[k][i] / a[i][i];
            let row = a[i];
            for (cell, above) in a[k].iter_mut().zip(row) {
                *cell -= factor * above;
            }
            b[k] -= factor * b[i];
        }
    }
    let mut x = b;
    for i in 0..N {
        x[i] /= a[i][i];
    }
    Some(x)
}

/// A value as people read it: so many decimals as its step has, the last rounded half up like an
/// output's.
pub fn show(value: f64, step: f64) -> String {
    let decimals = (-step.log10() - HAIR).ceil().clamp(0.0, 6.0) as usize;
    let value = nearest(value, 10f64.powi(-(decimals as i32)));
    let text = format!("{value:.decimals$}");
    match text.parse::<f64>() {
        Ok(0.0) => "0".into(),
        _ => text,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn densities_are_densities_and_phi_is_good_in_its_tails() {
        assert!((phi(0.0) - 0.5).abs() < 1e-15);
        assert!((phi(-8.0) / 6.220_960_574_271_785e-16 - 1.0).abs() < 1e-9);
        let sum = |f: &dyn Fn(f64) -> f64| -> f64 {
            (-4000..4000).map(|n| f(f64::from(n) * 0.005) * 0.005).sum()
        };
        assert!((sum(&|x| normal(x, 1.0, 0.5)) - 1.0).abs() < 1e-6);
        assert!((sum(&|x| between(x, -1.0, 2.0, 0.1)) - 1.0).abs() < 1e-6);
    }

    #[test]
    fn steps_round_half_up_whatever_a_sum_lost_in_its_last_place() {
        assert_eq!(nearest(0.0125, 0.005), 0.015);
        let lost = 2.0 - 1.0 - 0.9 + 0.15;
        assert!(lost < 0.25 && (nearest(lost, 0.1) - 0.3).abs() < 1e-12);
        assert!((down(0.3, 0.1) - 0.3).abs() < 1e-12);
        assert_eq!(ceil(3.0 + 1e-12), 3.0);
        assert_eq!(show(0.4749, 0.001), "0.475");
        assert_eq!(show(-0.0001, 0.01), "0");
        assert_eq!(show(1234.5, 10.0), "1235");
        assert_eq!(show(0.3775, 0.001), "0.378");
    }

    #[test]
    fn a_system_without_one_solution_has_none() {
        assert_eq!(
            solve([[2.0, 0.0], [0.0, 4.0]], [2.0, 2.0]),
            Some([1.0, 0.5])
        );
        assert_eq!(solve([[1.0, 2.0], [2.0, 4.0]], [1.0, 2.0]), None);
    }
}
