//! Where a slow heat-up will end.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{celsius, minutes};
use crate::measures::maths::{phi, rss};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "heat-up",
    plain: "where a slow heat-up will end",
    not: "why it is slow",
    safety: "",
    card: Card {
        hold: Hold::Thermometer,
        words: "chamber slow heating never reaches warm up",
        formulas: &[
            "{final_c} = {temp_c#3} + ({temp_c#3} − {temp_c#2})² / ({temp_c#2} − {temp_c#1} − \
             ({temp_c#3} − {temp_c#2}))",
        ],
        example: &[
            ("temp_c", "22 38 47"),
            ("every_min", "10"),
            ("target_c", "55"),
        ],
        against: "target_c",
    },
    inputs: &[
        celsius("temp_c", "temperature, three times")
            .list(3, 3, 3)
            .needed(),
        minutes("every_min", "minutes between")
            .range(0.5, 240.0)
            .needed(),
        celsius("target_c", "wanted").needed(),
        celsius("read_c", "read to").usual(1.0),
    ],
    reckon,
};

/// # Formula
/// What is still missing shrinks by the same factor q in every interval:
/// q = (T₃ − T₂)/(T₂ − T₁), end = T₃ + (T₃ − T₂)·q/(1 − q); the uncertainty by its derivatives
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let &[a, b, c] = g.list("temp_c") else {
        return refuse("temp_c: three temperatures are needed");
    };
    if b <= a {
        return refuse("temp_c: the temperature must rise");
    }
    let q = (c - b) / (b - a);
    if !(q > 0.0 && q < 1.0) {
        return refuse("temp_c: it does not level off yet: wait longer between the readings");
    }
    let (target, read) = (g.num("target_c"), g.num("read_c"));
    let end = c + (c - b) * q / (1.0 - q);
    let (bend, cross) = (a + c - 2.0 * b, a * c - b * b);
    let slopes = [
        c * bend - cross,
        2.0 * cross - 2.0 * b * bend,
        a * bend - cross,
    ];
    let u = read * rss(slopes.map(|s| s / (bend * bend)));
    let tau = -g.num("every_min") / q.ln();
    o.pair("final", "c", (end, u), 1.0);
    o.num("tau_min", tau, 1.0);
    if c >= target {
        o.num("left_min", 0.0, 1.0);
    } else if target < end {
        o.num("left_min", -tau * ((end - target) / (end - c)).ln(), 1.0);
    }
    let reaches = match target {
        t if t < end - u => "yes",
        t if t > end + u => "no",
        _ => "unsure",
    };
    o.word("reaches", reaches);
    o.result = format!("it will end at {}", plus_minus(end, u, 1.0, "°C"));
    let short = phi((target - end) / rss([u, 2.0]));
    let states = [("present", short), ("absent", 1.0 - short)];
    o.find("chamber-heats-slowly", &states);
    Ok(())
}
