//! Signs inside the piece, cut open, and on fine detail.

use super::Draw;
use super::pen::{PLATE, Pen};

pub fn drawing(id: &str) -> Option<Draw> {
    Some(match id {
        "infill-short-of-wall" => infill_short_of_wall,
        "walls-too-thick-inside" => walls_too_thick_inside,
        "melted-tips" => melted_tips,
        "thin-lines-missing" => thin_lines_missing,
        _ => return None,
    })
}

/// A layer from above: walls round it, infill lines that start at the left.
fn infill_short_of_wall(pen: &mut Pen, faulty: bool) {
    pen.block("plastic", 15.0, 10.0, 93.0, 74.0, 4.0);
    pen.block("hollow", 23.0, 18.0, 77.0, 58.0, 2.0);
    for n in 0..4 {
        let y = 24.0 + 15.0 * f64::from(n);
        if faulty {
            pen.path("strand", &format!("M46 {y:.1}H99"));
            pen.path("strand thin", &format!("M33 {y:.1}h5M41 {y:.1}h3"));
        } else {
            pen.path("strand", &format!("M24 {y:.1}H99"));
        }
    }
    if faulty {
        pen.block("bad dashed", 24.0, 17.0, 20.0, 60.0, 5.0);
    }
}

/// A hollow box cut open.
fn walls_too_thick_inside(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.path("plastic", "M18 80V14H102V80H94V22H26V80Z");
    if faulty {
        for n in 0..11 {
            let x = 30.0 + 6.0 * f64::from(n);
            pen.line("support thick", x, 24.0, x, PLATE);
        }
        for n in 0..5 {
            pen.line(
                "support",
                27.0,
                30.0 + 11.0 * f64::from(n),
                93.0,
                30.0 + 11.0 * f64::from(n),
            );
        }
    }
}

fn melted_tips(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if faulty {
        pen.layers(6, 6.0, |n| {
            Some((34.0 + 2.6 * n as f64, 86.0 - 2.6 * n as f64))
        });
        pen.path(
            "plastic",
            "M48 44c-6-4-2-9 2-10-6-5 0-11 5-10-3-7 5-11 9-7 6-3 10 4 6 8 6 1 7 8 \
            2 11 5 3 3 8-2 9z",
        );
        pen.path("bad", "M84 18q-3 4 0 8t0 8M92 18q-3 4 0 8t0 8");
    } else {
        pen.layers(11, 6.0, |n| {
            Some((34.0 + 2.5 * n as f64, 86.0 - 2.5 * n as f64))
        });
    }
}

/// A plate with a thin wall and a letter.
fn thin_lines_missing(pen: &mut Pen, faulty: bool) {
    pen.block("plastic", 14.0, 14.0, 96.0, 66.0, 4.0);
    let class = if faulty { "wanted" } else { "ink bold" };
    pen.path(class, "M24 62L36 26 48 62M28.500 50h15");
    pen.path(
        class,
        "M60 26V62M60 26h10a8 8 0 0 1 0 16H60M70 42a9 9 0 0 1 0 20H60",
    );
    if faulty {
        pen.path("ink bold", "M60 26V62");
    }
    pen.path(class, "M96 26V62");
}
