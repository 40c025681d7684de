//! How long to dry, by material, amount and state; and by weight whether it is done.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{celsius, choice, grams, hours};
use crate::measures::maths::{ceil, show};
use crate::measures::refused::refuse;
use crate::measures::usual::MATERIAL;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::SQRT_2;

pub(super) const MEASURE: Measure = Measure {
    id: "drying",
    plain: "drying time by material and amount",
    not: "whether moisture was the cause",
    safety: "the spool softens too: watch it",
    card: Card {
        hold: Hold::Scales,
        words: "wet filament moisture dry oven hours",
        formulas: &[
            "hours = those of the material · (½ + grams / 2000), twice as long for every 10 °C \
             too cool",
        ],
        example: &[("material", "petg"), ("grams", "750")],
        against: "",
    },
    inputs: &[
        MATERIAL.needed(),
        grams("grams", "filament on the spool")
            .range(1.0, 10_000.0)
            .usual(1000.0),
        celsius("temp_c", "drying at").range(20.0, 150.0),
        choice("state", "open for", &["months", "weeks", "wet"]),
        grams("weigh_g", "weighed while drying").list(3, 2, 20),
        hours("weigh_every_h", "hours between")
            .range(0.25, 24.0)
            .usual(1.0),
        grams("scale_g", "scale good to").usual(1.0),
    ],
    reckon,
};

/// How a material is dried: from and to so warm, in degrees Celsius, so long at least and at most,
/// in hours.
struct Way {
    low: f64,
    high: f64,
    least: f64,
    most: f64,
}

fn way(material: &str) -> Way {
    let (low, high, least, most) = match material {
        "pla" => (45.0, 50.0, 4.0, 6.0),
        "petg" => (60.0, 65.0, 6.0, 6.0),
        "abs" | "asa" => (75.0, 80.0, 4.0, 4.0),
        "tpu" => (50.0, 55.0, 6.0, 8.0),
        "pa" => (75.0, 80.0, 8.0, 12.0),
        _ => (80.0, 90.0, 8.0, 8.0),
    };
    Way {
        low,
        high,
        least,
        most,
    }
}

/// Loss an hour, in per cent of the filament, below which it is dry.
const DRY: f64 = 0.05;

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (material, amount) = (g.word("material"), g.num("grams"));
    let dried = way(material);
    let temp = g.maybe("temp_c").unwrap_or(dried.low);
    if temp > dried.high {
        return refuse(format!(
            "temp_c: above {} °C {material} begins to soften on the spool",
            dried.high
        ));
    }
    if temp < dried.low {
        o.warn("cool: it takes much longer");
    }
    let wet = match g.word("state") {
        "weeks" => 0.0,
        "wet" => 1.0,
        _ => 0.5,
    };
    let time = dried.least + wet * (dried.most - dried.least);
    let by_amount = (0.5 + 0.5 * amount / 1000.0).clamp(0.5, 1.5);
    // Ten degrees cooler take twice as long.
    let by_cold = ((dried.low - temp).max(0.0) / 10.0).exp2();
    let time = ceil(time * by_amount * by_cold / 0.5) * 0.5;
    o.num("hours", time, 0.0);
    o.num("temp_c", temp, 1.0);
    o.result = format!("{} h at {} °C", show(time, 0.1), show(temp, 1.0));
    weighed(g, o, amount);
    Ok(())
}

/// Whether it is dry, by what it lost between the last two weighings.
fn weighed(g: &Given, o: &mut Out, amount: f64) {
    let all = g.list("weigh_g");
    let (&[first, ..], &[.., before, last]) = (all, all) else {
        return;
    };
    let percent_h = |grams: f64| 100.0 * grams / amount / g.num("weigh_every_h");
    let (rate, u) = (
        percent_h(before - last),
        percent_h(SQRT_2 * g.num("scale_g")),
    );
    let says = if rate + u <= DRY {
        "done"
    } else if rate - u > DRY {
        "go-on"
    } else {
        "unsure"
    };
    if -rate > 2.0 * u {
        o.warn("it gains weight: it takes up water");
    }
    o.num("lost_percent", 100.0 * (first - last) / amount, 0.01);
    o.num("rate_percent_h", rate, 0.001);
    o.num("rate_u", u, 0.001);
    o.word("says", says);
    o.result += &format!("; by weight: {says}");
}
