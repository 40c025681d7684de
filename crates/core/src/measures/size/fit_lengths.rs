//! Scale and offset from calipers on several lengths.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, mm, plain};
use crate::measures::maths::{mean, show};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::slips::LENGTHS;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::TAU;

pub(super) const MEASURE: Measure = Measure {
    id: "fit-lengths",
    plain: "calipers on several lengths",
    not: "whether it shrinks, alike in X and Y, or its steps are wrong; round holes are smaller",
    safety: "",
    card: Card {
        hold: Hold::Calipers,
        words: "size wrong shrink scale dimension small large holes",
        formulas: &[
            "measured = offset + scale · length as drawn (least squares)",
            "{scale_percent} = 100 · ({scale} − 1)",
            "{size_percent} = 100 / {scale}",
        ],
        example: &[
            ("nominal_mm", "20 50 100"),
            ("measured_mm", "20.16 50.1 100.05"),
        ],
        against: "1",
    },
    inputs: &[
        mm("nominal_mm", "lengths as drawn").list(3, 3, 30).needed(),
        mm("measured_mm", "lengths as measured")
            .list(3, 3, 30)
            .needed(),
        choice("kind", "measured on", &["outside", "hole"]),
        mm("calipers_mm", "calipers good to").usual(0.03),
        plain("steps_now", "steps per mm set now", 1.0, 20_000.0),
    ],
    reckon,
};

/// A line through lengths: offset at nought and scale, with what is known of both.
struct Line {
    offset: (f64, f64),
    scale: (f64, f64),
    /// Middle of the lengths drawn, and of what is over there.
    middle: (f64, f64),
    left: f64,
    s: f64,
}

fn line(x: &[f64], y: &[f64], calipers: f64) -> Line {
    let (mx, my, n) = (mean(x), mean(y), x.len() as f64);
    let sxx: f64 = x.iter().map(|v| (v - mx).powi(2)).sum();
    let sxy: f64 = x.iter().zip(y).map(|(v, w)| (v - mx) * (w - my)).sum();
    let b = sxy / sxx;
    let a = my - b * mx;
    let off: f64 = x.iter().zip(y).map(|(v, w)| (w - a - b * v).powi(2)).sum();
    let left = (off / (n - 2.0)).sqrt();
    let s = calipers.max(left);
    Line {
        offset: (a, s * (1.0 / n + mx * mx / sxx).sqrt()),
        scale: (b, s / sxx.sqrt()),
        middle: (mx, my - mx),
        left,
        s: s / n.sqrt(),
    }
}

/// How likely what is over at the middle and the scale are together, for an offset and a scale that
/// usually lie within so much.
fn likelihood(l: &Line, offset: f64, scale: f64) -> f64 {
    let (m, b) = (l.middle.1, l.scale.0 - 1.0);
    let (va, vb, x) = (offset * offset, scale * scale, l.middle.0);
    let (c11, c12) = (va + x * x * vb + l.s * l.s, x * vb);
    let c22 = vb + l.scale.1 * l.scale.1;
    let det = c11 * c22 - c12 * c12;
    let far = (c22 * m * m - 2.0 * c12 * m * b + c11 * b * b) / det;
    (-0.5 * far).exp() / (TAU * det.sqrt())
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let [drawn, measured] = g.together(["nominal_mm", "measured_mm"])?;
    let mut sizes = drawn.to_vec();
    sizes.sort_by(f64::total_cmp);
    sizes.dedup();
    if sizes.len() < 3 {
        return refuse("nominal_mm: three different sizes are needed to part scale from offset");
    }
    for (a, b) in drawn.iter().zip(measured) {
        o.check(&format!("{a} mm"), &[*b], *a, ("mm", LENGTHS));
    }
    let whole = |v: &f64| (v - v.round()).abs() < 1e-9;
    if measured.iter().all(whole) && !drawn.iter().all(whole) {
        o.slip("every measured length is a whole number: are the lists swapped?");
    }
    let calipers = g.num("calipers_mm");
    let l = line(drawn, measured, calipers);
    if l.left > 3.0 * calipers {
        o.warn("the lengths do not lie on a line, it is bent: measure the odd one again");
    }
    let ((a, _), (b, bu)) = (l.offset, l.scale);
    let side = if g.word("kind") == "outside" {
        -a / 2.0
    } else {
        a / 2.0
    };
    o.pair("scale", "", l.scale, 0.00001);
    o.num("scale_percent", 100.0 * (b - 1.0), 0.001);
    o.pair("offset", "mm", l.offset, 0.001);
    o.num("per_side_mm", side, 0.01);
    o.num("size_percent", 100.0 / b, 0.01);
    o.num("residual_mm", l.left, 0.001);
    o.maybe("steps_new", g.maybe("steps_now").map(|now| now / b), 0.01);
    let scale = (show(100.0 * b, 0.001), show(100.0 * bu, 0.001));
    let offset = plus_minus(a, l.offset.1, 0.001, "mm");
    o.result = format!("scale {} ± {} %, offset {offset}", scale.0, scale.1);
    let states = [
        ("true", likelihood(&l, 0.05, 0.001)),
        ("scale-off", likelihood(&l, 0.05, 0.012)),
        ("offset-off", likelihood(&l, 0.25, 0.001)),
    ];
    o.find("fit-lengths", &states);
    Ok(())
}
