//! The pitch of something plucked: what rings and dies away, out of noise and hum.
//!
//! The rhythm of its overtones is what is looked for, not the lowest of them: plucked in the middle
//! a belt lacks its even overtones, and a small microphone loses the lowest.

use crate::measures::maths::{largest, mean, median, sd};
use crate::measures::spectrum::{hann, highest, power, top, tops, windowed};
use std::f64::consts::PI;

/// A pitch found.
#[derive(Debug)]
pub struct Pitch {
    /// Frequency in hertz.
    pub hz: f64,
    /// Its uncertainty.
    pub u: f64,
    /// How well the overtones agree on it, 0 to 1.
    pub clarity: f64,
    /// Overtones it was read from.
    pub overtones: u32,
}

/// Rate in hertz that is left after averaging: belts sing far below it.
const ENOUGH: f64 = 4000.0;
/// A frame and the step from one to the next, in seconds.
const FRAME: f64 = 0.4;
const HOP: f64 = 0.05;
/// Where belts sing, with their overtones, in hertz.
const LOWEST: f64 = 25.0;
const HIGHEST: f64 = 1000.0;
/// Highest fundamental looked for, and the step of the search.
const TOP: f64 = 500.0;
const FINE: f64 = 1.0025;

/// A spectrum of what rings, with what is needed to read it.
struct Ringing {
    power: Vec<f64>,
    /// Hertz from bin to bin.
    step: f64,
    last: usize,
}

/// Samples averaged in groups, so that about 4 kHz remain; their mean off.
fn thinned(rate: f64, samples: &[f64]) -> (f64, Vec<f64>) {
    let group = (rate / ENOUGH).floor().max(1.0) as usize;
    let middle = mean(samples);
    let thin = samples.chunks_exact(group).map(|c| mean(c) - middle);
    (rate / group as f64, thin.collect())
}

/// Frames of a recording as spectra, and which of them is the loudest within the band.
struct Frames {
    power: Vec<Vec<f64>>,
    loud: Vec<f64>,
    loudest: usize,
    /// Hertz from bin to bin; first and last bin of the band.
    step: f64,
    first: usize,
    last: usize,
}

fn frames(rate: f64, samples: &[f64]) -> Frames {
    let (wide, hop) = ((FRAME * rate) as usize, (HOP * rate) as usize);
    let size = (2 * wide).next_power_of_two();
    let step = rate / size as f64;
    let (first, last) = ((LOWEST / step).ceil() as usize, (HIGHEST / step) as usize);
    let window = hann(wide);
    let power: Vec<Vec<f64>> = (0..=samples.len() - wide)
        .step_by(hop)
        .map(|s| power(&windowed(&samples[s..s + wide], &window), size))
        .collect();
    let loud: Vec<f64> = power.iter().map(|p| p[first..=last].iter().sum()).collect();
    Frames {
        loudest: highest(&loud, 0..loud.len()).unwrap_or(0),
        power,
        loud,
        step,
        first,
        last,
    }
}

/// The power of the loudest frame by frequency in hertz, as it was recorded.
pub fn loudest(rate: f64, samples: &[f64]) -> Vec<(f64, f64)> {
    let (rate, samples) = thinned(rate, samples);
    let all = frames(rate, &samples);
    let bins = all.first..=all.last;
    bins.map(|i| (i as f64 * all.step, all.power[all.loudest][i]))
        .collect()
}

/// The loudest frame less what never dies away (hum) and what has no pitch (noise).
fn ringing(rate: f64, samples: &[f64]) -> Result<Ringing, &'static str> {
    let (wide, hop) = ((FRAME * rate) as usize, (HOP * rate) as usize);
    let Frames {
        power: frames,
        loud,
        loudest,
        step,
        first,
        last,
    } = frames(rate, samples);
    if loud[loudest] <= 0.0 {
        return Err("silence");
    }
    let far = |n: usize| n.abs_diff(loudest) * hop * 2 >= wide;
    let apart: Vec<&Vec<f64>> = frames
        .iter()
        .enumerate()
        .filter(|(n, _)| far(*n))
        .map(|(_, p)| p)
        .collect();
    let stays = |i: usize| {
        let least = apart.iter().map(|p| p[i]).fold(f64::INFINITY, f64::min);
        if least.is_finite() { least } else { 0.0 }
    };
    let here = &frames[loudest];
    let noise = median(&here[first..=last]);
    let left = |i: usize| match i >= first && i <= last {
        true => (here[i] - 2.0 * stays(i) - 6.0 * noise).max(0.0),
        false => 0.0,
    };
    let power: Vec<f64> = (0..last + 2).map(left).collect();
    let share = power.iter().sum::<f64>() / loud[loudest];
    if share < 0.25 || largest(&power) < 200.0 * noise {
        return Err("nothing that rings and dies away stands out of noise and hum");
    }
    Ok(Ringing { power, step, last })
}

