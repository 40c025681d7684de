//! Repeat of the probe at one place, cool and warm.

use crate::measures::card::{Card, Hold};
use crate::measures::input::mm;
use crate::measures::maths::{half, mean, median, of_mean, over, range, rss, sd, show};
use crate::measures::out::plus_minus;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "probe-repeat",
    plain: "repeat of the probe, cool against warm",
    not: "growth of the bed: warm it twice as long",
    safety: "",
    card: Card {
        hold: Hold::Eye,
        words: "probe repeat accuracy scatter warm cold drift levelling",
        formulas: &[
            "spread = standard deviation of the heights",
            "{drift_mm} = {warm_mean_mm} − {cool_mean_mm}",
        ],
        example: &[
            (
                "cool_mm",
                "1.201 1.203 1.199 1.202 1.2 1.201 1.198 1.202 1.2 1.204",
            ),
            (
                "warm_mm",
                "1.264 1.262 1.266 1.263 1.265 1.261 1.264 1.263 1.262 1.265",
            ),
        ],
        against: "0",
    },
    inputs: &[
        mm("cool_mm", "heights, cool")
            .range(-20.0, 20.0)
            .list(10, 3, 50)
            .needed(),
        mm("warm_mm", "heights, warm")
            .range(-20.0, 20.0)
            .list(10, 3, 50),
        mm("limit_mm", "drift allowed").usual(0.05),
    ],
    reckon,
};

/// Scatter of a probe above which it does not repeat, in millimetres.
const SCATTERS: f64 = 0.015;

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (cool, warm) = (g.list("cool_mm"), g.list("warm_mm"));
    let mut worst = (0.0, 2usize);
    for (name, heights) in [("cool", cool), ("warm", warm)] {
        if heights.is_empty() {
            continue;
        }
        let s = sd(heights);
        o.num(&format!("{name}_mean_mm"), mean(heights), 0.001);
        o.num(&format!("{name}_sd_mm"), s, 0.001);
        o.num(&format!("{name}_range_mm"), range(heights), 0.001);
        if s > worst.0 || (s == worst.0 && heights.len() > worst.1) {
            worst = (s, heights.len());
        }
        if heights.len() < 5 {
            o.few(heights.len(), 10);
        }
        let middle = median(heights);
        if heights.iter().any(|h| (h - middle).abs() > 0.5) {
            o.warn(format!(
                "{name}: an outlier over 0.5 mm off: such a retry is a failure of the probe"
            ));
        }
    }
    let (s, n) = worst;
    let e = (s / (2.0 * (n as f64 - 1.0)).sqrt()).max(0.001);
    let mut says = if s > SCATTERS { "scatters" } else { "repeats" };
    let mut repeats = half(s, 0.008);
    let mut scatters = over(s, SCATTERS, 0.1, e);
    // Cool heights alone say nothing of a drift.
    let mut drifts = repeats;
    let (steady, spread) = (repeats, scatters);
    let mut drifted = String::new();
    if warm.is_empty() {
        o.warn("cool only: probe again warm");
    } else {
        let (d, u) = (mean(warm) - mean(cool), rss([of_mean(cool), of_mean(warm)]));
        o.pair("drift", "mm", (d, u), 0.001);
        if says == "repeats" && d.abs() > g.num("limit_mm").max(2.0 * u) {
            says = "drifts";
        }
        scatters += 0.5 * repeats * over(d.abs(), 0.08, 0.5, rss([u, 0.005]));
        drifts = steady * over(d.abs(), 0.08, 0.5, rss([u, 0.005]));
        repeats *= half(d.abs(), rss([0.04, u]));
        let said = plus_minus(d, u, 0.001, "mm");
        drifted = format!(", warm against cool {said}");
    }
    o.word("says", says);
    o.result = format!("spread {} mm{drifted}: {says}", show(s, 0.001));
    o.find_finer(&[
        ("repeats", repeats),
        ("scatters", spread),
        ("drifts-warm", drifts),
    ]);
    o.find(
        "probe-repeat",
        &[("repeats", repeats), ("scatters", scatters)],
    );
    Ok(())
}
