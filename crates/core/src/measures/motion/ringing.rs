//! Frequency of the ringing behind a corner, and the acceleration that keeps it small.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, mm_s, plain, whole};
use crate::measures::maths::{nearest, rss, show};
use crate::measures::out::plus_minus;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::TAU;

pub(super) const MEASURE: Measure = Measure {
    id: "ringing",
    plain: "frequency of the ringing, highest acceleration",
    not: "ribs, which do not fade; the frequency is what motion smoothing asks for",
    safety: "",
    card: Card {
        hold: Hold::Ruler,
        words: "ringing ghosting echo acceleration corner frequency resonance",
        formulas: &[
            "{frequency_hz} = {v_mm_s} / {spacing_mm}",
            "{a_max_mm_s2} = {height_mm} · (2 · π · {frequency_hz})²",
            "{reach_mm} = ({speed_mm_s}² − {corner_mm_s}²) / (2 · {accel_mm_s2})",
        ],
        example: &[
            ("spacing_mm", "2.1"),
            ("speed_mm_s", "90"),
            ("accel_mm_s2", "1500"),
            ("from_corner_mm", "5"),
        ],
        against: "",
    },
    inputs: &[
        mm("spacing_mm", "spacing of the ripples").needed(),
        whole("count", "ripples measured over", 1.0, 20.0).usual(3.0),
        mm("read_mm", "read to").usual(0.1),
        plain("accel_mm_s2", "acceleration", 10.0, 100_000.0).from("accel_mm_s2"),
        mm("from_corner_mm", "from the corner to the ripples").range(0.0, 1000.0),
        mm_s("corner_mm_s", "speed at the corner")
            .range(0.0, 200.0)
            .usual(5.0),
        mm("height_mm", "ripples accepted").usual(0.05),
        mm_s("speed_mm_s", "speed").needed().from("speed_mm_s"),
    ],
    reckon,
};

/// How well the speed is known where it was reached, and where it was not.
const SETTLED: f64 = 0.03;
const SPEEDING: f64 = 0.10;

/// # Formula
/// v = √(c² + 2a·x) up to the speed; f = v / spacing; a = amplitude·(2πf)²
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (speed, corner) = (g.num("speed_mm_s"), g.num("corner_mm_s"));
    let (spacing, height) = (g.num("spacing_mm"), g.num("height_mm"));
    let accel = g.maybe("accel_mm_s2");
    let reach = accel.map(|a| ((speed * speed - corner * corner) / (2.0 * a)).max(0.0));
    let from = g.maybe("from_corner_mm");
    let settled = reach.zip(from).map(|(reach, x)| x >= reach);
    let v = match accel.zip(from) {
        Some((a, x)) => speed.min((corner * corner + 2.0 * a * x).sqrt()).max(1e-9),
        None => speed,
    };
    let known = match settled {
        Some(true) => SETTLED,
        _ => SPEEDING,
    };
    let f = v / spacing;
    let rel = rss([g.num("read_mm") / (g.num("count") * spacing), known]);
    let (w, a_max) = (TAU * f, height * (TAU * f).powi(2));
    if settled == Some(false) {
        o.warn("the head was still speeding up there: measure further from the corner");
    }
    if !(10.0..=400.0).contains(&f) {
        o.warn("an unlikely frequency: look at speed, spacing and unit again");
    }
    o.num("v_mm_s", v, 0.1);
    o.pair("frequency", "hz", (f, f * rel), 0.1);
    o.num("a_max_mm_s2", a_max, 10.0);
    o.num("a_max_u", 2.0 * a_max * rel, 10.0);
    o.num("corner_dv_mm_s", height * w, 0.1);
    o.maybe("reach_mm", reach, 0.1);
    o.result = format!(
        "{}; for ripples under {} mm at most {:.0} mm/s²",
        plus_minus(f, f * rel, 0.1, "Hz"),
        show(height, 0.001),
        nearest(a_max, 10.0)
    );
    Ok(())
}
