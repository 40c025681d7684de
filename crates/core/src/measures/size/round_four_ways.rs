//! Roundness: a ring measured along the axes and between them.

use crate::measures::card::{Card, Hold};
use crate::measures::input::mm;
use crate::measures::maths::{mean, median, nearest, normal, rss, show};
use crate::measures::out::plus_minus;
use crate::measures::slips::LENGTHS;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "round-four-ways",
    plain: "roundness four ways",
    not: "the size; read off the seam. Along the axes it is backlash or belt, between them skew \
          or unequal \
          crossed belts",
    safety: "",
    card: Card {
        hold: Hold::Calipers,
        words: "round oval circle egg hole backlash",
        formulas: &[
            "{along_mm} = {d0_mm} − {d90_mm}",
            "{at45_mm} = {d45_mm} − {d135_mm}",
            "{oval_mm} = √({along_mm}² + {at45_mm}²)",
        ],
        example: &[
            ("d0_mm", "30.15 30.2"),
            ("d45_mm", "30 30.05"),
            ("d90_mm", "29.85 29.9"),
            ("d135_mm", "30 30"),
        ],
        against: "0",
    },
    inputs: &[
        mm("d0_mm", "diameter along X").readings(2).needed(),
        mm("d45_mm", "diameter at 45°").readings(2),
        mm("d90_mm", "diameter along Y").readings(2).needed(),
        mm("d135_mm", "diameter at 135°").readings(2),
        mm("calipers_mm", "calipers good to").usual(0.03),
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let all = ["d0_mm", "d45_mm", "d90_mm", "d135_mm"].map(|id| g.list(id));
    let means: Vec<f64> = all
        .iter()
        .filter(|l| !l.is_empty())
        .map(|l| mean(l))
        .collect();
    let middle = median(&means);
    for (angle, readings) in ["0°", "45°", "90°", "135°"].iter().zip(all) {
        if !readings.is_empty() {
            o.check(angle, readings, middle, ("mm", LENGTHS));
        }
    }
    let calipers = g.num("calipers_mm");
    let of = |readings: &[f64]| calipers / (readings.len() as f64).sqrt();
    let w = rss([of(all[0]), of(all[2])]);
    let along = mean(all[0]) - mean(all[2]);
    let size = mean(&means);
    o.num("mean_mm", size, 0.001);
    o.num("along_mm", along, 0.001);
    o.num("each_u", w, 0.001);
    if means.len() < 4 {
        o.warn("two angles only: skew cannot be seen");
        o.result = format!("along the axes {}", plus_minus(along, w, 0.001, "mm"));
        let one = |s: f64| normal(along, 0.0, rss([w, s]));
        let states = [
            ("round", one(0.04)),
            ("oval-along-axes", one(0.35)),
            ("oval-at-45", one(0.04)),
        ];
        o.find("round-four-ways", &states);
        return Ok(());
    }
    let between = mean(all[1]) - mean(all[3]);
    let w2 = rss([of(all[1]), of(all[3])]);
    let closure = mean(all[0]) + mean(all[2]) - mean(all[1]) - mean(all[3]);
    let axis = (0.5 * between.atan2(along)).to_degrees().rem_euclid(180.0);
    o.num("at45_mm", between, 0.001);
    o.num("oval_mm", along.hypot(between), 0.001);
    o.num("long_axis_deg", nearest(axis, 1.0) % 180.0, 0.0);
    o.num("closure_mm", closure, 0.001);
    o.num("skew_deg", (between / size).to_degrees(), 0.01);
    if closure.abs() > 4.0 * w {
        o.warn("the closure is off: a misread, or a ring with lobes");
    }
    let said = plus_minus(between, w, 0.001, "mm");
    o.result = format!("along the axes {}, between them {said}", show(along, 0.001));
    let both =
        |a: f64, b: f64| normal(along, 0.0, rss([w, a])) * normal(between, 0.0, rss([w2, b]));
    let states = [
        ("round", both(0.04, 0.04)),
        ("oval-along-axes", both(0.35, 0.04)),
        ("oval-at-45", both(0.04, 0.35)),
    ];
    o.find("round-four-ways", &states);
    Ok(())
}
