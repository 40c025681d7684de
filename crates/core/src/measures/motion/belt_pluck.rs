//! Tension of a belt from its tone.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{hertz, mm, plain};
use crate::measures::maths::{between, mean, median, normal, of_mean, over, rss, show, under};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::slips::PLAIN;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "belt-pluck",
    plain: "belt tension from its tone",
    not: "which idler is worn",
    safety: "motors off while you pluck",
    card: Card {
        hold: Hold::Ear,
        words: "belt tension loose tight tone pluck hertz",
        formulas: &[
            "{tension_n} = 4 · {belt_kg_m} · ({span_mm} / 1000)² · {tone_hz}² | {tension_n} = 4 · \
             0.008 · {width_mm} / 6 · ({span_mm} / 1000)² · {tone_hz}²",
        ],
        example: &[("tone_hz", "98 99 98"), ("span_mm", "220")],
        against: "",
    },
    inputs: &[
        hertz("tone_hz", "tone of the belt").readings(3).needed(),
        mm("span_mm", "free length").range(30.0, 2000.0).needed(),
        hertz("tone2_hz", "tone of the other belt").readings(3),
        mm("span2_mm", "its free length").range(30.0, 2000.0),
        mm("width_mm", "belt width").usual(6.0),
        plain("belt_kg_m", "mass of the belt, kg/m", 0.001, 0.1),
        mm("span_read_mm", "length read to").usual(2.0),
        plain("low_n", "least tension, N", 1.0, 200.0),
        plain("high_n", "most tension, N", 1.0, 400.0),
    ],
    reckon,
};

/// Mass of a usual belt of 6 mm, in kg/m.
const MASS: f64 = 0.008;
/// How far a tension can lie off, as a logarithm, before the belt is no belt any more.
const WIDE: f64 = 2.079_441_541_679_835_8;

/// A tension, and the relative uncertainty its tone and length give it.
///
/// # Formula
/// T = 4·μ·L²·f²
fn tension(g: &Given, o: &mut Out, (tones, span): (&[f64], f64), mass: f64) -> (f64, f64) {
    let (f, length) = (mean(tones), span / 1000.0);
    if tones.len() > 2 {
        o.check("tone", tones, median(tones), ("Hz", PLAIN));
    }
    let of_tone = (0.01 * f).max(of_mean(tones)) / f;
    let rel = rss([2.0 * of_tone, 2.0 * g.num("span_read_mm") / span]);
    (4.0 * mass * length * length * f * f, rel)
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (tones2, span2) = (g.list("tone2_hz"), g.maybe("span2_mm"));
    if tones2.is_empty() != span2.is_none() {
        return refuse("tone2_hz and span2_mm belong together: span2_mm or tone2_hz is missing");
    }
    let (width, span) = (g.num("width_mm"), g.num("span_mm"));
    let weighed = g.maybe("belt_kg_m");
    let (mass, of_mass) = match weighed {
        Some(mass) => (mass, 0.03),
        None => (MASS * width / 6.0, 0.15),
    };
    let low = g.maybe("low_n").unwrap_or(width);
    let high = g.maybe("high_n").unwrap_or(5.0 * width);
    if low >= high {
        return refuse("low_n must be below high_n");
    }
    let (t, e) = tension(g, o, (g.list("tone_hz"), span), mass);
    let s = rss([e, of_mass]);
    o.pair("tension", "n", (t, t * s), 0.1);
    if !(low / 4.0..=4.0 * high).contains(&t) {
        o.warn("an unlikely tension: was an octave (an overtone) read?");
    }
    o.result = plus_minus(t, t * s, 0.1, "N");
    let (mut z, mut alike, mut unlike) = (t.ln(), 1.0, 1.0);
    if let Some(span2) = span2 {
        let (t2, e2) = tension(g, o, (tones2, span2), mass);
        let (apart, u) = ((t2 / t).ln(), rss([e, e2]));
        z = (z + t2.ln()) / 2.0;
        alike = normal(apart, 0.0, rss([u, 0.1]));
        unlike = normal(apart, 0.0, rss([u, 0.7]));
        o.num("tension2_n", t2, 0.1);
        o.num("difference_percent", 100.0 * (t2 / t - 1.0), 1.0);
        o.result += &format!(", the other {} N", show(t2, 0.1));
    }
    let tone = |tension: f64| (tension / (4.0 * mass)).sqrt() / (span / 1000.0);
    o.num("tone_low_hz", tone(low), 1.0);
    o.num("tone_high_hz", tone(high), 1.0);
    let (a, b) = (low.ln(), high.ln());
    let states = [
        ("right", between(z, a, b, s) * alike),
        ("slack", under(z, a, WIDE, s) * alike),
        ("over-tight", over(z, b, WIDE, s) * alike),
        ("unequal", normal(z, (a + b) / 2.0, rss([0.8, s])) * unlike),
    ];
    o.find("belt-pluck", &states);
    Ok(())
}
