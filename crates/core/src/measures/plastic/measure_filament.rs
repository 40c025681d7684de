//! Diameter of the filament, and how far it swings.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, ratio};
use crate::measures::maths::{between, half, largest, mean, normal, over, rss, sd, show, smallest};
use crate::measures::out::plus_minus;
use crate::measures::slips::LENGTHS;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "measure-filament",
    plain: "diameter of the filament",
    not: "moisture",
    safety: "",
    card: Card {
        hold: Hold::Calipers,
        words: "filament thick thin diameter oval spool",
        formulas: &[
            "{flow_factor} = ({mean_mm} / {nominal_mm})²",
            "{flow_new} = {flow_now} / {flow_factor}",
        ],
        example: &[
            ("diameter_mm", "1.72 1.71 1.73 1.72 1.71 1.72"),
            ("nominal_mm", "1.75"),
        ],
        against: "nominal_mm",
    },
    inputs: &[
        mm("diameter_mm", "diameter, along a few metres")
            .readings(6)
            .needed(),
        mm("nominal_mm", "diameter set")
            .usual(1.75)
            .from("filament_mm"),
        ratio("flow_now", "flow set now")
            .range(0.2, 3.0)
            .usual(1.0)
            .from("flow_ratio"),
        mm("calipers_mm", "calipers good to").usual(0.02),
    ],
    reckon,
};

/// Readings from which their scatter says something.
const ENOUGH: usize = 4;

/// # Formula
/// factor of plastic = (mean / nominal)²
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (all, nominal) = (g.list("diameter_mm"), g.num("nominal_mm"));
    let (d, s, n) = (mean(all), sd(all), all.len());
    let u = rss([s / (n as f64).sqrt(), g.num("calipers_mm")]);
    let thick = (2.7..=3.1).contains(&d) && nominal < 2.0;
    let thin = (1.6..=1.9).contains(&d) && nominal > 2.5;
    if thick || thin {
        o.warn("filament of the other size is loaded or set");
    }
    o.check("diameter", all, nominal, ("mm", LENGTHS));
    o.few(n, 6);
    let factor = (d / nominal).powi(2);
    o.pair("mean", "mm", (d, u), 0.001);
    o.num("spread_mm", s, 0.001);
    o.num("flow_factor", factor, 0.001);
    o.num("factor_u", 2.0 * factor * u / d, 0.001);
    o.num("diameter_to_set_mm", d, 0.01);
    o.num("flow_new", g.num("flow_now") / factor, 0.005);
    let swing = (largest(all) / smallest(all)).powi(2) - 1.0;
    o.num("swing_percent", 100.0 * swing, 0.1);
    o.result = format!(
        "{} against {} mm: {} % of the plastic asked for",
        plus_minus(d, u, 0.001, "mm"),
        show(nominal, 0.01),
        show(100.0 * factor, 0.1)
    );
    let (even, uneven) = match n >= ENOUGH {
        true => (half(s, 0.02), between(s, 0.035, 0.2, 0.005)),
        false => (1.0, 1.0),
    };
    let states = [
        ("even-right", normal(d, nominal, rss([u, 0.02])) * even),
        ("uneven", normal(d, nominal, rss([u, 0.05])) * uneven),
        (
            "wrong-diameter",
            0.5 * over((d - nominal).abs(), 0.05, 1.3, u) * even,
        ),
    ];
    o.find("measure-filament", &states);
    Ok(())
}
