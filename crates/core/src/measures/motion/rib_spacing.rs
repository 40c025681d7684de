//! Source of evenly spaced ribs along X or Y.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, mm, whole};
use crate::measures::maths::rss;
use crate::measures::refused::refuse;
use crate::measures::sources::{Source, likelihood, rank, tell};
use crate::measures::usual::{BELT_PITCH, MOTOR_STEPS, PULLEY_TEETH};
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::{FRAC_1_SQRT_2, PI, SQRT_2};

pub(super) const MOTIONS: &[&str] = &[
    "bed-slinger",
    "crossed-belt",
    "cross-gantry",
    "delta",
    "cantilever",
];

pub(super) const MEASURE: Measure = Measure {
    id: "rib-spacing",
    plain: "source of evenly spaced ribs along X or Y",
    not: "ringing, which fades behind a corner",
    safety: "",
    card: Card {
        hold: Hold::Ruler,
        words: "ribs vertical lines belt tooth moire pattern",
        formulas: &["{spacing_mm} = {span_mm} / {ribs}"],
        example: &[("span_mm", "42.1"), ("ribs", "21")],
        against: "",
    },
    inputs: &[
        mm("span_mm", "length over several ribs").needed(),
        whole("ribs", "ribs in it", 1.0, 500.0).usual(1.0),
        mm("read_mm", "read to").usual(0.1),
        choice("along", "the wall runs along", &["axis", "diagonal"]),
        mm("idler_mm", "diameter of a plain idler"),
        whole("idler_teeth", "teeth of a toothed idler", 8.0, 80.0),
        choice("motion", "motion", MOTIONS).from("motion"),
        BELT_PITCH,
        PULLEY_TEETH,
        MOTOR_STEPS,
    ],
    reckon,
};

/// Spacings people measure span a factor of so much.
const SPACINGS: f64 = 1200.0;

/// Parts with the way of belt between two of their marks.
fn parts(g: &Given) -> Vec<(&'static str, f64)> {
    let pitch = g.num("belt_pitch_mm");
    let turn = pitch * g.num("pulley_teeth");
    let step = turn / g.num("motor_steps");
    let toothed = g.maybe("idler_teeth").map(|teeth| pitch * teeth);
    let idler = g.maybe("idler_mm").map(|d| PI * d).or(toothed);
    [
        ("belt-tooth", pitch),
        ("pulley-turn", turn),
        ("motor-step", step),
        ("two-steps", 2.0 * step),
        ("motor-cycle", 4.0 * step),
    ]
    .into_iter()
    .chain(idler.map(|way| ("idler-turn", way)))
    .collect()
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let motion = g.word("motion");
    if motion == "delta" {
        return refuse(
            "motion: on a delta the spacing changes with the place: no fixed parts to compare with",
        );
    }
    let ribs = g.num("ribs");
    let (s, u) = (g.num("span_mm") / ribs, SQRT_2 * g.num("read_mm") / ribs);
    // Along a diagonal crossed belts move one motor alone, others both.
    let k = match (g.word("along"), motion) {
        ("axis", _) => 1.0,
        (_, "crossed-belt") => FRAC_1_SQRT_2,
        _ => SQRT_2,
    };
    let source = |(name, way): (&'static str, f64)| Source {
        name,
        expects: k * way,
        sigma: rss([u, 0.01 * k * way]),
    };
    let sources: Vec<Source> = parts(g).into_iter().map(source).collect();
    o.pair("spacing", "mm", (s, u), 0.001);
    let fits = rank(o, s, &sources);
    if ribs < 10.0 {
        o.warn("too few ribs: measure over ten or more");
    }
    tell(o, (s, u), &sources, &fits);
    let anything = 1.0 / (s * SPACINGS.ln());
    let of = |name| likelihood(s, &sources, name, anything);
    let motor = (of("motor-step") + of("two-steps") + of("motor-cycle")) / 3.0;
    let states = [
        ("belt-tooth", of("belt-tooth")),
        ("pulley-turn", of("pulley-turn")),
        ("motor-step", motor),
        ("idler-turn", of("idler-turn")),
        ("none-fits", anything),
    ];
    o.find("rib-spacing", &states);
    Ok(())
}
