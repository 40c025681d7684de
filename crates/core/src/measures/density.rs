//! The few densities that readings are held against.

use std::f64::consts::PI;

/// Normal density.
///
/// # Formula
/// exp(−(x − m)² / 2σ²) / (σ √2π)
pub fn normal(x: f64, mean: f64, deviation: f64) -> f64 {
    let z = (x - mean) / deviation;
    (-0.5 * z * z).exp() / (deviation * (2.0 * PI).sqrt())
}

/// Density of a value anywhere between two bounds, read with a normal error: a box with soft edges.
pub fn between(x: f64, low: f64, high: f64, deviation: f64) -> f64 {
    (cumulative((x - low) / deviation) - cumulative((x - high) / deviation)) / (high - low)
}

/// Density of a spread that is never below zero: half a normal.
pub fn small(x: f64, deviation: f64) -> f64 {
    2.0 * normal(x, 0.0, deviation)
}

/// Standard normal distribution function, by the logistic approximation of Bowling et al. (2009),
/// good to 0.0002.
fn cumulative(z: f64) -> f64 {
    1.0 / (1.0 + (-0.07056 * z.powi(3) - 1.5976 * z).exp())
}

/// Square root of a sum of squares: independent uncertainties together.
pub fn together(parts: &[f64]) -> f64 {
    parts.iter().map(|p| p * p).sum::<f64>().sqrt()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn densities_hold_one_whole() {
        let sum = |f: &dyn Fn(f64) -> f64| {
            (-4000..4000)
                .map(|n| f(f64::from(n) / 100.0) / 100.0)
                .sum::<f64>()
        };
        assert!((sum(&|x| normal(x, 1.0, 0.7)) - 1.0).abs() < 1e-6);
        assert!((sum(&|x| between(x, -2.0, 5.0, 0.3)) - 1.0).abs() < 1e-3);
        // A table of the normal distribution gives 0.8413 at one deviation.
        assert!((cumulative(1.0) - 0.8413).abs() < 2e-4);
    }
}
