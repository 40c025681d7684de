//! The spacing of bands or ripples along a line of a photo.

use super::rhythm::Profile;
use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, percent, pixels, plain};
use crate::measures::maths::{largest, median, rss, show, smallest};
use crate::measures::refused::refuse;
use crate::measures::spectrum::{highest, top};
use crate::measures::usual::LAYER;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "photo-rhythm",
    plain: "spacing of bands or ripples on a photo",
    not: "how deep they are",
    safety: "",
    card: Card {
        hold: Hold::File,
        words: "photo bands ripples spacing picture rhythm",
        formulas: &["spacing = period in pixels · reference in mm / reference in pixels"],
        example: &[],
        against: "",
    },
    inputs: &[
        plain("profile", "brightness along the line", 0.0, 65_535.0)
            .list(800, 64, 8000)
            .needed(),
        pixels("scale_px", "reference on the photo")
            .range(5.0, 20_000.0)
            .needed(),
        mm("scale_mm", "reference in truth").needed(),
        LAYER,
        percent("scale_u_percent", "scale good to").usual(1.0),
        plain("tilt_deg", "lean of the piece, °", 0.0, 30.0).usual(5.0),
    ],
    reckon,
};

/// Pixels a layer must cover: finer lines beat with the pixels.
const FINEST: f64 = 2.5;

/// The layers as the photo shows them, in millimetres, where they stand out.
fn layers(profile: &Profile, expected: f64, k: f64) -> Option<f64> {
    let power = &profile.power;
    let middle = profile.size as f64 / expected;
    let (a, b) = ((middle / 1.12) as usize, (middle * 1.12) as usize + 1);
    let q = highest(power, a..b.min(power.len() - 1))?;
    let about = &power[(middle / 1.4) as usize..((middle * 1.4) as usize).min(power.len())];
    let stands = power[q] >= 30.0 * median(about);
    stands.then(|| profile.size as f64 / top(power, q) / k)
}

/// Tells the layers seen, and asks where they are not what was set.
fn tell_layers(o: &mut Out, seen: Option<f64>, layer: f64) {
    o.maybe("layer_seen_mm", seen, 0.001);
    if let Some(seen) = seen.filter(|s| (s / layer - 1.0).abs() > 0.05) {
        o.warn(format!(
            "the layers come out at {seen:.3} mm: is the scale right?"
        ));
    }
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let samples = g.list("profile");
    let k = g.num("scale_px") / g.num("scale_mm");
    if largest(samples) - smallest(samples) < 1e-9 {
        return refuse("profile: flat, there is nothing to see");
    }
    let layer = g.maybe("layer_mm");
    let in_px = layer.map(|h| h * k);
    if in_px.is_some_and(|px| px < FINEST) {
        return refuse(
            "profile: a layer covers under 2.5 pixels, its lines beat with the pixels: take the \
             photo closer",
        );
    }
    let profile = Profile::of(samples);
    let found = profile.rhythm(in_px.map_or(4.0, |px| (FINEST * px).max(4.0)));
    match layer.zip(in_px) {
        None => o.warn("the layer height is not known: these may be the layers"),
        Some((layer, px)) => tell_layers(o, layers(&profile, px, k), layer),
    }
    let none = format!(
        "no rhythm{}",
        if layer.is_some() {
            " but the layers"
        } else {
            ""
        }
    );
    let Some(found) = found else {
        o.word("rhythm", "no");
        o.result = none;
        return Ok(());
    };
    o.num("strength", found.strength, 1.0);
    o.num("correlation", found.agreement, 0.01);
    o.word("rhythm", found.says());
    if found.says() == "no" {
        o.result = none;
        return Ok(());
    }
    let (n, spacing) = (samples.len() as f64, found.period / k);
    let leans = (1.0 - g.num("tilt_deg").to_radians().cos()) / 3f64.sqrt();
    let placed = found.period / n / found.strength.sqrt();
    let u = spacing * rss([placed, g.num("scale_u_percent") / 100.0, leans]);
    let periods = n / found.period;
    o.pair("spacing", "mm", (spacing, u), 0.001);
    o.num("periods", periods, 0.1);
    if periods < 5.0 {
        o.warn("few periods: photograph a longer stretch");
    }
    let perhaps = if found.says() == "yes" {
        ""
    } else {
        ", perhaps"
    };
    o.result = format!("{} ± {} mm{perhaps}", show(spacing, 0.01), show(u, 0.01));
    Ok(())
}