impl Ringing {
    /// The fundamental whose overtones agree best, and how well: the autocorrelation of the
    /// compressed spectrum over lags of one period.
    fn fundamental(&self) -> Result<(f64, f64), &'static str> {
        let lines: Vec<(f64, f64)> = (0..self.power.len())
            .filter(|i| self.power[*i] > 0.0)
            .map(|i| (i as f64 * self.step, self.power[i].sqrt()))
            .collect();
        let all: f64 = lines.iter().map(|(_, g)| g).sum();
        let many = ((TOP / LOWEST).ln() / FINE.ln()) as i32;
        let grid: Vec<f64> = (0..=many).map(|n| LOWEST * FINE.powi(n)).collect();
        let agree = |c: f64| -> f64 {
            lines
                .iter()
                .map(|(f, g)| g * (2.0 * PI * f / c).cos())
                .sum::<f64>()
                / all
        };
        let scores: Vec<f64> = grid.iter().map(|c| agree(*c)).collect();
        let found = tops(&scores, 0..scores.len());
        let best = highest(&scores, found.iter().copied()).ok_or("no rhythm in the sound")?;
        // The highest that is nearly as good: every fraction of a pitch explains it too.
        let near = found
            .into_iter()
            .rev()
            .find(|i| scores[*i] >= 0.85 * scores[best]);
        let near = near.unwrap_or(best);
        if scores[near] < 0.35 {
            return Err("no clear tone");
        }
        Ok((grid[near], scores[near]))
    }

    /// The fundamental as each overtone tells it, with its weight.
    fn overtones(&self, fundamental: f64) -> Vec<(f64, f64)> {
        let loudest = largest(&self.power);
        let mut found = Vec::new();
        for h in (1..=8).map(f64::from) {
            let at = h * fundamental;
            if at > HIGHEST || found.len() == 4 {
                break;
            }
            let width = (0.03 * at).max(2.0);
            let low = ((at - width) / self.step) as usize;
            let high = (((at + width) / self.step) as usize + 1).min(self.last - 1);
            if high <= low {
                break;
            }
            let Some(q) = highest(&self.power, low..=high) else {
                break;
            };
            let stands = q > 0 && self.power[q - 1] > 0.0 && self.power[q + 1] > 0.0;
            if stands && self.power[q] > 0.003 * loudest {
                found.push((
                    top(&self.power, q) * self.step / h,
                    h * self.power[q].sqrt(),
                ));
            }
        }
        found
    }
}

/// The pitch of a pluck in a recording of at least 0.8 s.
///
/// # Errors
/// Why there is none.
pub fn pitch(rate: f64, samples: &[f64]) -> Result<Pitch, &'static str> {
    let (rate, samples) = thinned(rate, samples);
    let ringing = ringing(rate, &samples)?;
    let (fundamental, clarity) = ringing.fundamental()?;
    let told = ringing.overtones(fundamental);
    if told.is_empty() {
        return Err("no clear tone");
    }
    let weights: f64 = told.iter().map(|(_, w)| w).sum();
    let hz = told.iter().map(|(f, w)| f * w).sum::<f64>() / weights;
    let each: Vec<f64> = told.iter().map(|(f, _)| *f).collect();
    let scatter = sd(&each) / (each.len() as f64).sqrt();
    Ok(Pitch {
        hz,
        u: scatter.max(0.003 * hz),
        clarity,
        overtones: each.len() as u32,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A string of pitch `hz`, plucked after a moment, without even overtones, over mains hum.
    fn plucked(rate: f64, hz: f64, hum: f64) -> Vec<f64> {
        let at = |i: usize| {
            let t = i as f64 / rate;
            let rung = (t - 0.3).max(0.0);
            let tone = |h: f64| (-rung / (0.4 / h)).exp() * (2.0 * PI * hz * h * rung).sin() / h;
            let string: f64 = [1.0, 3.0, 5.0].into_iter().map(tone).sum();
            4000.0 * (string + hum * (2.0 * PI * 50.0 * t).sin())
        };
        (0..(1.6 * rate) as usize).map(at).collect()
    }

    #[test]
    fn a_pluck_is_heard_through_hum_as_loud_as_it() {
        for (rate, hz) in [(44_100.0, 61.3), (48_000.0, 110.0), (16_000.0, 187.5)] {
            let found = pitch(rate, &plucked(rate, hz, 0.5)).expect("a tone");
            assert!((found.hz / hz - 1.0).abs() < 0.01, "{hz}: {}", found.hz);
        }
    }

    #[test]
    fn hum_silence_and_noise_are_no_tone() {
        let hum = |i: usize| 5000.0 * (2.0 * PI * 100.0 * i as f64 / 16_000.0).sin();
        assert!(pitch(16_000.0, &(0..24_000).map(hum).collect::<Vec<_>>()).is_err());
        assert!(pitch(16_000.0, &[0.0; 24_000]).is_err());
        let mut seed = 7u32;
        let mut noise = || {
            seed = seed.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            f64::from(seed >> 16) - 32_768.0
        };
        assert!(pitch(16_000.0, &(0..24_000).map(|_| noise()).collect::<Vec<_>>()).is_err());
    }
}
