//! Signs on walls and at the seam.

use super::Draw;
use super::pen::{PLATE, Pen};
use std::f64::consts::TAU;

pub fn drawing(id: &str) -> Option<Draw> {
    Some(match id {
        "spongy-walls" => spongy_walls,
        "missing-layers" => missing_layers,
        "fades-out" => fades_out,
        "layers-split" => layers_split,
        "dull-brittle" => dull_brittle,
        "pops-and-pits" => pops_and_pits,
        "line-at-shape-change" => line_at_shape_change,
        "bulging-walls" => bulging_walls,
        "infill-shows" => infill_shows,
        "blobs-scattered" => blobs_scattered,
        "rough-on-curves" => rough_on_curves,
        "ringing" => ringing,
        "vertical-ribs" => vertical_ribs,
        "slanted-stripes" => slanted_stripes,
        "bands-regular" => bands_regular,
        "band-one-height" => band_one_height,
        "walls-irregular" => walls_irregular,
        "plain-seam-line" => plain_seam_line,
        "blobs-at-seam" => blobs_at_seam,
        "gap-at-seam" => gap_at_seam,
        _ => return None,
    })
}

/// A scatter without a pattern that is the same at every drawing.
fn scatter(n: usize) -> (f64, f64) {
    let mix = |seed: u32| {
        let mut x = (n as u32).wrapping_mul(0x9e37_79b9) ^ seed;
        x = (x ^ (x >> 16)).wrapping_mul(0x21f0_aaad);
        x = (x ^ (x >> 15)).wrapping_mul(0x735a_2d97);
        f64::from((x ^ (x >> 15)) % 1000) / 1000.0
    };
    (mix(0x51ed), mix(0xa3c7))
}

fn spongy_walls(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if !faulty {
        return pen.wall();
    }
    for n in 0..10 {
        let y = PLATE - 6.0 * f64::from(n) - 4.6;
        let mut x = 34.0;
        let mut k = 0;
        while x < 84.0 {
            let length = 5.0 + 5.0 * scatter(n as usize * 7 + k).0;
            pen.block("plastic", x, y, length.min(86.0 - x), 3.2, 1.6);
            x += length + 2.0 + 3.0 * scatter(n as usize * 5 + k).1;
            k += 1;
        }
    }
    pen.path("bad", "M22 50h9M28 46l4 4-4 4M98 50h-9M92 46l-4 4 4 4");
}

fn missing_layers(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.layers(10, 6.0, |n| {
        (!faulty || !(4..=5).contains(&n)).then_some((34.0, 86.0))
    });
    if faulty {
        pen.path(
            "strand thin",
            "M36 52c4-3 6 3 10 0M52 48c4-3 6 2 9 1M68 52c4-3 8 3 14-1",
        );
        pen.path("bad", "M24 50h6M96 50h-6");
    }
}

fn fades_out(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if !faulty {
        return pen.layers(11, 6.0, |_| Some((34.0, 86.0)));
    }
    for n in 0..11 {
        let thick = (6.2 - 0.45 * f64::from(n) * f64::from(n) / 4.0).max(0.8);
        let y = PLATE - 6.0 * f64::from(n) - thick;
        if n < 6 {
            pen.block("plastic", 34.0, y, 52.0, thick, thick / 2.0);
        } else {
            for k in 0..(11 - n) {
                pen.block(
                    "plastic",
                    36.0 + 11.0 * f64::from(k),
                    y,
                    7.0,
                    thick.max(1.4),
                    0.7,
                );
            }
        }
    }
    pen.path("bad", "M100 72V24M96 29l4-6 4 6");
}

fn layers_split(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if !faulty {
        return pen.wall();
    }
    pen.layers(5, 6.0, |_| Some((34.0, 86.0)));
    for n in 0..4 {
        let y = 40.0 - 6.0 * f64::from(n);
        pen.path(
            "plastic",
            &format!(
                "M34 {:.1}Q60 {y:.1} 86 {:.1}V{:.1}Q60 {:.1} 34 {:.1}Z",
                y + 6.0,
                y - 2.0,
                y + 4.0,
                y + 6.0,
                y + 12.0
            ),
        );
    }
    pen.path("bad", "M90 46l10-3M88 50l12 2");
}

