//! Diameter of the filament at several places.

use super::density::{between, normal, small, together};
use super::slip::slip;
use super::{Gauge, Input, Read, Reckoned, from_setting, input, mean_and_spread, shown};

pub const GAUGE: Gauge = Gauge {
    check: "measure-filament",
    inputs: &INPUTS,
    reckon,
};

const INPUTS: [Input; 2] = [
    input(
        "diameter_mm",
        "diameter at six places",
        "mm",
        (0.03, 40.0),
        None,
        6,
    ),
    from_setting(
        input(
            "nominal_mm",
            "diameter set in the slicer",
            "mm",
            (1.0, 3.5),
            Some(1.75),
            1,
        ),
        "filament_mm",
    ),
];

/// # Formula
/// real flow = (measured / set)². Even and right: mean ~ N(set, 0.02 mm), spread small; uneven:
/// spread from 0.03 mm; wrong: mean more than 0.05 mm off.
fn reckon(read: &Read) -> Reckoned {
    let (readings, set) = (read.all("diameter_mm"), read.one("nominal_mm"));
    let (mean, spread) = mean_and_spread(readings);
    let sigma = together(&[0.02, spread / (readings.len() as f64).sqrt()]);
    let off = (mean - set).abs();
    let mut warnings: Vec<String> = slip("mean diameter", mean, set, "mm").into_iter().collect();
    if readings.len() < 6 {
        warnings.push(format!(
            "{} of six places: an uneven stretch is easily missed.",
            readings.len()
        ));
    }
    Reckoned {
        result: format!(
            "{} mm, spread {} mm, against {} mm",
            shown(mean),
            shown(spread),
            shown(set)
        ),
        lines: vec![format!(
            "Real flow = ({} / {})² = {}",
            shown(mean),
            shown(set),
            shown((mean / set).powi(2))
        )],
        warnings,
        likelihood: vec![
            ("even-right", normal(mean, set, sigma) * small(spread, 0.02)),
            (
                "uneven",
                normal(mean, set, together(&[sigma, 0.05])) * between(spread, 0.035, 0.2, 0.005),
            ),
            (
                "wrong-diameter",
                0.5 * between(off, 0.05, 1.3, sigma) * small(spread, 0.02),
            ),
        ],
    }
}
