//! Two heights over one base line on one photo.

use super::scale::{CAMERA, CLICK, Line, REF_MM, REF_U, REFERENCE, Scale, TILT, between};
use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, mm, pixels};
use crate::measures::maths::{rss, show};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::size::same_height::find;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::FRAC_PI_2;

pub(super) const MEASURE: Measure = Measure {
    id: "photo-heights",
    plain: "two heights on one photo",
    not: "pieces at unlike distances from the camera",
    safety: "",
    card: Card {
        hold: Hold::File,
        words: "photo height mark band picture two pieces",
        formulas: &[
            "height = distance of the mark from the base line / scale",
            "{difference_mm} = {height1_mm} − {height2_mm}",
        ],
        example: &[
            ("ref_px", "100 900 700 900"),
            ("ref_mm", "50"),
            ("base_px", "100 1000 1300 1000"),
            ("mark1_px", "300 520"),
            ("mark2_px", "1000 514"),
            ("reach_mm", "80"),
        ],
        against: "0",
    },
    inputs: &[
        REFERENCE,
        REF_MM,
        pixels("base_px", "ends of the base line")
            .list(4, 4, 4)
            .needed(),
        pixels("mark1_px", "first mark").list(2, 2, 2).needed(),
        pixels("mark2_px", "second mark").list(2, 2, 2).needed(),
        CLICK,
        TILT,
        CAMERA,
        REF_U,
        mm("reach_mm", "height of the lower piece"),
        choice("models", "the pieces are", &["different", "same"]),
    ],
    reckon,
};

/// A mark over the base line.
struct Mark {
    height: f64,
    u: f64,
    /// How far along the base line it stands.
    along: f64,
}

fn mark(scale: &Scale, base: &Line, at: &[f64]) -> Mark {
    let long = base.length();
    let (ux, uy) = (base.way.0 / long, base.way.1 / long);
    let (x, y) = (at[0] - base.from.0, at[1] - base.from.1);
    let along = x * ux + y * uy;
    let height = (y * ux - x * uy).abs() / scale.k;
    let foot = (base.from.0 + along * ux, base.from.1 + along * uy);
    let upright = Line::between(foot, (at[0], at[1]));
    let angle = between(base.direction() + FRAC_PI_2, scale.line.direction());
    let rel = rss(scale.parts(&upright, angle));
    Mark {
        height,
        u: rss([scale.touch / scale.k, height * rel]),
        along: along / scale.k,
    }
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let scale = Scale::read(g)?;
    let base = Line::of(g.list("base_px"));
    if base.length() < 20.0 {
        return refuse("base_px: the base line is too short: 20 pixels at least");
    }
    let [one, two] = ["mark1_px", "mark2_px"].map(|id| mark(&scale, &base, g.list(id)));
    let d = one.height - two.height;
    let apart = (one.along - two.along).abs();
    // What both share falls out of the difference; what is left is how far they stand apart.
    let [touch, known, ..] = scale.parts(&base, 0.0);
    let leans = apart * scale.tilt.sin() / scale.camera * (one.height + two.height) / 2.0;
    let turned = apart * scale.touch / base.length();
    let u = rss([scale.touch / scale.k, d * touch, d * known, leans, turned]);
    o.num("height1_mm", one.height, 0.01);
    o.num("height2_mm", two.height, 0.01);
    o.num("height_u", one.u.max(two.u), 0.01);
    o.pair("difference", "mm", (d, u), 0.01);
    o.word("says", if d.abs() <= 2.0 * u { "same" } else { "apart" });
    o.result = format!(
        "{} and {} mm, {} apart",
        show(one.height, 0.01),
        show(two.height, 0.01),
        plus_minus(d.abs(), u, 0.01, "mm")
    );
    if let Some(reach) = g.maybe("reach_mm") {
        find(o, (d, rss([u, 0.3])), reach, g.word("models") == "same");
    }
    Ok(())
}
