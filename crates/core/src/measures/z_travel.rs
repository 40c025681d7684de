//! Travel in Z: commanded against measured.

use super::density::{between, normal, together};
use super::slip::slip;
use super::{Gauge, Input, Read, Reckoned, input, shown};

pub const GAUGE: Gauge = Gauge {
    check: "z-travel",
    inputs: &INPUTS,
    reckon,
};

const INPUTS: [Input; 3] = [
    input(
        "travelled_mm",
        "travel measured",
        "mm",
        (0.0, 1000.0),
        None,
        1,
    ),
    input(
        "commanded_mm",
        "travel commanded",
        "mm",
        (5.0, 1000.0),
        Some(50.0),
        1,
    ),
    input(
        "calipers_mm",
        "read to within",
        "mm",
        (0.02, 2.0),
        Some(0.1),
        1,
    ),
];

/// # Formula
/// steps' = steps · commanded / measured. Right: ratio ~ N(1, 0.3 %); short: down to 80 %; long:
/// up to 125 %.
fn reckon(read: &Read) -> Reckoned {
    let (travelled, commanded, calipers) = (
        read.one("travelled_mm"),
        read.one("commanded_mm"),
        read.one("calipers_mm"),
    );
    let ratio = travelled / commanded;
    let sigma = calipers / commanded;
    let line = if travelled > 0.0 {
        format!(
            "Commanded / measured = {} / {} = {:.4}",
            shown(commanded),
            shown(travelled),
            1.0 / ratio
        )
    } else {
        "It did not move.".into()
    };
    Reckoned {
        result: format!(
            "{} ± {} mm of {} mm",
            shown(travelled),
            shown(calipers),
            shown(commanded)
        ),
        lines: vec![line],
        warnings: slip("the travel", travelled, commanded, "mm")
            .into_iter()
            .collect(),
        likelihood: vec![
            ("right", normal(ratio, 1.0, together(&[sigma, 0.003]))),
            ("short", between(ratio, 0.8, 0.995, sigma)),
            ("long", between(ratio, 1.005, 1.25, sigma)),
        ],
    }
}
