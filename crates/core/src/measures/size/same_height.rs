//! Whether a fault sits at the same height on two pieces.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, mm};
use crate::measures::maths::{normal, rss};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::SQRT_2;

pub(super) const MEASURE: Measure = Measure {
    id: "same-height",
    plain: "whether it is the same height on two pieces",
    not: "a cause",
    safety: "",
    card: Card {
        hold: Hold::Ruler,
        words: "same height two pieces fault band line repeats",
        formulas: &["{difference_mm} = {z1_mm} − {z2_mm}"],
        example: &[("z1_mm", "37.4"), ("z2_mm", "37.6"), ("reach_mm", "90")],
        against: "0",
    },
    inputs: &[
        mm("z1_mm", "height on the first piece")
            .range(0.0, 2000.0)
            .needed(),
        mm("z2_mm", "height on the second piece")
            .range(0.0, 2000.0)
            .needed(),
        mm("read_mm", "read to").usual(0.3),
        mm("reach_mm", "height of the lower piece").needed(),
        choice("models", "the pieces are", &["different", "same"]),
    ],
    reckon,
};

/// How likely two heights this far apart are when it is one height, and when it may be any.
pub(in crate::measures) fn find(o: &mut Out, (apart, s): (f64, f64), reach: f64, same_model: bool) {
    let one = normal(apart, 0.0, s);
    let any = (1e-4 / reach).max((reach - apart.abs()) / (reach * reach));
    let states = [
        ("same-height-any-model", one),
        ("same-height-this-model", if same_model { one } else { any }),
        ("random-height", any),
    ];
    o.find("same-height", &states);
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (z1, z2) = (g.num("z1_mm"), g.num("z2_mm"));
    let (read, reach) = (g.num("read_mm"), g.num("reach_mm"));
    if z1.max(z2) > reach + 2.0 * read {
        return refuse("reach_mm: a height lies above the piece");
    }
    let inches = |a: f64, b: f64| (a - 25.4 * b).abs() <= 2.0 * read;
    if (inches(z1, z2) || inches(z2, z1)) && (z1 - z2).abs() > 2.0 {
        o.slip("one of the two looks like inches");
    }
    let (d, s) = (z1 - z2, rss([SQRT_2 * read, 0.3]));
    o.pair("difference", "mm", (d, s), 0.01);
    o.word("says", if d.abs() <= 2.0 * s { "same" } else { "apart" });
    o.result = format!("{} apart", plus_minus(d.abs(), s, 0.01, "mm"));
    find(o, (d, s), reach, g.word("models") == "same");
    Ok(())
}
