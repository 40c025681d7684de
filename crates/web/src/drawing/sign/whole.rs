//! Signs of the whole piece: steps, shape, size.

use super::Draw;
use super::pen::{PLATE, Pen};

pub fn drawing(id: &str) -> Option<Draw> {
    Some(match id {
        "layer-step" => layer_step,
        "layer-steps-repeated" => layer_steps_repeated,
        "spaghetti" => spaghetti,
        "fused-gaps" => fused_gaps,
        "holes-oval" => holes_oval,
        "too-short" => too_short,
        "oversize" => oversize,
        "undersize" => undersize,
        "skewed" => skewed,
        _ => return None,
    })
}

fn layer_step(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.layers(11, 5.8, |n| {
        let shift = if faulty && n >= 6 { -16.0 } else { 0.0 };
        Some((40.0 + shift, 84.0 + shift))
    });
    if faulty {
        pen.path("bad", "M98 45H88M92 41l-5 4 5 4");
    }
}

fn layer_steps_repeated(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.layers(11, 5.8, |n| {
        let shift = if faulty {
            -6.0 * n.div_ceil(2) as f64 + 16.0
        } else {
            0.0
        };
        Some((38.0 + shift, 82.0 + shift))
    });
    if faulty {
        pen.path("bad", "M100 72L76 16");
    }
}

fn spaghetti(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if faulty {
        pen.layers(3, 6.0, |_| Some((36.0, 84.0)));
        pen.path(
            "strand thin",
            "M40 60c-20-10-14-30 6-26s26 30 40 20 6-34-12-34-34 12-30 30 40 24 50 4-20-40-44-32-34 \
                34-14 40 50 6 56-12-8-30-24-28-22 20-10 28 26 0 24-14",
        );
        pen.path(
            "strand thin",
            "M22 78c-8-12 6-14 12-8s14 4 12-8M92 78c10-6 8-18-2-18s-16 8-24 4",
        );
    } else {
        pen.layers(10, 6.0, |_| Some((36.0, 84.0)));
    }
}

/// A pin in its ring, from above.
fn fused_gaps(pen: &mut Pen, faulty: bool) {
    pen.block("plastic", 20.0, 6.0, 80.0, 78.0, 6.0);
    pen.round("hollow", 60.0, 45.0, 28.0);
    pen.round("plastic", 60.0, 45.0, 20.0);
    if faulty {
        for n in 0..9 {
            let a = f64::from(n) * 0.698;
            pen.round("blob", 60.0 + 24.0 * a.cos(), 45.0 + 24.0 * a.sin(), 6.0);
        }
    }
    pen.round("ink", 60.0, 45.0, 5.0);
}

fn holes_oval(pen: &mut Pen, faulty: bool) {
    let (rx, ry) = if faulty { (38.0, 28.0) } else { (33.0, 33.0) };
    pen.oval("plastic", 60.0, 45.0, rx, ry);
    pen.oval("hollow", 60.0, 45.0, rx * 0.55, ry * 0.55);
    if faulty {
        pen.round("wanted", 60.0, 45.0, 33.0);
        pen.path("bad", "M6 45h12M11 41l-5 4 5 4M114 45h-12M109 41l5 4-5 4");
    }
}

fn too_short(pen: &mut Pen, faulty: bool) {
    pen.plate();
    let thick = if faulty { 4.2 } else { 6.0 };
    pen.layers(11, thick, |_| Some((38.0, 82.0)));
    pen.designed(38.0, PLATE - 66.0, 44.0, 66.0);
    if faulty {
        pen.path("bad", "M94 14v18M90 27l4 6 4-6");
    }
}

/// A block with a hole, against the size it should have.
fn sized(pen: &mut Pen, grow: f64, hole: f64) {
    pen.block(
        "plastic",
        30.0 - grow,
        18.0 - grow,
        60.0 + 2.0 * grow,
        54.0 + 2.0 * grow,
        3.0,
    );
    pen.round("hollow", 60.0, 45.0, hole);
    pen.designed(30.0, 18.0, 60.0, 54.0);
    pen.round("wanted", 60.0, 45.0, 15.0);
}

fn oversize(pen: &mut Pen, faulty: bool) {
    if faulty {
        sized(pen, 8.0, 9.0);
        pen.path("bad", "M20 45H8M13 41l-5 4 5 4M100 45h12M107 41l5 4-5 4");
    } else {
        sized(pen, 0.0, 15.0);
    }
}

fn undersize(pen: &mut Pen, faulty: bool) {
    if faulty {
        sized(pen, -8.0, 12.0);
        pen.path("bad", "M10 45h16M21 41l5 4-5 4M110 45H94M99 41l-5 4 5 4");
    } else {
        sized(pen, 0.0, 15.0);
    }
}

fn skewed(pen: &mut Pen, faulty: bool) {
    if faulty {
        pen.path("plastic", "M36 12H104L84 78H16Z");
        pen.path("wanted", "M26 12H94V78H26Z");
        pen.path("bad", "M102 15L18 75M38 15L82 75");
    } else {
        pen.path("plastic", "M26 12H94V78H26Z");
        pen.path("faint", "M27 13L93 77M93 13L27 77");
    }
}
