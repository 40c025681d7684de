//! Distance and angle on a photo.

use super::scale::{CAMERA, CLICK, Line, REF_MM, REF_U, REFERENCE, Scale, TILT, between};
use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, pixels};
use crate::measures::maths::{rss, show};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "photo-distance",
    plain: "distance and angle on a photo",
    not: "what lies off the plane of the reference; the lens is not corrected",
    safety: "",
    card: Card {
        hold: Hold::File,
        words: "photo distance length angle picture scale",
        formulas: &[
            "scale = length of the reference in pixels / its length in truth",
            "length = length of the line in pixels / scale · (1 − nearer by / distance of the \
             camera)",
        ],
        example: &[
            ("ref_px", "110 90 710 96"),
            ("ref_mm", "50"),
            ("line_px", "120 400 560 420"),
        ],
        against: "",
    },
    inputs: &[
        REFERENCE,
        REF_MM,
        pixels("line_px", "ends of the line").list(4, 4, 4).needed(),
        CLICK,
        TILT,
        CAMERA,
        mm("depth_mm", "nearer than the reference by")
            .range(-500.0, 500.0)
            .usual(0.0),
        REF_U,
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let scale = Scale::read(g)?;
    let line = Line::of(g.list("line_px"));
    let px = line.length();
    if px < 3.0 {
        return refuse("line_px: the line is too short");
    }
    let depth = g.num("depth_mm") / scale.camera;
    let angle = between(line.direction(), scale.line.direction());
    let length = px / scale.k * (1.0 - depth);
    let [touch, known, apart, across] = scale.parts(&line, angle);
    let own = scale.touch / px;
    let u = length * rss([own, touch, known, apart, across, 0.1 * depth.abs()]);
    if scale.px < px / 3.0 {
        o.warn("the reference is short against the line: take a longer one");
    }
    if scale.camera < 5.0 * px.max(scale.px) / scale.k {
        o.warn("the camera is near: stand back and zoom");
    }
    let turned = rss([own, touch, 0.5 * (1.0 - scale.tilt.cos())]).to_degrees();
    o.pair("length", "mm", (length, u), 0.01);
    o.num("px_per_mm", scale.k, 0.01);
    o.pair("angle", "deg", (angle.to_degrees(), turned), 0.1);
    o.result = format!(
        "{}, {}° to the reference",
        plus_minus(length, u, 0.01, "mm"),
        show(angle.to_degrees(), 0.1)
    );
    Ok(())
}
