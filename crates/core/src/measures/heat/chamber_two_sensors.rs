//! The chamber by two sensors.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{celsius, choice};
use crate::measures::maths::{mean, normal, of_mean, over, rss, under};
use crate::measures::out::plus_minus;
use crate::measures::{Given, Measure, Out, Refused};

/// Materials, the unknown first.
const KINDS: &[&str] = &["other", "pla", "petg", "abs", "asa", "tpu", "pa", "pc"];

pub(super) const MEASURE: Measure = Measure {
    id: "chamber-two-sensors",
    plain: "chamber by two sensors",
    not: "the bed",
    safety: "",
    card: Card {
        hold: Hold::Thermometer,
        words: "chamber enclosure warm air sensor place",
        formulas: &["{difference_c} = {other_c} − {shown_c}"],
        example: &[
            ("shown_c", "38"),
            ("other_c", "46 47"),
            ("material", "petg"),
        ],
        against: "0",
    },
    inputs: &[
        celsius("shown_c", "what the machine shows").needed(),
        celsius("other_c", "another sensor, elsewhere")
            .readings(2)
            .needed(),
        celsius("thermometer_c", "sensor good to").usual(2.0),
        choice("material", "material", KINDS).from("material"),
    ],
    reckon,
};

/// The warmest a chamber may be for a material, in degrees Celsius.
fn warmest(material: &str) -> Option<f64> {
    match material {
        "pla" => Some(35.0),
        "petg" => Some(45.0),
        "tpu" => Some(40.0),
        "abs" | "asa" | "pa" => Some(70.0),
        "pc" => Some(90.0),
        _ => None,
    }
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (shown, others, material) = (g.num("shown_c"), g.list("other_c"), g.word("material"));
    let other = mean(others);
    let d = other - shown;
    // Two places of one chamber differ by a few degrees when all is well.
    let u = rss([g.num("thermometer_c"), of_mean(others), 3.0]);
    let chamber = other.max(shown);
    if let Some(top) = warmest(material).filter(|top| chamber > *top) {
        o.warn(format!("too warm for {material}: at most {top} °C"));
    }
    o.pair("difference", "c", (d, u), 1.0);
    o.num("chamber_c", chamber, 1.0);
    o.result = format!(
        "the other place is {} warmer than shown",
        plus_minus(d, u, 1.0, "°C")
    );
    let states = [
        ("agrees", normal(d, 0.0, rss([u, 2.0]))),
        ("shown-too-low", over(d, 6.0, 40.0, u)),
        ("shown-too-high", under(d, -6.0, 40.0, u)),
    ];
    o.find("chamber-two-sensors", &states);
    Ok(())
}