fn dull_brittle(pen: &mut Pen, faulty: bool) {
    if faulty {
        pen.path("plastic", "M12 62l38-10 4 5-3 5 4 6-39 10z");
        pen.path("plastic", "M108 34L68 48l3 6-3 5 4 5 40-14z");
        pen.path("faint", "M20 63l30-8M22 70l30-8M74 52l34-12M76 58l34-12");
        pen.path("bad", "M58 38l2 8M66 36l-2 8M52 76l4-7");
    } else {
        pen.path("plastic", "M12 64Q60 14 108 64l-6 9Q60 32 18 73z");
        pen.path("faint", "M16 67Q60 20 104 67");
        pen.path("shine", "M34 44Q58 28 84 42");
    }
}

fn pops_and_pits(pen: &mut Pen, faulty: bool) {
    pen.face();
    if faulty {
        for n in 1..46 {
            let (x, y) = scatter(n);
            pen.round(
                if n % 3 == 0 { "pit" } else { "bump" },
                18.0 + 84.0 * x,
                20.0 + 56.0 * y,
                1.4 + 1.6 * scatter(n * 3).0,
            );
        }
    }
}

fn line_at_shape_change(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.block("plastic", 26.0, 44.0, 68.0, 36.0, 1.0);
    pen.block("plastic", 44.0, 14.0, 32.0, 30.0, 1.0);
    pen.block("hollow", 50.0, 22.0, 20.0, 14.0, 1.0);
    for n in 1..6 {
        pen.line(
            "faint",
            27.0,
            44.0 + 6.0 * f64::from(n),
            93.0,
            44.0 + 6.0 * f64::from(n),
        );
    }
    if faulty {
        pen.line("seam", 26.0, 45.0, 94.0, 45.0);
        pen.path("even", "M14 45h8M106 45h-8");
    }
}

fn bulging_walls(pen: &mut Pen, faulty: bool) {
    pen.plate();
    if !faulty {
        return pen.wall();
    }
    pen.layers(10, 6.0, |n| {
        let out = 6.0 + 3.0 * scatter(n * 3 + 1).0;
        Some((34.0 - out, 86.0 + out))
    });
    pen.designed(34.0, 20.0, 52.0, 60.0);
    pen.path("bad", "M18 50h-9M13 46l-4 4 4 4M102 50h9M107 46l4 4-4 4");
}

fn infill_shows(pen: &mut Pen, faulty: bool) {
    pen.face();
    if faulty {
        for n in 0..6 {
            let x = 4.0 + 20.0 * f64::from(n);
            pen.path(
                "ghost",
                &format!(
                    "M{:.1} 78L{:.1} 18M{:.1} 78L{:.1} 18",
                    x.max(16.0),
                    (x + 30.0).min(104.0),
                    (x + 30.0).min(104.0),
                    x.max(16.0)
                ),
            );
        }
    }
}

fn blobs_scattered(pen: &mut Pen, faulty: bool) {
    pen.face();
    if faulty {
        for n in 1..17 {
            let (x, y) = scatter(n * 2 + 9);
            pen.oval("blob", 20.0 + 80.0 * x, 22.0 + 52.0 * y, 3.4, 2.4);
        }
    }
}

/// A fine curve from above.
fn rough_on_curves(pen: &mut Pen, faulty: bool) {
    let point = |t: f64| {
        let (a, r) = (t * TAU, 30.0);
        let wobble = if faulty {
            2.6 * (t * 61.0).sin() + 1.6 * (t * 143.0).sin()
        } else {
            0.0
        };
        (
            60.0 + (r + wobble) * 1.35 * a.cos(),
            46.0 + (r + wobble) * a.sin(),
        )
    };
    pen.through(
        "plastic round-join",
        (0..=160).map(|n| point(f64::from(n) / 160.0)),
    );
    if faulty {
        for n in 0..11 {
            let (x, y) = point(f64::from(n) / 11.0 + 0.03);
            pen.round("blob", x, y, 2.6);
        }
    }
}

