//! Power of a heater by subtraction.

use super::density::{between, normal, together};
use super::slip::slip;
use super::{Gauge, Input, Read, Reckoned, input, shown};

pub const GAUGE: Gauge = Gauge {
    check: "chamber-watts",
    inputs: &INPUTS,
    reckon,
};

const INPUTS: [Input; 4] = [
    input(
        "with_w",
        "watts with the heater at full demand",
        "W",
        (0.0, 5000.0),
        None,
        1,
    ),
    input("without_w", "watts without it", "W", (0.0, 5000.0), None, 1),
    input(
        "rating_w",
        "rating of the heater",
        "W",
        (1.0, 5000.0),
        None,
        1,
    ),
    input(
        "meter_w",
        "averaged to within",
        "W",
        (0.1, 200.0),
        Some(5.0),
        1,
    ),
];

/// # Formula
/// power = with − without, ± √2 · meter. As rated: power/rating ~ N(1, 6 %); low: anywhere from
/// nothing to 90 %.
fn reckon(read: &Read) -> Reckoned {
    let (with, without, rating, meter) = (
        read.one("with_w"),
        read.one("without_w"),
        read.one("rating_w"),
        read.one("meter_w"),
    );
    let power = with - without;
    let sigma = together(&[meter, meter]) / rating;
    let ratio = power / rating;
    let mut warnings: Vec<String> = slip("the power", power, rating, "W").into_iter().collect();
    if power < 0.0 {
        warnings.push(
            "It draws less with the heater than without: are the two swapped, or did the \
            bed's cycle fall between them?"
                .into(),
        );
    }
    Reckoned {
        result: format!(
            "{} ± {} W of {} W",
            shown(power),
            shown(sigma * rating),
            shown(rating)
        ),
        lines: vec![format!(
            "Power = {} − {} = {} W, {:.0} % of the rating",
            shown(with),
            shown(without),
            shown(power),
            ratio * 100.0
        )],
        warnings,
        likelihood: vec![
            ("as-rated", normal(ratio, 1.0, together(&[sigma, 0.06]))),
            ("low", between(ratio, 0.0, 0.9, sigma)),
        ],
    }
}
