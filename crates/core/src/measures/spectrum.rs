//! Power spectra of what is sampled evenly: sound, and the brightness along a line of a photo.

use rustfft::FftPlanner;
use rustfft::num_complex::Complex;
use std::f64::consts::PI;

/// The Hann window, n long, its middle between the middle two samples.
pub fn hann(n: usize) -> Vec<f64> {
    let at = |i: usize| 0.5 - 0.5 * (2.0 * PI * (i as f64 + 0.5) / n as f64).cos();
    (0..n).map(at).collect()
}

/// The power of samples, padded with noughts to `size`, from frequency 0 to half the sampling rate.
pub fn power(samples: &[f64], size: usize) -> Vec<f64> {
    let mut buffer: Vec<Complex<f64>> = samples.iter().map(|v| Complex::new(*v, 0.0)).collect();
    buffer.resize(size, Complex::default());
    FftPlanner::new()
        .plan_fft_forward(size)
        .process(&mut buffer);
    buffer[..=size / 2].iter().map(Complex::norm_sqr).collect()
}

/// Samples under a window.
pub fn windowed(samples: &[f64], window: &[f64]) -> Vec<f64> {
    samples.iter().zip(window).map(|(v, w)| v * w).collect()
}

/// Where a top of the spectrum really lies, in bins: a parabola through the logarithms of the three
/// values about it.
pub fn top(power: &[f64], i: usize) -> f64 {
    if i == 0 || i + 1 >= power.len() || power[i - 1..=i + 1].iter().any(|p| *p <= 0.0) {
        return i as f64;
    }
    let [a, b, c] = [power[i - 1], power[i], power[i + 1]].map(f64::ln);
    let bend = a - 2.0 * b + c;
    i as f64
        + if bend < 0.0 {
            0.5 * (a - c) / bend
        } else {
            0.0
        }
}

/// Local tops within a range of bins; the first of a level stretch counts not.
pub fn tops(values: &[f64], range: impl Iterator<Item = usize>) -> Vec<usize> {
    range
        .filter(|i| *i > 0 && i + 1 < values.len())
        .filter(|i| values[*i] >= values[i - 1] && values[*i] > values[i + 1])
        .collect()
}

/// The index of the largest value among some; of equals the first.
pub fn highest(values: &[f64], among: impl Iterator<Item = usize>) -> Option<usize> {
    among.fold(None, |best, i| match best {
        Some(b) if values[b] >= values[i] => Some(b),
        _ => Some(i),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_pure_tone_comes_out_between_the_bins() {
        let n = 1024;
        for cycles in [40.0, 40.3, 40.5, 40.8] {
            let wave = |i: usize| (2.0 * PI * cycles * i as f64 / n as f64).sin();
            let samples: Vec<f64> = (0..n).map(wave).collect();
            let spectrum = power(&windowed(&samples, &hann(n)), 4 * n);
            let best = highest(&spectrum, 0..spectrum.len()).unwrap();
            assert!(
                (top(&spectrum, best) / 4.0 - cycles).abs() < 0.01,
                "{cycles}"
            );
        }
    }

    #[test]
    fn the_power_of_all_bins_is_that_of_all_samples() {
        let samples: Vec<f64> = (0..64).map(|i| f64::from(i * i % 17) - 8.0).collect();
        let spectrum = power(&samples, 64);
        let both: f64 = 2.0 * spectrum[1..32].iter().sum::<f64>() + spectrum[0] + spectrum[32];
        let energy: f64 = samples.iter().map(|v| v * v).sum();
        assert!((both / 64.0 - energy).abs() < 1e-9 * energy);
    }
}
