//! Filament fed: a mark above the feeder, a length commanded, what remains to the mark.

use super::density::{between, normal, together};
use super::slip::slip;
use super::{Gauge, Input, Read, Reckoned, input, optional, shown};

pub const FREE: Gauge = Gauge {
    check: "extruder-steps-free",
    inputs: &INPUTS,
    reckon,
};
pub const HOT: Gauge = Gauge {
    check: "extruder-steps-hot",
    inputs: &INPUTS,
    reckon,
};

const INPUTS: [Input; 5] = [
    input(
        "remaining_mm",
        "what remains to the mark",
        "mm",
        (-50.0, 1000.0),
        None,
        1,
    ),
    input(
        "mark_mm",
        "mark set above the feeder",
        "mm",
        (20.0, 1000.0),
        Some(120.0),
        1,
    ),
    input(
        "commanded_mm",
        "length commanded",
        "mm",
        (10.0, 900.0),
        Some(100.0),
        1,
    ),
    input(
        "ruler_mm",
        "ruler read to within",
        "mm",
        (0.05, 5.0),
        Some(0.5),
        1,
    ),
    optional(input(
        "steps_now",
        "feeder steps set now, if you know them",
        "steps/mm",
        (1.0, 20_000.0),
        None,
        1,
    )),
];

/// The steps the feeder needs, or by what they are to be multiplied where those of now are not
/// known.
fn new_steps(now: Option<f64>, commanded: f64, fed: f64) -> String {
    if fed <= 0.0 {
        return "Nothing was fed.".into();
    }
    let factor = commanded / fed;
    let of = format!("{} / {}", shown(commanded), shown(fed));
    match now {
        Some(now) => format!(
            "New steps = {} · {of} = {:.1} steps/mm",
            shown(now),
            now * factor
        ),
        None => format!("New steps = old steps · {of} = old steps · {factor:.4}"),
    }
}

/// # Formula
/// steps' = steps · commanded / (before − after). Right: fed/commanded ~ N(1, 1 %); short: anywhere
/// down to half; long: up to 15 % more.
fn reckon(read: &Read) -> Reckoned {
    let (after, before, commanded) = (
        read.one("remaining_mm"),
        read.one("mark_mm"),
        read.one("commanded_mm"),
    );
    let ruler = read.one("ruler_mm");
    let fed = before - after;
    let ratio = fed / commanded;
    let sigma = together(&[ruler, ruler]) / commanded;
    let mut warnings: Vec<String> = slip("what remains", after, before - commanded, "mm")
        .into_iter()
        .collect();
    if before < commanded {
        warnings.push(format!(
            "The mark at {} mm runs into the feeder before {} mm are fed: set it further up.",
            shown(before),
            shown(commanded)
        ));
    }
    if fed <= 0.0 {
        warnings.push(format!(
            "{} mm remain of {} mm: nothing was fed, or the two were swapped.",
            shown(after),
            shown(before)
        ));
    }
    let factor = new_steps(read.given("steps_now"), commanded, fed);
    Reckoned {
        result: format!(
            "{} ± {} mm fed of {} mm",
            shown(fed),
            shown(sigma * commanded),
            shown(commanded)
        ),
        lines: vec![
            format!(
                "Fed = {} − {} = {} mm",
                shown(before),
                shown(after),
                shown(fed)
            ),
            factor,
        ],
        warnings,
        likelihood: vec![
            ("right", normal(ratio, 1.0, together(&[sigma, 0.01]))),
            ("short", between(ratio, 0.0, 0.98, sigma)),
            ("long", between(ratio, 1.02, 1.17, sigma)),
        ],
    }
}
