//! The hot end against another thermometer.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{celsius, choice};
use crate::measures::maths::{mean, normal, of_mean, over, rss, under};
use crate::measures::out::plus_minus;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "second-thermometer",
    plain: "hot end against another thermometer",
    not: "swing of the temperature",
    safety: "it is hot; keep the probe clear of the heater's wires",
    card: Card {
        hold: Hold::Thermometer,
        words: "nozzle temperature wrong thermistor sensor reads",
        formulas: &[
            "[where=bore] {difference_c} = {shown_c} − {other_c} | {difference_c} = {shown_c} − \
             {other_c} − 10",
            "{set_c} = {shown_c} + {difference_c}",
        ],
        example: &[("shown_c", "210"), ("other_c", "202 203 202")],
        against: "0",
    },
    inputs: &[
        celsius("shown_c", "what the machine shows").needed(),
        celsius("other_c", "the other thermometer")
            .readings(3)
            .needed(),
        choice("where", "it sits", &["bore", "outside"]),
        celsius("thermometer_c", "thermometer good to").usual(2.0),
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (shown, others) = (g.num("shown_c"), g.list("other_c"));
    // What the place takes off, and how well that is known.
    let (lost, spread) = if g.word("where") == "bore" {
        (0.0, 3.0)
    } else {
        (10.0, 5.0)
    };
    let other = mean(others);
    let d = shown - other - lost;
    let u = rss([g.num("thermometer_c"), spread, of_mean(others)]);
    if (other - (1.8 * shown + 32.0)).abs() < 15.0 {
        o.slip("the other thermometer seems to show degrees Fahrenheit");
    }
    o.few(others.len(), 3);
    o.pair("difference", "c", (d, u), 1.0);
    o.num("set_c", shown + d, 1.0);
    o.result = format!(
        "the machine shows {} more than is there",
        plus_minus(d, u, 1.0, "°C")
    );
    let states = [
        ("agrees", normal(d, 0.0, rss([u, 3.0]))),
        ("machine-shows-too-much", over(d, 8.0, 40.0, u)),
        ("machine-shows-too-little", under(d, -8.0, 40.0, u)),
    ];
    o.find("second-thermometer", &states);
    Ok(())
}
