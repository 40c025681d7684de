//! Signs of the first layer and the foot.

use super::Draw;
use super::pen::{PLATE, Pen};

pub fn drawing(id: &str) -> Option<Draw> {
    Some(match id {
        "nothing-extruded" => nothing_extruded,
        "strands-apart" => strands_apart,
        "ridges-thrown-up" => ridges_thrown_up,
        "first-layer-uneven" => first_layer_uneven,
        "outline-lifts" => outline_lifts,
        "flare-at-foot" => flare_at_foot,
        "corners-lift" => corners_lift,
        "came-loose" => came_loose,
        "will-not-stick" => will_not_stick,
        "dragged-ball" => dragged_ball,
        "sticks-too-hard" => sticks_too_hard,
        _ => return None,
    })
}

fn nothing_extruded(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.nozzle(60.0, 66.0);
    if faulty {
        pen.path("bad dashed", "M60 68v10");
        pen.path("bad", "M53 71l14 6M67 71l-14 6");
    } else {
        pen.block("plastic", 12.0, PLATE - 7.0, 52.0, 7.0, 3.5);
        pen.block("plastic", 57.0, 66.0, 6.0, 12.0, 1.0);
    }
}

/// A part that lifts off by hand, or one that a blade cannot get beneath.
fn sticks_too_hard(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if faulty {
        pen.block("plastic", 34.0, PLATE - 38.0, 56.0, 38.0, 2.0);
        pen.path("metal", "M4 74l26 3v3H4z");
        pen.path("bad", "M62 30v-14M56 21l6-6 6 6M54 8l16 12M70 8L54 20");
    } else {
        pen.block("plastic", 34.0, PLATE - 54.0, 56.0, 38.0, 2.0);
        pen.path("ink", "M62 18v-10M57 13l5-5 5 5");
    }
}

/// First lines in section: flattened and joined, or round and apart.
fn strands_apart(pen: &mut Pen, faulty: bool) {
    pen.plate();
    for n in 0..5 {
        let x = 20.0 + 20.0 * f64::from(n);
        if faulty {
            pen.round("plastic", x, PLATE - 7.5, 7.5);
        } else {
            pen.oval("plastic", x, PLATE - 5.0, 10.5, 5.0);
        }
    }
    pen.nozzle(100.0, if faulty { 58.0 } else { 70.0 });
    if faulty {
        pen.path("bad", "M112 60v18M109 63l3-4 3 4M109 75l3 4 3-4");
    }
}

fn ridges_thrown_up(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if faulty {
        for n in 0..5 {
            let x = 20.0 + 20.0 * f64::from(n);
            pen.oval("plastic", x, PLATE - 1.5, 10.0, 1.5);
            pen.path(
                "plastic",
                &format!("M{:.1} {PLATE}q1-15 3.500-16q2 8 1.500 16z", x + 7.0),
            );
        }
        pen.nozzle(62.0, 77.0);
        pen.path("bad", "M24 56l3 6M44 56l3 6M88 56l3 6");
    } else {
        for n in 0..5 {
            pen.oval(
                "plastic",
                20.0 + 20.0 * f64::from(n),
                PLATE - 5.0,
                10.5,
                5.0,
            );
        }
        pen.nozzle(62.0, 70.0);
    }
}

/// The plate from above with its first layer.
fn first_layer_uneven(pen: &mut Pen, faulty: bool) {
    pen.block("metal", 14.0, 8.0, 98.0, 76.0, 4.0);
    for n in 0..9 {
        let y = 16.0 + 7.5 * f64::from(n);
        if faulty {
            pen.block("plastic", 20.0, y - 3.6, 38.0, 7.2, 3.0);
            let mut x = 60.0;
            while x < 100.0 {
                let wave = 2.2 * (x * 0.7 + f64::from(n) * 2.0).sin();
                pen.block("plastic", x, y - 1.2 + wave, 6.5, 2.4, 1.2);
                x += 9.0;
            }
        } else {
            pen.block("plastic", 20.0, y - 3.6, 86.0, 7.2, 3.0);
        }
    }
    if faulty {
        pen.block("bad dashed", 60.0, 11.0, 47.0, 70.0, 6.0);
    }
}

/// The outline round a part, from above.
fn outline_lifts(pen: &mut Pen, faulty: bool) {
    pen.block("metal", 14.0, 8.0, 98.0, 76.0, 4.0);
    pen.block("plastic", 40.0, 28.0, 40.0, 34.0, 2.0);
    if faulty {
        pen.path("strand", "M98 20H26V72H98");
        pen.path("strand thin", "M98 20c6 8-7 12 2 19s-8 14-1 20 1 8-1 13");
        pen.path("bad", "M104 30l6-3M104 46h7M104 62l6 3");
    } else {
        pen.path("strand", "M26 20H98V72H26Z");
    }
}

fn flare_at_foot(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.layers(10, 6.0, |n| {
        let flare = if faulty {
            [11.0, 6.0, 2.0].get(n).copied().unwrap_or(0.0)
        } else {
            0.0
        };
        Some((36.0 - flare, 84.0 + flare))
    });
    if faulty {
        pen.path("bad", "M14 68l9 5M106 68l-9 5");
    }
}

fn corners_lift(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if faulty {
        for n in 0..5 {
            let y = PLATE - 6.0 * f64::from(n);
            pen.path(
                "plastic",
                &format!(
                    "M16 {:.1}Q36 {y:.1} 60 {y:.1}T104 {:.1}L104 {:.1}Q84 {:.1} 60 {:.1}T16 {:.1}Z",
                    y - 13.0,
                    y - 13.0,
                    y - 19.0,
                    y - 6.0,
                    y - 6.0,
                    y - 19.0
                ),
            );
        }
        pen.path("bad", "M12 78v-8M9 73l3-4 3 4M108 78v-8M105 73l3-4 3 4");
    } else {
        pen.layers(5, 6.0, |_| Some((16.0, 104.0)));
    }
}

fn came_loose(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if faulty {
        pen.path("plastic", "M44 74L76 66L88 30L52 22Z");
        pen.path(
            "faint",
            "M46 68l32-8M47 61l33-8M48 53l35-8M50 45l35-8M51 37l36-8",
        );
        pen.path("bad", "M48 79q10-3 26-7");
        pen.path("bad dashed", "M28 80V36H46");
        pen.nozzle(100.0, 34.0);
    } else {
        pen.layers(8, 6.0, |_| Some((42.0, 78.0)));
    }
}

fn will_not_stick(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.nozzle(92.0, 68.0);
    if faulty {
        pen.path("strand", "M92 72C80 60 70 84 58 66S40 50 34 64 22 76 16 62");
        pen.path("bad", "M20 78h60");
        pen.path("bad dashed", "M34 66v11M58 68v9");
    } else {
        pen.block("plastic", 14.0, PLATE - 8.0, 80.0, 8.0, 4.0);
    }
}

fn dragged_ball(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if faulty {
        pen.path(
            "plastic",
            "M40 62c-4-12 6-20 18-18 12-6 26 2 24 14 6 10-6 18-18 16-10 4-24-2-24-12z",
        );
        pen.path(
            "faint",
            "M46 58c6-6 14 2 10 8M66 50c8 0 10 8 4 12M52 68c8 2 18 0 22-6",
        );
        pen.nozzle(60.0, 52.0);
        pen.path("strand thin", "M14 79c8-8 12 2 18-6s6-6 10-4");
    } else {
        pen.block("plastic", 12.0, PLATE - 8.0, 50.0, 8.0, 4.0);
        pen.nozzle(60.0, 71.0);
    }
}
