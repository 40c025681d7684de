//! Signs that any good print shows, beside the same print in kinder light.

use super::Draw;
use super::pen::{PLATE, Pen};

pub fn drawing(id: &str) -> Option<Draw> {
    Some(match id {
        "faint-texture" => faint_texture,
        "faint-ripple" => faint_ripple,
        "soft-detail" => soft_detail,
        "untidy-bridge-line" => untidy_bridge_line,
        _ => return None,
    })
}

/// A face lit from the side: each layer throws a small shadow.
fn faint_texture(pen: &mut Pen, faulty: bool) {
    pen.face();
    if faulty {
        for n in 0..10 {
            let y = 19.0 + 5.8 * f64::from(n);
            pen.line("ghost", 15.0, y, 105.0, y);
        }
        pen.path("ink", "M6 20l6 3M6 40l6 1M6 60l6-1");
    }
}

/// One or two ripples after the corner, and no more.
fn faint_ripple(pen: &mut Pen, faulty: bool) {
    pen.face();
    pen.line("ink", 26.0, 16.0, 26.0, PLATE);
    if faulty {
        for x in [34.0, 42.0] {
            pen.path("ghost", &format!("M{x:.1} 18v60"));
        }
    }
}

/// A raised letter: its corners sharp, or a little round.
fn soft_detail(pen: &mut Pen, faulty: bool) {
    pen.block("plastic", 14.0, 14.0, 96.0, 66.0, 4.0);
    match faulty {
        true => pen.path("ink bold", "M40 66V36q0-6 6-6h26q6 0 6 6M40 48h26"),
        false => pen.path("ink bold", "M40 66V30H78M40 48H66"),
    }
}

/// A bridge whose first line hangs a little; those above it are taut.
fn untidy_bridge_line(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.block("plastic", 12.0, 24.0, 14.0, PLATE - 24.0, 1.0);
    pen.block("plastic", 94.0, 24.0, 14.0, PLATE - 24.0, 1.0);
    for n in 0..3 {
        pen.block("plastic", 12.0, 10.0 + 4.8 * f64::from(n), 96.0, 4.8, 2.0);
    }
    match faulty {
        true => pen.path("strand", "M26 27Q42 33 60 28T94 27"),
        false => pen.path("strand", "M26 26H94"),
    }
}
