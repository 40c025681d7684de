//! Spacing of ripples at two speeds: does it grow with the speed?

use super::density::{normal, together};
use super::{Gauge, Input, Read, Reckoned, input, shown};

pub const GAUGE: Gauge = Gauge {
    check: "ripple-two-speeds",
    inputs: &INPUTS,
    reckon,
};

const INPUTS: [Input; 5] = [
    input("slow_mm_s", "slower speed", "mm/s", (1.0, 1500.0), None, 1),
    input(
        "slow_spacing_mm",
        "spacing at the slower speed",
        "mm",
        (0.05, 50.0),
        None,
        1,
    ),
    input("fast_mm_s", "faster speed", "mm/s", (1.0, 1500.0), None, 1),
    input(
        "fast_spacing_mm",
        "spacing at the faster speed",
        "mm",
        (0.05, 50.0),
        None,
        1,
    ),
    input(
        "spacing_uncertainty_mm",
        "each spacing read to within",
        "mm",
        (0.01, 5.0),
        Some(0.1),
        1,
    ),
];

/// # Formula
/// f = v / λ. Resonance: ln(λ₂/λ₁) = ln(v₂/v₁); belt, pulley or motor pattern: ln(λ₂/λ₁) = 0; σ² =
/// (δ/λ₁)² + (δ/λ₂)² + 0.05².
fn reckon(read: &Read) -> Reckoned {
    let (v1, v2) = (read.one("slow_mm_s"), read.one("fast_mm_s"));
    let (l1, l2) = (read.one("slow_spacing_mm"), read.one("fast_spacing_mm"));
    let delta = read.one("spacing_uncertainty_mm");
    let sigma = together(&[delta / l1, delta / l2, 0.05]);
    let (grew, faster) = ((l2 / l1).ln(), (v2 / v1).ln());
    let mut warnings = Vec::new();
    if faster.abs() < 2.0 * sigma {
        warnings.push(format!(
            "{} and {} mm/s are too near each other to tell: print one twice as fast as the other.",
            shown(v1),
            shown(v2)
        ));
    }
    if v2 < v1 {
        warnings.push("The faster speed is the lower number: are the two swapped?".into());
    }
    Reckoned {
        result: format!(
            "{} mm at {} mm/s, {} mm at {} mm/s, each ± {} mm",
            shown(l1),
            shown(v1),
            shown(l2),
            shown(v2),
            shown(delta)
        ),
        lines: vec![
            format!(
                "{} / {} = {} Hz; {} / {} = {} Hz",
                shown(v1),
                shown(l1),
                shown(v1 / l1),
                shown(v2),
                shown(l2),
                shown(v2 / l2)
            ),
            format!(
                "The spacing grew to {}, the speed to {}.",
                shown(l2 / l1),
                shown(v2 / v1)
            ),
        ],
        warnings,
        likelihood: vec![
            ("grows-with-speed", normal(grew, faster, sigma)),
            ("fixed-spacing", normal(grew, 0.0, sigma)),
        ],
    }
}
