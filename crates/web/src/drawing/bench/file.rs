//! What is read from settings, files, photos.

use super::{Draw, Sheet};

pub fn drawing(measure: &str) -> Option<Draw> {
    Some(match measure {
        "melt-demand" => melt,
        "z-resolution" => z_resolution,
        "axis-steps" => axis_steps,
        "temperature-trace" => trace,
        "skin-ways" => skin_ways,
        "infill-starts" => infill_starts,
        "layer-time" => layer_time,
        "photo-rhythm" => rhythm,
        "photo-distance" => distance,
        "photo-heights" => heights,
        _ => return None,
    })
}

fn melt(s: &mut Sheet) {
    s.plate(146.0);
    s.nozzle(120.0, 118.0);
    s.pen.block("plastic", 24.0, 120.0, 100.0, 26.0, 8.0);
    s.pen.path("ink", "M146 104h50l-8-5m8 5l-8 5");
    s.say(220.0, 110.0, "speed_mm_s");
    s.up(34.0, 120.0, 146.0, "layer_mm");
    s.pen.block("plastic", 210.0, 122.0, 62.0, 24.0, 11.0);
    s.across(210.0, 272.0, 160.0, "line_width_mm");
    s.point((60.0, 60.0), (108.0, 84.0), "melt_limit_mm3_s");
}

fn z_resolution(s: &mut Sheet) {
    let heights = [26.0, 30.0, 22.0, 30.0, 22.0];
    let mut y = 150.0;
    for h in heights {
        y -= h;
        s.pen.block("plastic", 120.0, y, 110.0, h, 3.0);
    }
    for n in 0..14 {
        s.pen.line(
            "faint",
            60.0,
            150.0 - 10.0 * f64::from(n),
            118.0,
            150.0 - 10.0 * f64::from(n),
        );
    }
    s.up(244.0, 124.0, 150.0, "layer_mm");
    s.pen.path("dim", "M50 140h10M50 150h10M55 140v10");
    s.say(34.0, 150.0, "lead_mm");
    s.note(56.0, 12.0, "whole steps");
}

fn axis_steps(s: &mut Sheet) {
    for n in 0..8 {
        let y = 22.0 + 15.0 * f64::from(n);
        s.pen.line("ink", 60.0, y + 8.0, 90.0, y);
    }
    s.pen.path("outline", "M60 14V150M90 14V150");
    s.up(108.0, 52.0, 67.0, "lead_mm");
    s.pen.round("metal", 226.0, 84.0, 40.0);
    for n in 0..20 {
        let a = f64::from(n) * std::f64::consts::TAU / 20.0;
        let (x, y) = (a.sin(), a.cos());
        s.pen.line(
            "ink",
            226.0 + 36.0 * x,
            84.0 + 36.0 * y,
            226.0 + 43.0 * x,
            84.0 + 43.0 * y,
        );
    }
    s.pen.round("hollow", 226.0, 84.0, 8.0);
    s.say(226.0, 64.0, "pulley_teeth");
    s.point((282.0, 20.0), (250.0, 50.0), "belt_pitch_mm");
    s.point((160.0, 146.0), (214.0, 124.0), "microsteps");
}

fn trace(s: &mut Sheet) {
    s.pen.path("outline", "M40 14V140H300");
    s.pen.path("faint", "M40 60H300");
    s.pen.path(
        "strand thin",
        "M44 60c10-16 20-16 30 0s20 16 30 0 20-16 30 0 20 16 30 0 20-16 30 0l8 34c14 8 30-4 50-2",
    );
    s.pen.path("dim", "M196 20V140");
    s.say(282.0, 54.0, "set_c");
    s.say(196.0, 156.0, "fan_from_s");
    s.say(34.0, 100.0, "temp_c");
    s.say(110.0, 156.0, "time_s");
}