/// The wall after a corner, from the front; the corner is the upright at the left.
fn ringing(pen: &mut Pen, faulty: bool) {
    pen.face();
    pen.line("ink", 26.0, 16.0, 26.0, PLATE);
    if faulty {
        for n in 0..6 {
            let x = 33.0 + 9.5 * f64::from(n);
            let width = 3.6 - 0.55 * f64::from(n);
            pen.path("ghost", &format!("M{x:.1} 18v60"));
            pen.block("bump", x - width / 2.0, 18.0, width, 60.0, 1.0);
        }
    }
}

fn vertical_ribs(pen: &mut Pen, faulty: bool) {
    pen.face();
    if faulty {
        for n in 0..15 {
            pen.line(
                "ghost",
                18.0 + 6.0 * f64::from(n),
                18.0,
                18.0 + 6.0 * f64::from(n),
                78.0,
            );
        }
    }
}

fn slanted_stripes(pen: &mut Pen, faulty: bool) {
    pen.face();
    if faulty {
        for n in 0..9 {
            let x = 16.0 + 9.0 * f64::from(n);
            pen.line("ghost", x, 78.0, (x + 16.0).min(104.0), 18.0);
        }
    }
}

fn bands_regular(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.layers(12, 5.2, |n| {
        let out = if faulty && n % 4 >= 2 { 5.0 } else { 0.0 };
        Some((36.0 - out, 84.0 + out))
    });
    if faulty {
        pen.path("bad", "M100 74h8M100 53h8M100 32h8M104 74V32");
    }
}

fn band_one_height(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.layers(11, 5.6, |n| {
        let out = if faulty && (5..=6).contains(&n) {
            7.0
        } else {
            0.0
        };
        Some((36.0 - out, 84.0 + out))
    });
    if faulty {
        pen.path("bad", "M14 46h11M106 46H95");
    }
}

fn walls_irregular(pen: &mut Pen, faulty: bool) {
    pen.plate();
    pen.layers(12, 5.2, |n| {
        let shift = if faulty {
            9.0 * (scatter(n * 5 + 2).0 - 0.5)
        } else {
            0.0
        };
        Some((36.0 + shift, 84.0 + shift))
    });
}

/// An upright round piece from the front.
fn drum(pen: &mut Pen) {
    pen.path("plastic", "M28 22V74A32 8 0 0 0 92 74V22A32 8 0 0 0 28 22Z");
    pen.oval("outline", 60.0, 22.0, 32.0, 8.0);
    for n in 1..9 {
        let y = 22.0 + 5.8 * f64::from(n);
        pen.path("faint", &format!("M28 {y:.1}A32 8 0 0 0 92 {y:.1}"));
    }
}

fn plain_seam_line(pen: &mut Pen, faulty: bool) {
    drum(pen);
    if faulty {
        pen.line("seam", 66.0, 30.0, 66.0, 81.0);
    }
}

fn blobs_at_seam(pen: &mut Pen, faulty: bool) {
    drum(pen);
    pen.line("seam", 66.0, 30.0, 66.0, 81.0);
    if faulty {
        for n in 0..8 {
            pen.oval(
                "blob",
                66.0 + 1.5 * (f64::from(n) * 2.3).sin(),
                33.0 + 6.2 * f64::from(n),
                4.4,
                2.9,
            );
        }
    }
}

/// One loop from above: it starts at the right and runs round.
fn gap_at_seam(pen: &mut Pen, faulty: bool) {
    if faulty {
        pen.path("loop", "M86.500 58A30 30 0 1 1 88.500 34");
        pen.path("bad dashed", "M90 38v16");
    } else {
        pen.round("loop", 60.0, 46.0, 30.0);
    }
    pen.path("ink", "M100 50v-8M97 45l3-4 3 4");
}
