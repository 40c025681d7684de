//! What is taken with a ruler.

use super::{Draw, Sheet};
use std::f64::consts::TAU;

pub fn drawing(measure: &str) -> Option<Draw> {
    Some(match measure {
        "extruder-steps-free" => steps_free,
        "extruder-steps-hot" => steps_hot,
        "feed-free-and-hot" => free_and_hot,
        "missing-restart" => missing_restart,
        "coasting-volume" => coasting,
        "band-spacing" => bands,
        "rib-spacing" => ribs,
        "ripple-two-speeds" => two_speeds,
        "ringing" => ringing,
        "shift-size" => shift,
        "same-height" => same_height,
        "tower-reading" => tower,
        "z-travel" => z_travel,
        _ => return None,
    })
}

/// A feeder with filament coming from above.
fn feeder(s: &mut Sheet, x: f64) {
    s.pen.line("strand edge", x, 8.0, x, 124.0);
    s.pen.line("strand", x, 8.0, x, 124.0);
    s.pen.block("metal", x - 46.0, 96.0, 92.0, 28.0, 4.0);
    s.pen.round("hollow", x - 16.0, 110.0, 11.0);
    s.pen.round("hollow", x + 16.0, 110.0, 11.0);
    s.pen.path("bad", &format!("M{:.1} 26h18", x - 9.0));
}

fn steps(s: &mut Sheet) {
    s.up(206.0, 26.0, 96.0, "mark_mm");
    s.pen.path("dim", "M100 66h10M100 96h10M105 66V96");
    s.say(86.0, 86.0, "remaining_mm");
    s.pen.path("bad", "M151 66h18");
    s.point((52.0, 30.0), (120.0, 108.0), "commanded_mm");
}

fn steps_free(s: &mut Sheet) {
    feeder(s, 160.0);
    steps(s);
    s.pen.path("ink", "M152 130l8 12 8-12");
    s.note(196.0, 150.0, "the tube off: free end");
}

fn steps_hot(s: &mut Sheet) {
    feeder(s, 160.0);
    steps(s);
    s.nozzle(160.0, 168.0);
    s.note(196.0, 150.0, "through the hot nozzle");
}

fn free_and_hot(s: &mut Sheet) {
    feeder(s, 80.0);
    feeder(s, 230.0);
    s.nozzle(230.0, 168.0);
    s.pen.path("dim", "M80 126V160M75 160h10");
    s.say(112.0, 150.0, "free_mm");
    s.point((284.0, 60.0), (236.0, 88.0), "hot_mm");
    s.point((156.0, 60.0), (96.0, 108.0), "commanded_mm");
}

fn missing_restart(s: &mut Sheet) {
    s.pen.path("plastic", "M30 20H290V36H46V150H30Z");
    for n in 0..5 {
        let y = 52.0 + 20.0 * f64::from(n);
        let x = if n % 2 == 0 { 110.0 } else { 48.0 };
        s.pen.block("plastic", x, y, 280.0 - x, 9.0, 4.0);
    }
    s.across(48.0, 110.0, 76.0, "missing_mm");
    s.pen.path("dim", "M300 52v9");
    s.say(288.0, 48.0, "line_width_mm");
    s.note(
        60.0,
        164.0,
        "bare at the start of each line, whole at its end",
    );
}

fn coasting(s: &mut Sheet) {
    s.pen
        .path("plastic", "M60 30H260V140H60V96H76V124H244V46H76V66H60Z");
    s.up(44.0, 66.0, 96.0, "gap_mm");
    s.pen.path("ink", "M110 38h40l-8-5m8 5l-8 5");
    s.note(90.0, 62.0, "the way the nozzle goes");
    s.point((180.0, 92.0), (252.0, 104.0), "line_width_mm");
    s.point((120.0, 108.0), (68.0, 98.0), "coast_now_mm3");
}

/// A wall from the front.
fn face(s: &mut Sheet, x: f64, y: f64, w: f64, h: f64) {
    s.pen.block("plastic", x, y, w, h, 2.0);
}

fn bands(s: &mut Sheet) {
    face(s, 60.0, 14.0, 140.0, 134.0);
    for n in 0..7 {
        let y = 22.0 + 18.0 * f64::from(n);
        s.pen.block("band", 57.0, y, 146.0, 6.0, 3.0);
    }
    s.plate(148.0);
    s.up(222.0, 25.0, 133.0, "span_mm");
    s.point((278.0, 40.0), (203.0, 43.0), "bands");
    s.note(210.0, 16.0, "as many as can be counted");
}

