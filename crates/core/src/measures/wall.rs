//! Thickness of a wall one line wide, against the line width set.

use super::density::{between, normal, small, together};
use super::slip::slip;
use super::{Gauge, Input, Read, Reckoned, from_setting, input, mean_and_spread, shown};
use crate::settings::NumberId;

/// What calipers read to, in millimetres.
const CALIPERS: f64 = 0.02;

pub const GAUGE: Gauge = Gauge {
    check: "wall-thickness",
    inputs: &INPUTS,
    reckon,
};

const INPUTS: [Input; 2] = [
    input(
        "wall_mm",
        "wall thickness, four readings or more",
        "mm",
        (0.005, 100.0),
        None,
        4,
    ),
    from_setting(
        input(
            "set_width_mm",
            "line width set",
            "mm",
            (0.05, 3.0),
            Some(0.45),
            1,
        ),
        "line_width_mm",
    ),
];

/// The flow that follows, from the one set where the case knows it; to three places, as two would
/// cut half a per cent.
fn new_flow(now: Option<f64>, set: f64, mean: f64) -> String {
    let (set, factor) = (shown(set), set / mean);
    match now {
        Some(now) => format!("New flow = {now} · {set} / {mean:.3} = {:.3}", now * factor),
        None => format!("New flow = flow now · {set} / {mean:.3} = flow now · {factor:.3}"),
    }
}

/// # Formula
/// flow' = flow · set / mean. On target: mean/set ~ N(1, 2.5 %); thick and thin: anywhere from 5 to
/// 30 % off; scattered: spread above 5 %.
fn reckon(read: &Read) -> Reckoned {
    let (readings, set) = (read.all("wall_mm"), read.one("set_width_mm"));
    let (mean, spread) = mean_and_spread(readings);
    let n = readings.len() as f64;
    let ratio = mean / set;
    let sigma = together(&[spread / n.sqrt(), CALIPERS]) / set;
    let relative = spread / mean;
    let even = small(relative, 0.03);
    let change = (set / mean - 1.0) * 100.0;
    let mut warnings: Vec<String> = slip("mean wall", mean, set, "mm").into_iter().collect();
    if readings.len() < 4 {
        warnings.push(format!(
            "{} of the four readings or more that a mean needs: measure each side of the box.",
            readings.len()
        ));
    }
    if warnings.is_empty() && change.abs() > 15.0 {
        warnings.push(format!(
            "A change of {change:+.0} % is too much for a flow setting: look at \
            diameter, steps and line width first."
        ));
    }
    if readings.len() > 1 && spread > (mean - set).abs() && (mean - set).abs() > 0.05 * set {
        warnings.push("The readings scatter more than the difference they show.".into());
    }
    Reckoned {
        result: format!(
            "{} ± {} mm against {} mm",
            shown(mean),
            shown(together(&[spread / n.sqrt(), CALIPERS])),
            shown(set)
        ),
        lines: vec![new_flow(
            read.facts.settings.get(NumberId::FlowRatio),
            set,
            mean,
        )],
        warnings,
        likelihood: vec![
            (
                "on-target",
                normal(ratio, 1.0, together(&[sigma, 0.025])) * even,
            ),
            ("thick", between(ratio, 1.05, 1.35, sigma) * even),
            ("thin", between(ratio, 0.65, 0.95, sigma) * even),
            (
                "scattered",
                normal(ratio, 1.0, together(&[sigma, 0.12])) * between(relative, 0.05, 0.3, 0.01),
            ),
        ],
    }
}
