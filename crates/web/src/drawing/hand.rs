//! Where a hand needs a picture: what is held, turned, pressed or measured in one step of a
//! procedure.
//!
//! Same pen and colours as the signs: the part in ink, what the hand does in the accent's colour.

use super::sign::Pen;

/// The drawing with this name, or nothing when there is none.
pub fn svg(name: &str, label: &str) -> Option<String> {
    let mut pen = Pen::default();
    if !draw(&mut pen, name) {
        return None;
    }
    let label = super::escape(label);
    Some(format!(
        r#"<svg class="sign hand" viewBox="0 0 120 90" role="img" aria-label="{label}">{}</svg>"#,
        pen.finish()
    ))
}

/// What the hand does: a stroke with a head at its end, drawn by its path; the head points along
/// `dx, dy`.
fn arrow(pen: &mut Pen, path: &str, x: f64, y: f64, dx: f64, dy: f64) {
    pen.path("act", path);
    let (px, py) = (-dy, dx);
    pen.path(
        "act",
        &format!(
            "M{:.1} {:.1}L{x:.1} {y:.1}L{:.1} {:.1}",
            x - 6.0 * dx + 4.0 * px,
            y - 6.0 * dy + 4.0 * py,
            x - 6.0 * dx - 4.0 * px,
            y - 6.0 * dy - 4.0 * py
        ),
    );
}

/// A fingertip from above, pointing down to a place.
fn finger(pen: &mut Pen, x: f64, y: f64) {
    pen.path(
        "skin",
        &format!(
            "M{:.1} {:.1}V{:.1}a6 6 0 0 0 12 0V{:.1}",
            x - 6.0,
            y - 26.0,
            y - 6.0,
            y - 26.0
        ),
    );
    pen.path(
        "faint",
        &format!("M{:.1} {:.1}a4 4 0 0 0 6 0", x - 3.0, y - 5.0),
    );
}

/// Calipers with their jaws a little apart round a place.
fn calipers(pen: &mut Pen, x: f64, y: f64, gap: f64) {
    let (l, r) = (x - gap / 2.0, x + gap / 2.0);
    pen.path(
        "metal",
        &format!("M{l:.1} {:.1}V{y:.1}l-8 -12V{:.1}Z", y + 8.0, y - 24.0),
    );
    pen.path(
        "metal",
        &format!("M{r:.1} {:.1}V{y:.1}l8 -12V{:.1}Z", y + 8.0, y - 24.0),
    );
    pen.block("metal", 12.0, y - 34.0, 96.0, 10.0, 1.5);
    for n in 0..12 {
        let at = 18.0 + 7.5 * f64::from(n);
        pen.line("faint", at, y - 34.0, at, y - 30.0);
    }
}

/// A rod or shaft lying down, its face to the left.
fn shaft(pen: &mut Pen, y: f64, thick: f64) {
    pen.block("metal", 8.0, y - thick / 2.0, 104.0, thick, 2.0);
}

