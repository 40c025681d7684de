//! One point probed again and again, cool and then warm: scatter against drift.

use super::density::{between, small, together};
use super::{Gauge, Input, Read, Reckoned, input, mean_and_spread, optional};

pub const GAUGE: Gauge = Gauge {
    check: "probe-repeat",
    inputs: &INPUTS,
    reckon,
};

/// Fewer heights say little of a spread.
const FEW: usize = 5;
/// A height so far from the median is a retry of the probe, not its spread; in millimetres.
const OUTLIER: f64 = 0.5;
/// Finest spread that so few heights tell, in millimetres.
const FINEST: f64 = 0.001;

const INPUTS: [Input; 2] = [
    input(
        "cool_mm",
        "heights cool, ten",
        "mm",
        (-20.0, 20.0),
        None,
        10,
    ),
    optional(input(
        "warm_mm",
        "heights warm, ten",
        "mm",
        (-20.0, 20.0),
        None,
        10,
    )),
];

/// Heights of one temperature.
struct Series {
    mean: f64,
    spread: f64,
    count: f64,
}

impl Series {
    fn of(heights: &[f64]) -> Option<Self> {
        let (mean, spread) = mean_and_spread(heights);
        (!heights.is_empty()).then_some(Self {
            mean,
            spread,
            count: heights.len() as f64,
        })
    }

    /// Standard error of the mean.
    fn error(&self) -> f64 {
        self.spread / self.count.sqrt()
    }

    fn told(&self, when: &str) -> String {
        let (mean, spread) = (self.mean, self.spread);
        format!("{when}: mean {mean:.3} mm, standard deviation {spread:.3} mm")
    }
}

/// What asks for another look at the heights of one temperature.
fn doubts(when: &str, heights: &[f64]) -> Vec<String> {
    let mut doubts = Vec::new();
    if heights.len() < FEW {
        let many = heights.len();
        doubts.push(format!(
            "{many} of ten heights {when}: too few to tell a spread."
        ));
    }
    let mut sorted = heights.to_vec();
    sorted.sort_by(f64::total_cmp);
    let median = sorted[sorted.len() / 2];
    let far = heights.iter().find(|h| (*h - median).abs() > OUTLIER);
    doubts.extend(far.map(|far| {
        format!("{far} mm {when} is a retry, not a height: stop such a print, the nozzle may cut.")
    }));
    doubts
}

/// # Formula
/// drift = mean warm − mean cool, ± standard errors together; s = the larger standard deviation.
/// Repeats: s near 0, drift near 0; scatters: s from 0.015 to 0.1 mm, whatever the drift; drifts
/// when warm: s near 0, drift from 0.08 to 0.5 mm. Cool alone says nothing of a drift.
fn reckon(read: &Read) -> Reckoned {
    let (cool, warm) = (read.all("cool_mm"), read.all("warm_mm"));
    let mut warnings = doubts("cool", cool);
    let first = Series::of(cool).unwrap_or(Series {
        mean: f64::NAN,
        spread: 0.0,
        count: 1.0,
    });
    let mut lines = vec![first.told("Cool")];
    let Some(second) = Series::of(warm) else {
        warnings.push("Cool only: whether it drifts with heat is not known yet.".into());
        let (still, loose) = spreads(&first);
        return Reckoned {
            result: format!("standard deviation {:.3} mm, cool only", first.spread),
            lines,
            warnings,
            likelihood: vec![
                ("repeats", still),
                ("scatters", loose),
                ("drifts-warm", still),
            ],
        };
    };
    warnings.extend(doubts("warm", warm));
    lines.push(second.told("Warm"));
    let drift = second.mean - first.mean;
    let error = together(&[first.error(), second.error()]);
    lines.push(format!(
        "Drift = {:.3} − {:.3} = {drift:.3} ± {error:.3} mm",
        second.mean, first.mean
    ));
    let wider = if second.spread > first.spread {
        second
    } else {
        first
    };
    let (still, loose) = spreads(&wider);
    let away = drift.abs();
    let moved = together(&[error, 0.005]);
    Reckoned {
        result: format!(
            "drift {drift:.3} ± {error:.3} mm, standard deviation {:.3} mm",
            wider.spread
        ),
        lines,
        warnings,
        likelihood: vec![
            ("repeats", still * small(away, together(&[0.04, error]))),
            ("scatters", loose * between(away, 0.0, 0.3, moved)),
            ("drifts-warm", still * between(away, 0.08, 0.5, moved)),
        ],
    }
}

/// How likely a spread is of a sound probe, and of one that scatters.
fn spreads(of: &Series) -> (f64, f64) {
    let error = match of.count > 1.0 {
        true => (of.spread / (2.0 * of.count - 2.0).sqrt()).max(FINEST),
        false => FINEST,
    };
    (
        small(of.spread, 0.008),
        between(of.spread, 0.015, 0.1, error),
    )
}
