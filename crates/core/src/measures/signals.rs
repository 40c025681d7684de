//! What a recording, a line on a photo, a trace looks like, for drawings: the curves the measures
//! read, and what was recognised on them.

use super::heat::jump_times;
use super::maths::median;
use super::photo::Profile;
use super::sound::spectrum;
use super::{MOST_READINGS, Refused};
use base64::Engine;
use base64::engine::general_purpose::STANDARD;

/// Points of a curve, x rising.
pub type Curve = Vec<(f64, f64)>;

/// Most points of a curve that is drawn.
const MOST_DRAWN: usize = 600;

/// A recording as the measure `tone` takes it.
pub fn recording(wav: &[u8]) -> String {
    STANDARD.encode(wav)
}

/// The spectrum of the loudest moment of a recording: hertz, and amplitude with the loudest as 1.
///
/// # Errors
/// As the measure `tone` has them.
pub fn heard(wav_base64: &str) -> Result<Curve, Refused> {
    let mut curve = spectrum(wav_base64)?;
    let loudest = curve
        .iter()
        .map(|(_, p)| *p)
        .fold(f64::MIN_POSITIVE, f64::max);
    for (_, power) in &mut curve {
        *power = (*power / loudest).sqrt();
    }
    Ok(thinned(&curve))
}

/// The spectrum of brightness along a line: spacing in pixels, and amplitude with the strongest
/// as 1; from the finest spacing that can be told to a third of the line.
pub fn rhythms(samples: &[f64], finest: f64) -> Curve {
    let profile = Profile::of(samples);
    let size = profile.size as f64;
    let first = (3.0 * size / samples.len() as f64).ceil() as usize;
    let last = (size / finest.max(2.0)) as usize;
    let bins = first..=last.min(profile.power.len().saturating_sub(1));
    let mut curve: Curve = bins
        .rev()
        .map(|i| (size / i as f64, profile.power[i]))
        .collect();
    let strongest = curve
        .iter()
        .map(|(_, p)| *p)
        .fold(f64::MIN_POSITIVE, f64::max);
    for (_, power) in &mut curve {
        *power = (*power / strongest).sqrt();
    }
    thinned(&curve)
}

/// Brightness along a line: pixels from its beginning, and brightness.
pub fn brightness(samples: &[f64]) -> Curve {
    let curve: Curve = samples
        .iter()
        .enumerate()
        .map(|(i, v)| (i as f64, *v))
        .collect();
    thinned(&curve)
}

/// What a trace shows: its points, its running median, and the moments at which it jumped.
#[derive(Debug, Clone, PartialEq)]
pub struct Recognised {
    /// As it was measured.
    pub points: Curve,
    /// Its running median of five.
    pub smooth: Curve,
    /// When it jumped, in seconds.
    pub jumps: Vec<f64>,
}

/// What was recognised on a trace; times rise, both lists are equally long.
pub fn recognised(times: &[f64], values: &[f64]) -> Recognised {
    let many = times.len().min(values.len()).min(MOST_READINGS);
    let (times, values) = (&times[..many], &values[..many]);
    let near = |n: usize| median(&values[n.saturating_sub(2)..(n + 3).min(many)]);
    let smooth: Curve = (0..many).map(|n| (times[n], near(n))).collect();
    let points: Curve = times.iter().copied().zip(values.iter().copied()).collect();
    Recognised {
        points: thinned(&points),
        smooth: thinned(&smooth),
        jumps: jump_times(times, values),
    }
}

/// A curve with few enough points to be drawn: of each stretch its lowest and its highest.
fn thinned(curve: &[(f64, f64)]) -> Curve {
    if curve.len() <= MOST_DRAWN {
        return curve.to_vec();
    }
    let each = curve.len().div_ceil(MOST_DRAWN / 2);
    let mut thin = Curve::new();
    for stretch in curve.chunks(each) {
        let by_value = |a: &&(f64, f64), b: &&(f64, f64)| a.1.total_cmp(&b.1);
        let low = stretch.iter().min_by(by_value);
        let high = stretch.iter().max_by(by_value);
        let mut two: Vec<(f64, f64)> = low.into_iter().chain(high).copied().collect();
        two.sort_by(|a, b| a.0.total_cmp(&b.0));
        two.dedup();
        thin.extend(two);
    }
    thin
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::f64::consts::TAU;

    #[test]
    fn a_thinned_curve_keeps_its_extremes_and_its_order() {
        let curve: Curve = (0..20_000)
            .map(|i| (f64::from(i), if i == 7777 { 9.0 } else { f64::from(i % 3) }))
            .collect();
        let thin = thinned(&curve);
        assert!(thin.len() <= MOST_DRAWN + 2);
        assert!(thin.contains(&(7777.0, 9.0)));
        assert!(thin.windows(2).all(|w| w[0].0 < w[1].0));
    }

    #[test]
    fn a_rhythm_stands_out_at_its_spacing() {
        let wave = |i: usize| 100.0 + 20.0 * (TAU * i as f64 / 37.0).sin();
        let samples: Vec<f64> = (0..900).map(wave).collect();
        let curve = rhythms(&samples, 4.0);
        let top = curve.iter().max_by(|a, b| a.1.total_cmp(&b.1)).unwrap();
        assert!((top.0 - 37.0).abs() < 0.6, "{top:?}");
        assert!(curve.windows(2).all(|w| w[0].0 <= w[1].0));
    }

    #[test]
    fn jumps_are_found_where_they_are() {
        let times: Vec<f64> = (0..100).map(f64::from).collect();
        let mut values = vec![210.0; 100];
        values[40] = 160.0;
        let seen = recognised(&times, &values);
        assert_eq!(seen.jumps, [40.0, 41.0]);
        assert!(seen.smooth.iter().all(|(_, v)| *v == 210.0));
    }
}