fn draw(pen: &mut Pen, name: &str) -> bool {
    match name {
        "line-across" => {
            pen.round("metal", 60.0, 46.0, 32.0);
            for n in 0..20 {
                let a = f64::from(n) * std::f64::consts::TAU / 20.0;
                pen.line(
                    "ink",
                    60.0 + 32.0 * a.cos(),
                    46.0 + 32.0 * a.sin(),
                    60.0 + 36.0 * a.cos(),
                    46.0 + 36.0 * a.sin(),
                );
            }
            pen.round("hollow", 60.0, 46.0, 12.0);
            pen.path("act", "M60 46L60 15");
            pen.path("ink", "M60 15L72 2L77 6L66 19Z");
        }
        "push-by-hand" => {
            pen.path("strand", "M60 2V86");
            pen.round("metal", 46.0, 48.0, 12.0);
            pen.round("metal", 88.0, 48.0, 10.0);
            arrow(pen, "M70 66L84 66", 84.0, 66.0, 1.0, 0.0);
            pen.path("skin", "M42 12h14v12h-14zM64 12h14v12h-14z");
            arrow(pen, "M32 10V32", 32.0, 32.0, 0.0, 1.0);
        }
        "pull-from-spool" => {
            pen.round("hollow", 44.0, 46.0, 34.0);
            for r in [26.0, 20.0, 14.0] {
                pen.round("ring", 44.0, 46.0, r);
            }
            pen.round("metal", 44.0, 46.0, 7.0);
            pen.path("strand", "M44 12C70 12 84 20 96 34");
            arrow(pen, "M92 26L110 46", 110.0, 46.0, 0.66, 0.75);
        }
        "calipers-on-filament" => {
            pen.path("strand", "M60 40V88");
            calipers(pen, 60.0, 60.0, 5.0);
            arrow(pen, "M96 64H72", 72.0, 64.0, -1.0, 0.0);
        }
        "mark-filament" => {
            pen.path("strand", "M50 4V66");
            pen.block("metal", 30.0, 66.0, 40.0, 20.0, 3.0);
            pen.path("act", "M42 14H58");
            pen.path("ink", "M58 14L74 4L77 9L62 17Z");
            pen.path("ink", "M88 14V66M84 14h8M84 66h8");
            pen.path("faint", "M58 14H84M70 66H84");
        }
        "press-collar" => {
            pen.block("hollow", 52.0, 2.0, 16.0, 62.0, 2.0);
            pen.block("metal", 36.0, 60.0, 48.0, 26.0, 3.0);
            pen.block("metal", 42.0, 50.0, 36.0, 8.0, 2.0);
            arrow(pen, "M34 36V48", 34.0, 48.0, 0.0, 1.0);
            arrow(pen, "M86 36V48", 86.0, 48.0, 0.0, 1.0);
            arrow(pen, "M60 34V8", 60.0, 8.0, 0.0, -1.0);
        }
        "cold-pull" => {
            pen.nozzle(60.0, 84.0);
            pen.path("strand", "M60 62V30");
            pen.path("plastic", "M57 50h6v12l-2 6h-2l-2-6z");
            pen.path("ink", "M50 28h20M48 22h24M52 28l-6 -24M68 28l6 -24");
            arrow(pen, "M92 52V14", 92.0, 14.0, 0.0, -1.0);
        }
        "free-strand" => {
            pen.nozzle(60.0, 40.0);
            pen.path("strand", "M60 40V86");
            pen.path("wanted", "M60 40C60 62 78 62 76 50");
            pen.line("ink", 8.0, 88.0, 112.0, 88.0);
        }
        "hold-block" => {
            pen.block("metal", 40.0, 26.0, 40.0, 22.0, 2.0);
            pen.path("metal", "M50 48h20v8l-7 10h-6l-7-10z");
            pen.path("ink", "M52 26V10h16v16");
            pen.path("ink", "M40 30L10 22M40 44L10 40M10 22V40");
            pen.path("ink", "M70 52L106 62L104 70L68 58");
            arrow(pen, "M108 84A40 40 0 0 0 112 56", 112.0, 56.0, 0.2, -1.0);
        }
        "calipers-on-wall" => {
            pen.block("plastic", 56.0, 44.0, 8.0, 42.0, 1.0);
            calipers(pen, 60.0, 58.0, 8.0);
            pen.line("ink", 30.0, 87.0, 90.0, 87.0);
        }
        "paper-under-nozzle" => {
            pen.nozzle(52.0, 66.0);
            pen.path("paper", "M20 68L104 62L112 74L28 82Z");
            pen.block("metal", 6.0, 82.0, 108.0, 5.0, 1.0);
            arrow(pen, "M92 52H72", 72.0, 52.0, -1.0, 0.0);
            arrow(pen, "M88 52H108", 108.0, 52.0, 1.0, 0.0);
        }
        "dot-on-screw" => {
            pen.round("metal", 56.0, 48.0, 26.0);
            pen.path("ink", "M56 34l12 7v14l-12 7-12-7V41z");
            pen.block("hollow", 4.0, 40.0, 26.0, 16.0, 2.0);
            pen.path("act", "M24 48H38");
            pen.path("ink", "M36 44L56 12L62 16L41 46Z");
        }
        "press-corners" => {
            pen.path("hollow", "M20 40L78 28L108 58L48 72Z");
            for (x, y) in [(24.0, 42.0), (78.0, 32.0), (102.0, 58.0), (50.0, 70.0)] {
                arrow(
                    pen,
                    &format!("M{x} {}V{}", y - 22.0, y - 4.0),
                    x,
                    y - 4.0,
                    0.0,
                    1.0,
                );
            }
        }
        "paper-at-fins" => {
            pen.block("metal", 10.0, 20.0, 34.0, 46.0, 3.0);
            pen.round("hollow", 27.0, 43.0, 15.0);
            pen.path(
                "ink",
                "M27 43V29a8 8 0 0 1 6 8M27 43l12 7a8 8 0 0 1-10 1M27 43l-12 7a8 8 0 0 1-1-10",
            );
            for n in 0..6 {
                let y = 22.0 + 8.0 * f64::from(n);
                pen.line("bold", 78.0, y, 110.0, y);
            }
            arrow(pen, "M48 34H64", 64.0, 34.0, 1.0, 0.0);
            arrow(pen, "M48 52H64", 64.0, 52.0, 1.0, 0.0);
            pen.path("paper", "M66 6C74 26 72 40 75 66L70 68C66 46 66 26 60 8Z");
        }
        "wiggle-block" => {
            pen.block("metal", 34.0, 32.0, 44.0, 26.0, 2.0);
            pen.path("metal", "M46 58h20v6l-7 9h-6l-7-9z");
            pen.path("ink", "M78 40C94 40 96 26 112 26M78 50C96 50 98 62 112 60");
            arrow(pen, "M28 24A30 30 0 0 0 22 46", 22.0, 46.0, -0.1, 1.0);
            arrow(pen, "M94 72A30 30 0 0 0 100 48", 100.0, 48.0, 0.1, -1.0);
        }
        "rock-carriage" => {
            pen.line("bold", 6.0, 30.0, 114.0, 30.0);
            pen.block("metal", 38.0, 20.0, 44.0, 34.0, 4.0);
            pen.round("hollow", 48.0, 30.0, 6.0);
            pen.round("hollow", 72.0, 30.0, 6.0);
            pen.path("metal", "M52 54h16v6l-5 8h-6l-5-8z");
            arrow(pen, "M30 78A36 36 0 0 1 24 56", 24.0, 56.0, -0.1, -1.0);
            arrow(pen, "M90 78A36 36 0 0 0 96 56", 96.0, 56.0, 0.1, -1.0);
        }
        "slide-axis" => {
            pen.line("bold", 6.0, 36.0, 114.0, 36.0);
            pen.block("metal", 44.0, 22.0, 32.0, 30.0, 4.0);
            pen.block("wanted", 8.0, 22.0, 32.0, 30.0, 4.0);
            pen.block("wanted", 80.0, 22.0, 32.0, 30.0, 4.0);
            arrow(pen, "M50 70H14", 14.0, 70.0, -1.0, 0.0);
            arrow(pen, "M70 70H106", 106.0, 70.0, 1.0, 0.0);
        }
        "turn-screw" => {
            pen.path("bold", "M18 40H102");
            for x in [24.0, 96.0] {
                pen.block("metal", x - 4.0, 6.0, 8.0, 78.0, 1.0);
                for n in 0..10 {
                    let y = 10.0 + 7.0 * f64::from(n);
                    pen.line("faint", x - 4.0, y, x + 4.0, y + 3.0);
                }
            }
            arrow(pen, "M38 80A20 8 0 0 0 10 78", 10.0, 78.0, -0.3, -1.0);
            pen.path("ink", "M84 26V20M84 48v8M81 23l3-4 3 4M81 53l3 4 3-4");
        }
        "roll-screw" => {
            pen.path("hollow", "M8 62L30 36H114L92 62Z");
            pen.path("metal", "M22 54L98 40L100 46L24 60Z");
            for n in 0..11 {
                let x = 27.0 + 6.8 * f64::from(n);
                let y = 53.0 - 1.25 * f64::from(n);
                pen.line("faint", x, y, x + 2.0, y + 6.0);
            }
            arrow(pen, "M50 30L36 22", 36.0, 22.0, -0.87, -0.5);
            pen.path("ink", "M14 80L30 72M30 84L46 74M46 86L60 76");
        }
        "press-belt" => {
            pen.round("metal", 18.0, 50.0, 13.0);
            pen.round("metal", 102.0, 50.0, 13.0);
            pen.path("bold", "M18 37Q60 52 102 37");
            pen.path("bold", "M18 63H102");
            pen.path("wanted", "M18 37H102");
            finger(pen, 60.0, 44.0);
        }
        "calipers-on-step" => {
            pen.block("plastic", 24.0, 62.0, 50.0, 24.0, 1.0);
            pen.block("plastic", 40.0, 38.0, 50.0, 24.0, 1.0);
            pen.path("act", "M24 32V58M40 18V34");
            arrow(pen, "M8 24H23", 23.0, 24.0, 1.0, 0.0);
            arrow(pen, "M57 24H42", 42.0, 24.0, -1.0, 0.0);
        }
        "two-diagonals" => {
            pen.block("plastic", 26.0, 10.0, 70.0, 70.0, 2.0);
            arrow(pen, "M32 74L89 17", 89.0, 17.0, 0.7, -0.7);
            arrow(pen, "M32 16L89 73", 89.0, 73.0, 0.7, 0.7);
        }
        "probe-on-block" => {
            pen.block("metal", 30.0, 22.0, 44.0, 26.0, 2.0);
            pen.path("metal", "M42 48h20v7l-7 10h-6l-7-10z");
            pen.path("bold", "M112 84L64 56");
            pen.round("act", 63.0, 55.0, 3.5);
            pen.block("hollow", 84.0, 8.0, 30.0, 16.0, 3.0);
            pen.path("ink", "M90 19v-6h4v6M99 13h5v3h-5v3h5");
        }
        "pull-plug" => {
            pen.block("metal", 8.0, 30.0, 34.0, 30.0, 3.0);
            pen.path("ink", "M42 38h8M42 52h8");
            pen.block("metal", 62.0, 32.0, 26.0, 26.0, 4.0);
            pen.path("bold", "M62 39H54M62 51H54M88 45C102 45 100 66 114 66");
            arrow(pen, "M62 74H94", 94.0, 74.0, 1.0, 0.0);
        }
        "screw-on-flat" => {
            pen.round("metal", 52.0, 48.0, 32.0);
            pen.path("hollow", "M40 36A17 17 0 1 0 64 36Z");
            pen.block("ink", 47.0, 14.0, 10.0, 22.0, 1.0);
            pen.path("ink", "M52 14V2H90");
            arrow(pen, "M96 10A16 16 0 0 1 84 26", 84.0, 26.0, -0.8, 0.5);
            pen.path("act", "M40 36H64");
        }
        "turn-nut" => {
            shaft(pen, 20.0, 12.0);
            pen.round("hollow", 50.0, 48.0, 22.0);
            pen.round("metal", 54.0, 50.0, 10.0);
            pen.path("ink", "M54 42l7 4v8l-7 4-7-4v-8z");
            pen.path("ink", "M61 52L104 72L101 79L57 60");
            arrow(pen, "M110 60A54 54 0 0 1 96 84", 96.0, 84.0, -0.7, 0.7);
        }
        _ => return false,
    }
    true
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_drawing_a_step_names_is_drawn() {
        let k = suspect_core::knowledge::Knowledge::shipped();
        let works = k
            .checks
            .iter()
            .map(|c| &c.work)
            .chain(k.fixes.iter().map(|f| &f.work));
        let named: std::collections::BTreeSet<&str> = works
            .flat_map(|w| &w.steps)
            .filter_map(|s| s.drawing.as_deref())
            .collect();
        assert!(named.len() > 20);
        let missing: Vec<&str> = named.into_iter().filter(|n| svg(n, "").is_none()).collect();
        assert!(missing.is_empty(), "{missing:?}");
    }
}
