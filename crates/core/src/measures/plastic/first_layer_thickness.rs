//! First-layer height from the thickness of a first layer.

use crate::measures::card::{Card, Hold};
use crate::measures::input::mm;
use crate::measures::maths::{between, half, mean, nearest, normal, over, rss, sd, show, under};
use crate::measures::out::plus_minus;
use crate::measures::slips::SMALL;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "first-layer-thickness",
    plain: "first-layer height from its thickness",
    not: "why the bed is tilted",
    safety: "watch the first line: too low a nozzle cuts the plate",
    card: Card {
        hold: Hold::Calipers,
        words: "first layer height offset squish too high low nozzle plate",
        formulas: &[
            "{difference_mm} = {mean_mm} − {set_mm}",
            "{offset_full_mm} = {offset_now_mm} − {difference_mm}",
        ],
        example: &[
            ("thickness_mm", "0.25 0.26 0.25 0.27 0.26"),
            ("set_mm", "0.2"),
            ("offset_now_mm", "-1.35"),
        ],
        against: "0",
    },
    inputs: &[
        mm("thickness_mm", "thickness over the plate")
            .readings(5)
            .needed(),
        mm("set_mm", "first layer set").needed(),
        mm("offset_now_mm", "height offset set now, + lifts")
            .range(-10.0, 10.0)
            .usual(0.0),
        mm("calipers_mm", "calipers good to").usual(0.02),
    ],
    reckon,
};

/// Readings from which their scatter says something.
const ENOUGH: usize = 4;
/// The most the nozzle is lowered at once.
const LOWERED: f64 = 0.1;

/// # Formula
/// offset = now − (thickness − set), lowered by a tenth at most
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (all, set, now) = (
        g.list("thickness_mm"),
        g.num("set_mm"),
        g.num("offset_now_mm"),
    );
    let (t, s, n) = (mean(all), sd(all), all.len());
    let (d, u) = (t - set, rss([s / (n as f64).sqrt(), g.num("calipers_mm")]));
    o.check("thickness", all, set, ("mm", SMALL));
    if n < ENOUGH {
        o.few(n, 5);
    }
    if d > LOWERED {
        o.warn("lowered by 0.1 mm only: watch the first lines, then measure again");
    }
    if d > 0.3 * set {
        o.warn("so thick a first layer is loose and round: the gap may be larger still");
    }
    let (full, new) = (now - d, (now - d).max(now - LOWERED));
    o.num("mean_mm", t, 0.001);
    o.pair("difference", "mm", (d, u), 0.001);
    o.num("offset_full_mm", full, 0.01);
    o.num("offset_new_mm", new, 0.01);
    o.result = format!(
        "{} against {} mm: set the offset to {} mm",
        plus_minus(t, u, 0.001, "mm"),
        show(set, 0.01),
        show(nearest(new, 0.01), 0.01)
    );
    let (even, uneven) = match n >= ENOUGH {
        true => (half(s, 0.02), between(s, 0.04, 0.3, 0.01)),
        false => (1.0, 1.0),
    };
    let lopsided = normal(d, 0.0, rss([u, 0.1])) * uneven;
    let states = [
        ("even", normal(d, 0.0, rss([u, 0.02])) * even),
        ("high-everywhere", over(d, 0.05, 0.3, u) * even),
        ("low-everywhere", under(d, -0.05, 0.3, u) * even),
        ("tilted", lopsided),
        ("bowed", lopsided),
    ];
    o.find("paper-at-points", &states);
    Ok(())
}