fn ribs(s: &mut Sheet) {
    face(s, 30.0, 50.0, 260.0, 96.0);
    for n in 0..13 {
        let x = 42.0 + 18.0 * f64::from(n);
        s.pen.block("band", x, 48.0, 6.0, 100.0, 3.0);
    }
    s.across(45.0, 261.0, 36.0, "span_mm");
    s.point((282.0, 30.0), (279.0, 60.0), "ribs");
    s.note(30.0, 164.0, "along the wall, straight as the belt runs");
}

/// Ripples behind a corner at the left, every `gap`.
fn ripples(s: &mut Sheet, y: f64, gap: f64) {
    face(s, 40.0, y, 240.0, 44.0);
    for n in 0..4 {
        let x = 52.0 + gap * f64::from(n);
        let class = if n < 2 { "ink" } else { "faint" };
        s.pen.line(class, x, y + 3.0, x, y + 41.0);
    }
}

fn two_speeds(s: &mut Sheet) {
    ripples(s, 24.0, 24.0);
    ripples(s, 108.0, 44.0);
    s.across(52.0, 76.0, 82.0, "slow_spacing_mm");
    s.say(210.0, 50.0, "slow_mm_s");
    s.across(52.0, 96.0, 165.0, "fast_spacing_mm");
    s.say(210.0, 136.0, "fast_mm_s");
    s.note(180.0, 18.0, "slow");
    s.note(180.0, 102.0, "fast");
}

fn ringing(s: &mut Sheet) {
    s.pen.path("plastic", "M50 150V40H270V70H80V150Z");
    for n in 0..5 {
        let x = 104.0 + 26.0 * f64::from(n);
        s.pen.line("ink", x, 43.0, x, 67.0);
    }
    s.across(104.0, 130.0, 30.0, "spacing_mm");
    s.pen.path("dim", "M50 86v10M104 86v10M50 91H104");
    s.say(112.0, 104.0, "from_corner_mm");
    s.pen.path("ink", "M180 96h70l-9-6m9 6l-9 6");
    s.say(214.0, 122.0, "speed_mm_s");
    s.say(214.0, 146.0, "accel_mm_s2");
}

fn shift(s: &mut Sheet) {
    s.plate(146.0);
    s.pen.block("plastic", 90.0, 90.0, 110.0, 56.0, 1.0);
    s.pen.block("plastic", 118.0, 24.0, 110.0, 66.0, 1.0);
    s.across(90.0, 118.0, 78.0, "step_mm");
    s.pen.path("ink", "M250 120h34l-7-4m7 4l-7 4M250 120l16-20");
    s.say(292.0, 110.0, "x_mm");
    s.say(262.0, 88.0, "y_mm");
}

fn same_height(s: &mut Sheet) {
    s.plate(146.0);
    s.pen.path("plastic", "M50 146V26H120V146Z");
    s.pen.path("plastic", "M190 146L200 44H262L272 146Z");
    s.pen.line("bad", 48.0, 80.0, 122.0, 80.0);
    s.pen.line("bad", 194.0, 82.0, 268.0, 82.0);
    s.up(134.0, 80.0, 146.0, "z1_mm");
    s.up(286.0, 82.0, 146.0, "z2_mm");
    s.point((170.0, 34.0), (226.0, 44.0), "reach_mm");
}

fn tower(s: &mut Sheet) {
    s.plate(150.0);
    s.pen.block("plastic", 84.0, 140.0, 100.0, 10.0, 1.0);
    for n in 0..5 {
        let y = 114.0 - 26.0 * f64::from(n);
        s.pen.block("plastic", 94.0, y, 80.0, 26.0, 2.0);
    }
    s.pen.path("bad", "M70 62l18-6-4 9");
    s.up(206.0, 56.0, 150.0, "z_mm");
    s.pen.path("dim", "M66 140h10M66 150h10M71 140V150");
    s.say(52.0, 150.0, "base_mm");
    s.pen.path("dim", "M184 88h10M184 114h10M189 88V114");
    s.say(262.0, 60.0, "band_mm");
    s.point((40.0, 100.0), (98.0, 128.0), "first");
    s.point((262.0, 26.0), (160.0, 22.0), "step");
}

fn z_travel(s: &mut Sheet) {
    for n in 0..16 {
        let y = 12.0 + 9.0 * f64::from(n);
        let lean = 3.0 * (TAU * f64::from(n) / 16.0).cos();
        s.pen
            .line("ink", 84.0, y, 100.0, y + 5.0 + lean.abs() / 3.0);
    }
    s.pen.path("outline", "M84 8V158M100 8V158");
    s.pen.path("metal", "M70 40H230V58H70Z");
    s.pen.block("ghost", 70.0, 118.0, 160.0, 18.0, 1.0);
    s.up(244.0, 58.0, 136.0, "travelled_mm");
    s.pen.path("ink", "M150 112V66l-5 8m5-8l5 8");
    s.say(168.0, 94.0, "commanded_mm");
}
