//! What is seen: marks, and what the machine shows.

use super::{Draw, Sheet};

pub fn drawing(measure: &str) -> Option<Draw> {
    Some(match measure {
        "tram" => tram,
        "witness-marks" => marks,
        "probe-repeat" => probe,
        "top-layers-count" => top_layers,
        _ => return None,
    })
}

fn tram(s: &mut Sheet) {
    s.pen.path("metal", "M60 130L110 30H280L250 130Z");
    for n in 0..3 {
        for m in 0..3 {
            let (x, y) = (f64::from(n), f64::from(m));
            s.pen
                .round("ink", 96.0 + 62.0 * x + 12.0 * y, 116.0 - 36.0 * y, 3.0);
        }
    }
    for (x, y) in [(72.0, 122.0), (240.0, 122.0), (116.0, 40.0), (264.0, 40.0)] {
        s.pen.round("hollow", x, y, 6.0);
        s.pen.line("ink", x - 4.0, y, x + 4.0, y);
    }
    s.point((190.0, 16.0), (182.0, 44.0), "z_mm");
    s.point((36.0, 60.0), (116.0, 40.0), "screw_x_mm");
    s.point((40.0, 100.0), (66.0, 120.0), "screw_y_mm");
    s.say(160.0, 152.0, "x_mm");
    s.say(292.0, 92.0, "y_mm");
}

fn marks(s: &mut Sheet) {
    s.pen.round("metal", 140.0, 84.0, 62.0);
    s.pen.round("hollow", 140.0, 84.0, 20.0);
    for n in 0..12 {
        let a = f64::from(n) * std::f64::consts::TAU / 12.0;
        let (x, y) = (a.sin(), -a.cos());
        let (r, c) = (54.0, 140.0);
        s.pen.line(
            "faint",
            c + r * x,
            84.0 + r * y,
            c + 61.0 * x,
            84.0 + 61.0 * y,
        );
    }
    s.pen.path("bold", "M140 22V44");
    s.pen.path("bad", "M194 54L174 64");
    s.pen.path("dim", "M144 14A72 72 0 0 1 204 50l-9-2m9 2l2-9");
    s.say(226.0, 34.0, "turned_min");
    s.point((264.0, 120.0), (158.0, 92.0), "thread_mm");
    s.note(214.0, 152.0, "60 minutes a turn");
}

fn probe(s: &mut Sheet) {
    s.plate(140.0);
    s.pen.block("metal", 96.0, 20.0, 40.0, 60.0, 4.0);
    s.pen.path("metal", "M110 80h12v30l-6 8-6-8z");
    for (n, y) in [118.0, 121.0, 117.0, 122.0, 119.0].into_iter().enumerate() {
        s.pen.round("ink", 150.0 + 11.0 * n as f64, y, 3.0);
    }
    for (n, y) in [98.0, 101.0, 97.0, 102.0, 99.0].into_iter().enumerate() {
        s.pen.round("bad", 150.0 + 11.0 * n as f64, y, 3.0);
    }
    s.say(270.0, 124.0, "cool_mm");
    s.say(270.0, 102.0, "warm_mm");
    s.note(150.0, 76.0, "one place, ten times over");
}

fn top_layers(s: &mut Sheet) {
    for n in 0..4 {
        s.pen.block(
            "plastic",
            50.0,
            24.0 + 11.0 * f64::from(n),
            200.0,
            11.0,
            5.0,
        );
    }
    for n in 0..6 {
        s.pen
            .block("plastic", 54.0 + 38.0 * f64::from(n), 68.0, 8.0, 82.0, 1.0);
    }
    s.up(264.0, 24.0, 68.0, "top_layers");
    s.pen.path("dim", "M36 24h10M36 35h10M41 24v11");
    s.say(26.0, 34.0, "layer_mm");
    s.across(62.0, 92.0, 112.0, "infill_percent");
    s.note(150.0, 164.0, "open spans below");
}
