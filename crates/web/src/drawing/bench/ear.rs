//! What is heard, and what is weighed.

use super::{Draw, Sheet};

pub fn drawing(measure: &str) -> Option<Draw> {
    Some(match measure {
        "belt-pluck" => pluck,
        "tone" => tone,
        "drying" => drying,
        "filament-amount" => amount,
        "spool-remaining" => remaining,
        _ => return None,
    })
}

fn pluck(s: &mut Sheet) {
    s.pen.round("metal", 60.0, 84.0, 26.0);
    s.pen.round("metal", 264.0, 84.0, 20.0);
    s.pen.path("bold", "M60 58L264 64M60 110L264 104");
    s.pen
        .path("faint", "M60 58Q160 38 264 64M60 58Q160 82 264 64");
    s.pen.path("ink", "M150 20c-4 12 4 20 8 30");
    s.across(60.0, 264.0, 140.0, "span_mm");
    s.say(196.0, 30.0, "tone_hz");
    s.say(160.0, 94.0, "width_mm");
    s.note(20.0, 164.0, "motors off; pluck the middle");
}

fn tone(s: &mut Sheet) {
    s.pen.path("bold", "M20 40L150 46");
    s.pen
        .path("faint", "M20 40Q86 24 150 46M20 40Q86 60 150 46");
    s.pen
        .path("ink", "M166 30c8 8 8 22 0 30M178 22c14 14 14 34 0 48");
    s.pen.block("hollow", 206.0, 16.0, 60.0, 104.0, 8.0);
    s.pen.round("metal", 236.0, 106.0, 6.0);
    s.pen.path("bad", "M214 60h6l4-22 6 40 6-30 6 22 4-10h8");
    s.pen.path("outline", "M24 150H150M24 150V86");
    s.pen
        .path("ink", "M44 150V100M70 150V120M96 150V132M122 150V140");
    s.say(236.0, 146.0, "wav_base64");
}

/// Scales with a pan.
fn scales(s: &mut Sheet) {
    s.pen.path("metal", "M70 128H190L204 156H56Z");
    s.pen.block("hollow", 106.0, 136.0, 48.0, 14.0, 2.0);
}

fn drying(s: &mut Sheet) {
    s.pen.block("hollow", 40.0, 14.0, 240.0, 146.0, 8.0);
    s.pen.block("metal", 56.0, 136.0, 208.0, 6.0, 2.0);
    s.spool(130.0, 92.0, 0.8);
    s.pen
        .path("bad", "M206 128c-6-8 6-12 0-20M230 128c-6-8 6-12 0-20");
    s.say(226.0, 60.0, "temp_c");
    s.say(130.0, 54.0, "grams");
    s.say(226.0, 36.0, "material");
}

fn amount(s: &mut Sheet) {
    s.spool(84.0, 80.0, 0.9);
    s.pen.path("strand edge", "M84 44C160 20 200 60 290 40");
    s.pen.path("strand", "M84 44C160 20 200 60 290 40");
    s.across(130.0, 290.0, 92.0, "length_m");
    s.point((250.0, 22.0), (262.0, 44.0), "filament_mm");
    s.say(84.0, 146.0, "grams");
    s.say(230.0, 140.0, "volume_cm3");
}

fn remaining(s: &mut Sheet) {
    scales(s);
    s.spool(130.0, 86.0, 0.35);
    s.say(130.0, 148.0, "gross_g");
    s.pen
        .path("ghost", "M222 126a32 32 0 1 1 64 0a32 32 0 1 1-64 0");
    s.say(254.0, 130.0, "empty_g");
    s.say(254.0, 60.0, "job_g");
    s.note(214.0, 40.0, "the next print");
}
