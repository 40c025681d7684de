//! Size of a sideways step: whole motor cycles, belt teeth, or neither.

use super::rib_spacing::MOTIONS;
use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, mm, whole};
use crate::measures::maths::{mean, normal, of_mean, rss, show};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::usual::{BELT_PITCH, PULLEY_TEETH};
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::{FRAC_1_SQRT_2, SQRT_2};

pub(super) const MEASURE: Measure = Measure {
    id: "shift-size",
    plain: "size of a sideways step",
    not: "why: a diagonal on crossed belts is one motor or belt, X or Y alone both",
    safety: "",
    card: Card {
        hold: Hold::Ruler,
        words: "layer shift step sideways jump offset belt tooth",
        formulas: &["{cycle_mm} = 4 · {belt_pitch_mm} · {pulley_teeth} / {motor_steps}"],
        example: &[("x_mm", "2.05"), ("y_mm", "0"), ("motion", "bed-slinger")],
        against: "",
    },
    inputs: &[
        mm("step_mm", "the step").readings(1),
        mm("x_mm", "along X").range(-100.0, 100.0),
        mm("y_mm", "along Y").range(-100.0, 100.0),
        choice("along", "it went along", &["x", "y", "diagonal"]).from("axis"),
        mm("step_uncertainty_mm", "read to").usual(0.1),
        choice("motion", "motion", MOTIONS).from("motion"),
        PULLEY_TEETH,
        BELT_PITCH,
        whole("motor_steps", "full steps a turn", 48.0, 800.0).usual(200.0),
    ],
    reckon,
};

/// Longest step that is thought of, in millimetres of belt.
const LONGEST: f64 = 30.0;

/// A way of belt with its uncertainty.
type Way = (f64, f64);

/// How far a step of this size may go.
fn reach(way: f64) -> f64 {
    LONGEST.max(1.5 * way)
}

/// How likely a way is when it comes in multiples of a size, each up to the longest alike.
fn multiples((way, s): Way, size: f64) -> f64 {
    let longest = reach(way);
    let many = (longest / size - 1e-9).ceil() as u32;
    let sum: f64 = (1..=many)
        .map(|n| normal(way, f64::from(n) * size, s))
        .sum();
    sum * size / longest
}

/// The direction of a step and the belts it moved.
fn moved(
    crossed: bool,
    known_diagonal: bool,
    (x, y): (f64, f64),
    s: f64,
) -> (&'static str, Vec<Way>) {
    let q = s * SQRT_2;
    let both = |direction| match crossed {
        true => (direction, vec![(x + y, q), ((x - y).abs(), q)]),
        false => (direction, vec![(x, s), (y, s)]),
    };
    // Along a diagonal crossed belts move one of the two alone.
    let diagonal = || match crossed {
        true => ("diagonal", vec![(x + y, q)]),
        false => both("diagonal"),
    };
    if known_diagonal {
        diagonal()
    } else if y <= 2.0 * s {
        ("x", vec![(x, s)])
    } else if x <= 2.0 * s {
        ("y", vec![(y, s)])
    } else if (x - y).abs() <= 2.0 * q {
        diagonal()
    } else {
        both("oblique")
    }
}

/// The step along X and Y, as far as it was told, and its uncertainty.
fn components(g: &Given) -> Result<((f64, f64), f64), Refused> {
    let steps = g.list("step_mm");
    let read = g.num("step_uncertainty_mm");
    let s = match steps.is_empty() {
        true => read,
        false => rss([read, of_mean(steps)]),
    };
    let (x, y) = (g.maybe("x_mm"), g.maybe("y_mm"));
    if x.is_some() || y.is_some() {
        let (x, y) = (x.unwrap_or(0.0).abs(), y.unwrap_or(0.0).abs());
        return match x <= 2.0 * s && y <= 2.0 * s {
            true => small(),
            false => Ok(((x, y), s)),
        };
    }
    if steps.is_empty() {
        return refuse("step_mm is missing: give the step, or x_mm and y_mm");
    }
    let t = mean(steps);
    if t <= 2.0 * s {
        return small();
    }
    let each = t * FRAC_1_SQRT_2;
    Ok((
        match g.word("along") {
            "x" => (t, 0.0),
            "y" => (0.0, t),
            _ => (each, each),
        },
        s,
    ))
}

