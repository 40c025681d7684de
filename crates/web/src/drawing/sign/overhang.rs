//! Signs on overhangs, bridges and supports, and between islands.

use super::Draw;
use super::pen::{PLATE, Pen};

pub fn drawing(id: &str) -> Option<Draw> {
    Some(match id {
        "curled-overhangs" => curled_overhangs,
        "drooping-bridge" => drooping_bridge,
        "scarred-underside" => scarred_underside,
        "supports-welded" => supports_welded,
        "printed-in-air" => printed_in_air,
        "untidy-strands-beneath" => untidy_strands_beneath,
        "strings" => strings,
        _ => return None,
    })
}

/// A piece that leans out to the right as it grows.
fn leaning(pen: &mut Pen) {
    pen.plate();
    pen.layers(10, 6.0, |n| Some((24.0, 52.0 + 4.6 * n as f64)));
}

fn curled_overhangs(pen: &mut Pen, faulty: bool) {
    if !faulty {
        return leaning(pen);
    }
    pen.plate();
    for n in 0..10 {
        let (y, right) = (PLATE - 3.0 - 6.0 * f64::from(n), 44.0 + 4.6 * f64::from(n));
        if n < 3 {
            pen.block("plastic", 24.0, y - 3.0, right - 16.0, 6.0, 3.0);
        } else {
            pen.path(
                "strand edge",
                &format!("M27 {y:.1}H{:.1}q10 0 13-7", right - 6.0),
            );
            pen.path(
                "strand",
                &format!("M27 {y:.1}H{:.1}q10 0 13-7", right - 6.0),
            );
        }
    }
    pen.path("bad", "M104 34q6-6 2-14M102 22l4-3 3 5");
}

/// A bridge between two posts.
fn bridge(pen: &mut Pen) {
    pen.plate();
    pen.block("plastic", 14.0, 28.0, 18.0, 52.0, 1.0);
    pen.block("plastic", 88.0, 28.0, 18.0, 52.0, 1.0);
}

fn drooping_bridge(pen: &mut Pen, faulty: bool) {
    bridge(pen);
    if faulty {
        pen.block("plastic", 14.0, 16.0, 92.0, 6.0, 3.0);
        for sag in [9.0, 22.0, 36.0] {
            pen.path("strand", &format!("M22 25Q60 {:.1} 98 25", 25.0 + sag));
        }
        pen.path("bad", "M60 52v14M56 61l4 6 4-6");
    } else {
        for n in 0..3 {
            pen.block("plastic", 14.0, 16.0 + 4.6 * f64::from(n), 92.0, 4.6, 2.0);
        }
    }
}

/// A shelf over supports, seen from the side.
fn shelf(pen: &mut Pen) {
    pen.plate();
    pen.path("plastic", "M14 80V16H106V34H34V80Z");
}

fn props(pen: &mut Pen, top: f64) {
    for n in 0..6 {
        let x = 46.0 + 11.0 * f64::from(n);
        pen.line("support", x, top, x, PLATE);
    }
    pen.line("support", 44.0, top, 104.0, top);
}

fn scarred_underside(pen: &mut Pen, faulty: bool) {
    if faulty {
        pen.plate();
        pen.path(
            "plastic",
            "M14 80V16H106V33l-5 5-4-6-5 9-4-8-6 6-4-7-5 10-5-9-5 6-5-8-4 9-5-7-5 5H34V80Z",
        );
        pen.path("bad", "M56 54l2-8M74 56l1-8M92 54l-2-8");
    } else {
        shelf(pen);
        pen.path("shine", "M44 39H100");
    }
}

fn supports_welded(pen: &mut Pen, faulty: bool) {
    shelf(pen);
    if faulty {
        props(pen, 35.0);
        for n in 0..6 {
            let x = 46.0 + 11.0 * f64::from(n);
            pen.path(
                "blob",
                &format!("M{:.1} 33h11q-3 3-4 10h-3q-1-7-4-10z", x - 5.5),
            );
        }
        pen.path("bad", "M54 58l12 12M66 58L54 70");
    } else {
        props(pen, 41.0);
        pen.path("good", "M46 37.500H102");
    }
}

fn printed_in_air(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if faulty {
        pen.path("plastic", "M20 80V16H44V80Z");
        pen.path("plastic", "M44 16H104V26H44Z");
        pen.path(
            "strand thin",
            "M46 30c6 12 12-2 16 8s8-6 14 6 10-8 18 4M56 34c2 14 10 4 12 16s12 0 16-10M70 40c0 16 \
                8 10 12 22M92 38c4 10-6 14-2 24",
        );
        pen.path("bad dashed", "M74 66v11");
    } else {
        pen.path("plastic", "M20 80V16H104V26H44V80Z");
        for n in 0..5 {
            let x = 54.0 + 11.0 * f64::from(n);
            pen.line("support", x, 29.0, x, PLATE);
        }
    }
}

fn untidy_strands_beneath(pen: &mut Pen, faulty: bool) {
    leaning(pen);
    if faulty {
        pen.path(
            "strand thin",
            "M60 66c3 5 7 4 7-1M70 54c3 5 7 4 8-1M78 42c3 5 7 5 8-1M86 30c3 5 7 4 8-1",
        );
    }
}

fn strings(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.block("plastic", 16.0, 18.0, 20.0, 62.0, 2.0);
    pen.block("plastic", 84.0, 18.0, 20.0, 62.0, 2.0);
    if faulty {
        for (n, y) in [24.0, 32.0, 38.0, 47.0, 55.0, 63.0, 70.0]
            .into_iter()
            .enumerate()
        {
            let sag = [4.0, 8.0, 3.0, 9.0, 5.0, 7.0, 3.0][n];
            pen.path(
                "strand thin",
                &format!(
                    "M36 {y:.1}Q{:.1} {:.1} 84 {:.1}",
                    52.0 + 4.0 * n as f64,
                    y + sag,
                    y - 2.0
                ),
            );
        }
    }
}
