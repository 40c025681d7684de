//! The strongest rhythm in brightness along a line.

use crate::measures::maths::{ceil, median, solve};
use crate::measures::spectrum::{hann, highest, power, top, tops, windowed};
use std::f64::consts::PI;

/// Brightness along a line, its drift taken off, as a spectrum.
pub struct Profile {
    /// Power by frequency.
    pub power: Vec<f64>,
    /// Samples it was padded to: a bin is `1 / size` a pixel.
    pub size: usize,
    n: f64,
    /// The spectrum of the window alone.
    window: Vec<f64>,
}

/// A rhythm found.
pub struct Rhythm {
    /// Its period in pixels.
    pub period: f64,
    /// How far it stands above what is about it.
    pub strength: f64,
    /// How well one period agrees with the next, 0 to 1.
    pub agreement: f64,
}

impl Rhythm {
    /// Whether it is one.
    pub fn says(&self) -> &'static str {
        match (self.strength, self.agreement) {
            (s, a) if s >= 30.0 && a >= 0.3 => "yes",
            (s, a) if s >= 15.0 && a >= 0.15 => "unsure",
            _ => "no",
        }
    }
}

/// Samples less the parabola through them by least squares: light falls off along a photo.
fn level(samples: &[f64]) -> Vec<f64> {
    let last = (samples.len() - 1) as f64;
    let at = |i: usize| 2.0 * i as f64 / last - 1.0;
    let sum = |f: &dyn Fn(usize) -> f64| -> f64 { (0..samples.len()).map(f).sum() };
    let row = |i: i32| [0, 1, 2].map(|j| sum(&|n| at(n).powi(i + j)));
    let right = [0, 1, 2].map(|i| sum(&|n| at(n).powi(i) * samples[n]));
    let [a, b, c] = solve([row(0), row(1), row(2)], right).unwrap_or_default();
    let drift = |n: usize| a + b * at(n) + c * at(n) * at(n);
    (0..samples.len()).map(|n| samples[n] - drift(n)).collect()
}

impl Profile {
    /// The spectrum of brightness along a line, one sample a pixel.
    pub fn of(samples: &[f64]) -> Self {
        let n = samples.len();
        let (size, window) = ((8 * n).next_power_of_two(), hann(n));
        Self {
            power: power(&windowed(&level(samples), &window), size),
            window: power(&window, size),
            size,
            n: n as f64,
        }
    }

    /// Bins of one cycle over the whole line.
    fn cycle(&self) -> f64 {
        self.size as f64 / self.n
    }

    /// How far a top stands above the median of what is about it, itself left out.
    fn strength(&self, i: usize, last: usize) -> f64 {
        let from = (ceil(self.cycle()) as usize).max(i / 3);
        let to = (last * 3 / 2).min(3 * i).min(self.power.len() - 1);
        let beside = |j: &usize| j.abs_diff(i) as f64 > 2.0 * self.cycle();
        let about: Vec<f64> = (from..=to).filter(beside).map(|j| self.power[j]).collect();
        match about.len() >= 4 {
            true => self.power[i] / median(&about).max(1e-12),
            false => 0.0,
        }
    }

    /// How well the line agrees with itself one lag on; the window's own fall is made up for.
    fn agreement(&self, period: f64, last: usize) -> f64 {
        let lag = (period + 0.5).floor();
        let turn = 2.0 * PI * lag / self.size as f64;
        let at = |spectrum: &[f64], from: usize, to: usize| -> (f64, f64) {
            let part = || (from..to).map(|k| (k as f64, spectrum[k]));
            (
                part().map(|(k, p)| p * (turn * k).cos()).sum(),
                part().map(|(_, p)| p).sum(),
            )
        };
        let cut = ((0.75 * self.cycle()) as usize).max(1);
        let (here, all) = at(&self.power, cut, last + 1);
        let (window, whole) = at(&self.window, 0, self.window.len());
        here / all * whole / window
    }

    /// The strongest rhythm with a period from `shortest` pixels to a third of the line.
    pub fn rhythm(&self, shortest: f64) -> Option<Rhythm> {
        let first = ceil(3.0 * self.cycle()) as usize;
        let last = (self.size as f64 / shortest) as usize;
        if (last as f64) < first as f64 + 2.0 * self.cycle() {
            return None;
        }
        let found = tops(&self.power, first..=last);
        let i = highest(&self.power, found.iter().copied())?;
        let of = |i: usize| {
            let period = self.size as f64 / top(&self.power, i);
            Rhythm {
                period,
                strength: self.strength(i, last),
                agreement: self.agreement(period, last),
            }
        };
        let one = of(i);
        let half = |j: &usize| (*j as f64 - i as f64 / 2.0).abs() <= self.cycle();
        let below = highest(&self.power, found.iter().copied().filter(half));
        let Some(below) = below.filter(|j| self.power[*j] >= 0.1 * self.power[i]) else {
            return Some(one);
        };
        let fits = 2.0 * one.period <= self.n / 3.0;
        if !fits || self.agreement(2.0 * one.period, last) <= one.agreement + 0.15 {
            return Some(one);
        }
        // Every second one is different: the rhythm is twice as long.
        let two = of(below);
        Some(Rhythm {
            strength: one.strength.max(two.strength),
            ..two
        })
    }
}