fn small<T>() -> Result<T, Refused> {
    refuse("step_mm: so small a step cannot be told from the reading's error")
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let ((x, y), s) = components(g)?;
    let parts = g.maybe("x_mm").is_some() || g.maybe("y_mm").is_some();
    let crossed = g.word("motion") == "crossed-belt";
    let known_diagonal = !parts && g.word("along") == "diagonal";
    let (direction, ways) = moved(crossed, known_diagonal, (x, y), s);
    let along_axis = matches!(direction, "x" | "y");
    let one = match crossed {
        true => direction == "diagonal",
        false => along_axis,
    };
    let pitch = g.num("belt_pitch_mm");
    let cycle = 4.0 * pitch * g.num("pulley_teeth") / g.num("motor_steps");
    let (first, first_s) = ways[0];
    let near = |size: f64| (first / size + 0.5).floor().max(1.0);
    let (cycles, teeth) = (near(cycle), near(pitch));
    let (off_cycles, off_teeth) = (first - cycles * cycle, first - teeth * pitch);
    o.word("direction", direction);
    o.word("motors", if one { "one" } else { "both" });
    let lengths: Vec<f64> = ways.iter().map(|(way, _)| *way).collect();
    o.list("belt_mm", &lengths, 0.01);
    o.num("cycle_mm", cycle, 0.001);
    o.num("cycles", cycles, 0.0);
    o.num("cycles_off_mm", off_cycles, 0.01);
    o.num("teeth", teeth, 0.0);
    o.num("teeth_off_mm", off_teeth, 0.01);
    if 2.0 * first_s > cycle / 2.0 {
        o.warn("read so coarsely, neighbouring cycles are too near each other: measure closer");
    }
    o.result = format!(
        "{} of belt: {cycles} cycles of {} mm leave {}, {teeth} teeth leave {} mm",
        plus_minus(first, first_s, 0.01, "mm"),
        show(cycle, 0.01),
        show(off_cycles, 0.01),
        show(off_teeth, 0.01)
    );
    if g.word("motion") == "delta" {
        o.warn("on a delta a step is no fixed share of a motor's: its size says nothing");
        return Ok(());
    }
    find(g, o, &ways, ((x, y), s));
    Ok(())
}

/// How likely the ways are as multiples of what a motor or a belt may lose, and the axis where both
/// components were told.
fn find(g: &Given, o: &mut Out, ways: &[Way], ((x, y), s): ((f64, f64), f64)) {
    let pitch = g.num("belt_pitch_mm");
    let cycle = 4.0 * pitch * g.num("pulley_teeth") / g.num("motor_steps");
    let all = |size: f64| {
        ways.iter()
            .map(|way| multiples(*way, size))
            .product::<f64>()
    };
    let any: f64 = ways.iter().map(|(way, _)| 1.0 / reach(*way)).product();
    let states = [
        ("whole-cycles", all(cycle)),
        ("tooth-multiples", all(pitch)),
        ("any-size", any),
    ];
    o.find("shift-size", &states);
    if g.maybe("x_mm").is_some() && g.maybe("y_mm").is_some() {
        let even = 1.0 / (2.0 * LONGEST);
        let apart = normal((x - y) * FRAC_1_SQRT_2, 0.0, s);
        let states = [
            ("x", normal(y, 0.0, s) * even),
            ("y", normal(x, 0.0, s) * even),
            ("z", 0.0),
            ("both-xy", even * even),
            ("diagonal", apart / (4.0 * SQRT_2 * LONGEST)),
        ];
        o.find("axis", &states);
    }
}
