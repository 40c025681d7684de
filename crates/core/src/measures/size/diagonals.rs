//! Squareness from the two diagonals of a square.

use crate::measures::card::{Card, Hold};
use crate::measures::input::mm;
use crate::measures::maths::{mean, normal, rss, show};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::slips::LENGTHS;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::SQRT_2;

pub(super) const MEASURE: Measure = Measure {
    id: "diagonals",
    plain: "squareness from two diagonals",
    not: "squareness in Z",
    safety: "",
    card: Card {
        hold: Hold::Calipers,
        words: "square skew parallelogram corners angle",
        formulas: &[
            "{difference_mm} = {d1_mm} − {d2_mm}",
            "{skew_deg} = asin(({d1_mm}² − {d2_mm}²) / (4 · {side_a_mm} · {side_b_mm})) | \
             {skew_deg} = asin(({d1_mm}² − {d2_mm}²) / (4 · {side_a_mm}²))",
        ],
        example: &[
            ("d1_mm", "141.7 141.75"),
            ("d2_mm", "141.1 141.1"),
            ("side_a_mm", "100"),
        ],
        against: "0",
    },
    inputs: &[
        mm("d1_mm", "front left to rear right").readings(2).needed(),
        mm("d2_mm", "front right to rear left").readings(2).needed(),
        mm("side_a_mm", "side as drawn").usual(100.0),
        mm("side_b_mm", "other side as drawn"),
        mm("calipers_mm", "calipers good to").usual(0.05),
    ],
    reckon,
};

/// # Formula
/// γ = asin((d₁² − d₂²) / 4ab)
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let a = g.num("side_a_mm");
    let b = g.maybe("side_b_mm").unwrap_or(a);
    let (ones, twos) = (g.list("d1_mm"), g.list("d2_mm"));
    let (d1, d2, wanted) = (mean(ones), mean(twos), a.hypot(b));
    o.check("first diagonal", &[d1], wanted, ("mm", LENGTHS));
    o.check("second diagonal", &[d2], wanted, ("mm", LENGTHS));
    let sine = (d1 * d1 - d2 * d2) / (4.0 * a * b);
    if sine.abs() >= 0.5 {
        return refuse("d1_mm, d2_mm: they do not fit the sides");
    }
    if !o.slipped && ((d1 + d2) / 2.0 / wanted - 1.0).abs() > 0.03 {
        o.warn("the diagonals do not fit the sides: is the square as large as said?");
    }
    let calipers = g.num("calipers_mm");
    let u1 = calipers / (ones.len() as f64).sqrt();
    let u2 = calipers / (twos.len() as f64).sqrt();
    let skew = sine.asin();
    let skew_u = rss([2.0 * d1 * u1, 2.0 * d2 * u2]) / (4.0 * a * b * skew.cos());
    let (deg, deg_u) = (skew.to_degrees(), skew_u.to_degrees());
    o.num("difference_mm", d1 - d2, 0.01);
    o.pair("skew", "deg", (deg, deg_u), 0.001);
    o.num("skew_mm_100", 100.0 * skew.tan(), 0.01);
    o.num("factor", skew.tan(), 0.00001);
    let longer = match (d1 - d2).abs() <= 2.0 * rss([u1, u2]) {
        true => "equal",
        false if d1 > d2 => "d1",
        false => "d2",
    };
    o.word("longer", longer);
    let said = plus_minus(deg, deg_u, 0.001, "°");
    let on_100 = show(100.0 * skew.tan(), 0.01);
    o.result = format!("{said} out of square: {on_100} mm on 100 mm");
    let k = 100.0 * SQRT_2 / wanted;
    let (d, w) = ((d1 - d2) * k, rss([u1, u2]) * k);
    let states = [
        ("equal", normal(d, 0.0, rss([w, 0.1]))),
        ("unequal", normal(d, 0.0, rss([w, 1.0]))),
    ];
    o.find("diagonals", &states);
    Ok(())
}
