//! Signs on tops and slopes, seen from above or in section.

use super::Draw;
use super::pen::{PLATE, Pen};

pub fn drawing(id: &str) -> Option<Draw> {
    Some(match id {
        "gaps-top-skin" => gaps_top_skin,
        "every-second-gap" => every_second_gap,
        "pinholes-flat" => pinholes_flat,
        "ploughed-top" => ploughed_top,
        "slope-gaps" => slope_gaps,
        "shallow-steps" => shallow_steps,
        _ => return None,
    })
}

fn rows(step: f64) -> impl Iterator<Item = f64> {
    (0..)
        .map(move |n| 16.0 + step * f64::from(n))
        .take_while(|y| *y < 76.0)
}

fn gaps_top_skin(pen: &mut Pen, faulty: bool) {
    pen.top(rows(8.3), if faulty { 5.0 } else { 8.3 });
}

fn every_second_gap(pen: &mut Pen, faulty: bool) {
    if faulty {
        let pairs = rows(16.6)
            .flat_map(|y| [y + 1.0, y + 7.6])
            .filter(|y| *y < 77.0);
        pen.top(pairs.collect::<Vec<_>>(), 6.6);
        for y in rows(16.6).map(|y| y + 12.5).filter(|y| *y < 76.0) {
            pen.path("bad", &format!("M105 {y:.1}h9"));
        }
    } else {
        pen.top(rows(8.3), 8.3);
    }
}

fn pinholes_flat(pen: &mut Pen, faulty: bool) {
    pen.top(rows(8.3), 8.3);
    if faulty {
        for n in 0..24u32 {
            let (x, y) = (f64::from(n % 6), f64::from(n / 6));
            pen.oval(
                "pit",
                28.0 + 12.6 * x + 2.0 * (y * 2.0).sin(),
                22.0 + 15.0 * y + 2.0 * (x * 3.0).sin(),
                2.6,
                1.8,
            );
        }
    }
}

fn ploughed_top(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.block("plastic", 12.0, 56.0, 96.0, 24.0, 2.0);
    if faulty {
        pen.path(
            "plastic",
            "M12 57c3-12 7-12 9-1 3-13 8-12 10 0 2-10 7-11 9 0 3-13 8-13 10-1 3-9 5-9 7 0z",
        );
        pen.path(
            "plastic",
            "M72 57c2-11 7-12 9-1 3-13 8-12 10 0 3-11 8-11 10 0 2-8 5-8 7 0z",
        );
        pen.nozzle(65.0, 57.0);
        pen.path("bad", "M84 36h12M92 32l5 4-5 4");
    } else {
        pen.nozzle(65.0, 56.0);
    }
    for n in 1..4 {
        pen.line(
            "faint",
            13.0,
            56.0 + 6.0 * f64::from(n),
            107.0,
            56.0 + 6.0 * f64::from(n),
        );
    }
}

fn slope_gaps(pen: &mut Pen, faulty: bool) {
    pen.plate();
    for n in 0..6 {
        let (y, right) = (PLATE - 8.0 * f64::from(n + 1), 108.0 - 14.0 * f64::from(n));
        if faulty {
            pen.block("plastic", 12.0, y, right - 26.0, 8.0, 1.0);
            pen.round("plastic", right - 3.5, y + 4.5, 3.5);
        } else {
            pen.block("plastic", 12.0, y, right - 12.0, 8.0, 3.0);
        }
    }
    if faulty {
        for n in 0..6 {
            pen.oval(
                "pit",
                103.0 - 14.0 * f64::from(n) - 7.0,
                PLATE - 8.0 * f64::from(n) - 4.0,
                2.2,
                3.2,
            );
        }
    }
}

fn shallow_steps(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if faulty {
        pen.layers(5, 8.0, |n| Some((12.0, 108.0 - 20.0 * n as f64)));
        pen.path("wanted", "M112 74L22 38");
    } else {
        pen.path("plastic", "M12 80V40L108 76V80Z");
        for n in 1..8 {
            let y = PLATE - 5.0 * f64::from(n);
            pen.line("faint", 13.0, y, 108.0 - 2.6 * 5.0 * f64::from(n - 1), y);
        }
    }
}