/// A box of layers over its infill.
fn section(s: &mut Sheet, x: f64, layers: u32, gap: f64) {
    for n in 0..layers {
        s.pen
            .block("plastic", x, 30.0 + 9.0 * f64::from(n), 110.0, 9.0, 4.0);
    }
    let below = 30.0 + 9.0 * f64::from(layers);
    let mut at = x + 2.0;
    while at < x + 108.0 {
        s.pen.block("plastic", at, below, 5.0, 140.0 - below, 1.0);
        at += gap;
    }
}

fn skin_ways(s: &mut Sheet) {
    section(s, 30.0, 6, 50.0);
    section(s, 180.0, 2, 17.0);
    s.pen.path("ink", "M150 86h20M160 76v20");
    s.say(84.0, 24.0, "top_layers");
    s.say(236.0, 104.0, "infill_percent");
    s.across(180.0, 290.0, 158.0, "area_mm2");
    s.up(20.0, 86.0, 140.0, "body_mm");
}

fn infill_starts(s: &mut Sheet) {
    s.pen.block("outline", 30.0, 20.0, 200.0, 130.0, 2.0);
    for n in 0..6 {
        let y = 32.0 + 19.0 * f64::from(n);
        let x = if n % 2 == 0 { 70.0 } else { 34.0 };
        s.pen.block("plastic", x, y, 192.0 - x + 34.0, 8.0, 4.0);
    }
    s.across(34.0, 70.0, 52.0, "missing_mm");
    s.across(34.0, 226.0, 162.0, "line_mm");
    s.say(276.0, 44.0, "infill_mm_s");
    s.say(276.0, 76.0, "slow_mm_s");
    s.say(276.0, 110.0, "layers");
    s.say(276.0, 140.0, "area_mm2");
}

fn layer_time(s: &mut Sheet) {
    s.pen
        .path("strand edge", "M40 140V40H150V140H60V60H130V120H80V80");
    s.pen
        .path("strand", "M40 140V40H150V140H60V60H130V120H80V80");
    s.pen.round("hollow", 236.0, 84.0, 48.0);
    s.pen.path("bold", "M236 84V52M236 84l22 14");
    s.say(96.0, 26.0, "path_mm");
    s.say(96.0, 164.0, "speed_mm_s");
    s.say(236.0, 150.0, "least_s");
}

/// A photo with a piece and a ruler on it.
fn photo(s: &mut Sheet) {
    s.pen.block("hollow", 20.0, 10.0, 280.0, 150.0, 4.0);
    s.pen.block("plastic", 50.0, 40.0, 90.0, 100.0, 2.0);
    s.ruler(160.0, 288.0, 120.0);
}

fn rhythm(s: &mut Sheet) {
    photo(s);
    for n in 0..6 {
        s.pen
            .block("band", 48.0, 48.0 + 15.0 * f64::from(n), 94.0, 5.0, 2.0);
    }
    s.pen.line("bad", 95.0, 36.0, 95.0, 146.0);
    s.pen.path(
        "strand thin",
        "M170 90c6-30 10-30 16 0s10 30 16 0 10-30 16 0 10 30 16 0 10-30 16 0",
    );
    s.say(95.0, 30.0, "profile");
    s.across(168.0, 248.0, 114.0, "scale_mm");
}

fn distance(s: &mut Sheet) {
    photo(s);
    s.between((62.0, 126.0), (128.0, 56.0), "line_px");
    s.between((168.0, 112.0), (248.0, 112.0), "ref_px");
    s.say(226.0, 72.0, "ref_mm");
}

fn heights(s: &mut Sheet) {
    photo(s);
    s.pen.path("plastic", "M190 140V60H250V140Z");
    s.pen.line("dim", 44.0, 140.0, 264.0, 140.0);
    s.pen.line("bad", 48.0, 78.0, 142.0, 78.0);
    s.pen.line("bad", 188.0, 80.0, 252.0, 80.0);
    s.say(95.0, 72.0, "mark1_px");
    s.say(220.0, 54.0, "mark2_px");
    s.say(160.0, 156.0, "base_px");
    s.say(274.0, 114.0, "ref_px");
}
