//! Size of a sideways step: whole electrical cycles of the motor, whole teeth of the belt, or any
//! size at all.

use super::density::normal;
use super::{Gauge, Input, Read, Reckoned, input, shown};
use crate::profile::Motion;

/// Steps are thought possible up to this size, in millimetres.
const LARGEST: f64 = 30.0;
/// Full steps of one electrical cycle.
const CYCLE: f64 = 4.0;

pub const GAUGE: Gauge = Gauge {
    check: "shift-size",
    inputs: &INPUTS,
    reckon,
};

const INPUTS: [Input; 5] = [
    input("step_mm", "size of the step", "mm", (0.05, 100.0), None, 1),
    input(
        "step_uncertainty_mm",
        "read to within",
        "mm",
        (0.02, 2.0),
        Some(0.1),
        1,
    ),
    input(
        "pulley_teeth",
        "teeth of the pulley",
        "",
        (8.0, 80.0),
        Some(20.0),
        1,
    ),
    input(
        "belt_pitch_mm",
        "belt pitch",
        "mm",
        (1.0, 10.0),
        Some(2.0),
        1,
    ),
    input(
        "motor_steps",
        "full steps a turn",
        "",
        (48.0, 800.0),
        Some(200.0),
        1,
    ),
];

/// P(x | multiples of s).
fn of_multiples(x: f64, s: f64, sigma: f64) -> f64 {
    let most = (LARGEST / s).ceil() as usize;
    let each = (1..=most).map(|n| normal(x, n as f64 * s, sigma));
    each.sum::<f64>() * s / LARGEST
}

/// # Formula
/// one cycle = 4 · pitch · teeth / steps a turn; on crossed belts one motor moves X and Y by half
/// of it each. P(x | multiples of s) = Σ_n N(x; n·s, σ) · s / 30 mm; P(x | any size) = 1 / 30 mm.
fn reckon(read: &Read) -> Reckoned {
    let (x, sigma) = (read.one("step_mm"), read.one("step_uncertainty_mm"));
    let (teeth, pitch, steps) = (
        read.one("pulley_teeth"),
        read.one("belt_pitch_mm"),
        read.one("motor_steps"),
    );
    let diagonal = Motion::of(&read.facts.context) == Some(Motion::CrossedBelt)
        && read.shows("axis", "diagonal");
    let cycle = CYCLE * pitch * teeth / steps / if diagonal { 2.0 } else { 1.0 };
    let tooth = pitch / if diagonal { 2.0 } else { 1.0 };
    let multiples = |s: f64| of_multiples(x, s, sigma);
    let nearest = |s: f64| {
        let n = (x / s).round().max(1.0);
        format!("{} × {} mm = {} mm", n, shown(s), shown(n * s))
    };
    let mut lines = vec![
        format!(
            "One motor cycle: 4 · {} mm · {} / {} = {} mm. Nearest: {}.",
            shown(pitch),
            shown(teeth),
            shown(steps),
            shown(cycle),
            nearest(cycle)
        ),
        format!(
            "One tooth: {} mm. Nearest: {}.",
            shown(tooth),
            nearest(tooth)
        ),
    ];
    if diagonal {
        lines.push("Crossed belts, diagonal step: one motor moves X and Y by half each.".into());
    }
    let mut warnings = Vec::new();
    if 2.0 * sigma > cycle / 2.0 {
        warnings.push(format!(
            "Read to within {} mm, a step can hardly be told from its neighbours {} mm away. \
                Measure it closer.",
            shown(sigma),
            shown(cycle)
        ));
    }
    Reckoned {
        result: format!("{} ± {} mm", shown(x), shown(sigma)),
        lines,
        warnings,
        likelihood: vec![
            ("whole-cycles", multiples(cycle)),
            ("tooth-multiples", multiples(tooth)),
            ("any-size", 1.0 / LARGEST),
        ],
    }
}
