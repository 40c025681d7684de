//! Flow from the thickness of walls.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, ratio, whole};
use crate::measures::maths::{between, half, mean, normal, over, rss, sd, show, under};
use crate::measures::out::plus_minus;
use crate::measures::slips::SMALL;
use crate::measures::usual::LAYER;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::FRAC_PI_4;

pub(super) const MEASURE: Measure = Measure {
    id: "wall-thickness",
    plain: "flow from walls",
    not: "whether diameter, steps or line width is wrong; read off the seam and above the foot",
    safety: "",
    card: Card {
        hold: Hold::Calipers,
        words: "flow too thick thin wall single over under extrusion multiplier",
        formulas: &[
            "{expected_mm} = {nominal_mm} | {expected_mm} = {lines} · {set_width_mm}",
            "{flow_full} = {flow_now} · {expected_mm} / {mean_mm}",
        ],
        example: &[
            ("wall_mm", "0.475 0.485 0.48 0.48"),
            ("set_width_mm", "0.45"),
            ("flow_now", "1"),
        ],
        against: "expected_mm",
    },
    inputs: &[
        mm("wall_mm", "wall thickness").readings(4).needed(),
        mm("set_width_mm", "line width set")
            .usual(0.45)
            .from("line_width_mm"),
        whole("lines", "lines side by side", 1.0, 6.0).usual(1.0),
        mm("nominal_mm", "thickness it should have"),
        ratio("flow_now", "flow set now")
            .range(0.2, 3.0)
            .usual(1.0)
            .from("flow_ratio"),
        LAYER,
        mm("gap_mm", "gap as it was drawn").range(0.0, 5.0),
        whole("gap_walls", "walls at the gap", 1.0, 2.0).usual(2.0),
        mm("calipers_mm", "calipers good to").usual(0.02),
    ],
    reckon,
};

/// The most that flow is changed at once: beyond it something else is wrong.
const MOST: f64 = 0.15;
/// Readings from which their scatter says something.
const ENOUGH: usize = 4;

/// # Formula
/// flow = now · nominal / mean; with rounded edges (nominal − c) / (mean − c), c = h(1 − π/4)
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (walls, now) = (g.list("wall_mm"), g.num("flow_now"));
    let by_lines = g.num("lines") * g.num("set_width_mm");
    let wanted = g.maybe("nominal_mm").unwrap_or(by_lines);
    let (t, s, n) = (mean(walls), sd(walls), walls.len());
    let scatter = if n >= ENOUGH { s } else { s.max(0.03 * wanted) };
    let u = rss([scatter / (n as f64).sqrt(), g.num("calipers_mm")]);
    let (change, full) = (wanted / t - 1.0, now * wanted / t);
    o.check("wall", walls, wanted, ("mm", SMALL));
    o.few(n, ENOUGH);
    if change.abs() > MOST && !o.slipped {
        o.warn(format!(
            "a change of {:+.0} % is more than 15 %: look at diameter, steps and line width first",
            100.0 * change
        ));
    }
    if n > 1 && s > (t - wanted).abs() && (t - wanted).abs() > 0.05 * wanted {
        o.warn("the readings scatter more than the difference they show");
    }
    let given = g.maybe("nominal_mm");
    if given.is_some_and(|nominal| (nominal / by_lines).ln().abs() > 1.35f64.ln()) {
        o.warn("nominal does not fit the number of lines");
    }
    let new = now * (wanted / t).clamp(1.0 - MOST, 1.0 + MOST);
    o.pair("mean", "mm", (t, u), 0.001);
    o.num("expected_mm", wanted, 0.001);
    o.num("flow_full", full, 0.001);
    o.num("flow_new", new, 0.005);
    o.num("flow_u", full * u / t, 0.001);
    o.num("change_percent", 100.0 * change, 0.1);
    let rounded = g.maybe("layer_mm").map(|h| h * (1.0 - FRAC_PI_4));
    let rounded = rounded.filter(|c| t > *c && wanted > *c);
    let sharp = rounded.map(|c| now * (wanted - c) / (t - c));
    o.maybe("flow_sharp", sharp, 0.001);
    let gap = gap(g, o, (t - wanted, u));
    o.result = format!(
        "{} against {} mm: type in flow {} (now {}){gap}",
        plus_minus(t, u, 0.001, "mm"),
        show(wanted, 0.01),
        show(crate::measures::maths::nearest(new, 0.005), 0.001),
        show(now, 0.001),
    );
    let (r, su, e) = (t / wanted, u / wanted, s / t);
    let (even, uneven) = match n >= ENOUGH {
        true => (half(e, 0.03), between(e, 0.05, 0.3, 0.01)),
        false => (1.0, 1.0),
    };
    let states = [
        ("on-target", normal(r, 1.0, rss([su, 0.025])) * even),
        ("thick", over(r, 1.05, 0.3, su) * even),
        ("thin", under(r, 0.95, 0.3, su) * even),
        ("scattered", normal(r, 1.0, rss([su, 0.12])) * uneven),
    ];
    o.find("wall-thickness", &states);
    Ok(())
}

/// What is left of a gap between walls that came out `off` too thick.
fn gap(g: &Given, o: &mut Out, (off, u): (f64, f64)) -> String {
    let Some(gap) = g.maybe("gap_mm") else {
        return String::new();
    };
    let share = g.num("gap_walls") / 2.0;
    let left = gap - share * off;
    o.num("gap_left_mm", left, 0.001);
    o.num("gap_u", share * u, 0.001);
    if left < 0.1 {
        o.warn("such a gap is likely to fuse");
    }
    let left = show(left, 0.001);
    format!("; of the gap of {} mm {left} mm are left", show(gap, 0.01))
}
